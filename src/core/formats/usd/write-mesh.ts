/** What stands in the braces of a mesh. Source: OpenUSD, UsdGeomMesh, UsdGeomPrimvar, UsdGeomSubset. */
import { boundsOf } from '../../base/math/box.ts'
import { turnsTangents, type ColorSet, type Mesh } from '../../scene/mesh.ts'
import { notesOf } from '../notes/mesh-notes.ts'
import type { UsdNames } from './names.ts'
import type { UsdWriteOptions } from './options.ts'
import { inWrittenOrder, planShapes, writeShapes } from './write-shapes.ts'
import { numberText, quote, type UsdWriter } from './write-text.ts'

const SCHEMES = { none: 'none', 'catmull-clark': 'catmullClark', loop: 'loop', bilinear: 'bilinear' } as const

/** What each set of UVs is called as a primvar: the first by the name that all tools look for. */
export function uvWords({ uvSets }: Mesh, names: UsdNames): string[] {
  const taken = new Set(['st', 'normals', 'displayColor', 'displayOpacity'])
  return uvSets.map(({ name }, set) => (set === 0 ? 'st' : names.unique(name, taken)))
}

/** Values with an index each: those of corners that have none lead to one more, which is said to stand for none. */
function writeIndexed(
  writer: UsdWriter,
  head: string,
  values: ArrayLike<number>,
  width: number,
  indices: ArrayLike<number>,
  per: 'faceVarying' | 'vertex',
): void {
  let isMissing = false
  for (let at = 0; at < indices.length; at++) if (indices[at]! < 0) isMissing = true
  const count = values.length / width
  const all = isMissing ? new Float64Array(values.length + width) : values
  if (isMissing) (all as Float64Array).set(values as Float64Array)
  const none = isMissing ? `\n${'    '.repeat(writer.depth() + 1)}unauthoredValuesIndex = ${count}` : ''
  writer.array(head, all, width, ` (\n${'    '.repeat(writer.depth() + 1)}interpolation = "${per}"${none}\n${'    '.repeat(writer.depth())})`) // prettier-ignore
  const name = head.split(' ').pop()!
  writer.array(
    `int[] ${name}:indices`,
    isMissing ? Int32Array.from(indices, (index) => (index < 0 ? count : index)) : indices,
    1,
  )
}

function writeColors(writer: UsdWriter, set: ColorSet, word: string): void {
  const { components, values, per, indices } = set
  const settings = (interpolation: string): string => ` (\n${'    '.repeat(writer.depth() + 1)}interpolation = "${interpolation}"\n${'    '.repeat(writer.depth())})` // prettier-ignore
  if (word !== 'displayColor' || components === 3) {
    const head = `color${components}f[] primvars:${word}`
    if (per === 'points') writer.array(head, values, components, settings('vertex'))
    else writeIndexed(writer, head, values, components, indices, 'faceVarying')
    return
  }
  const count = values.length / 4
  const colors = new Float64Array(3 * count)
  const opacity = new Float64Array(count)
  for (let at = 0; at < count; at++) {
    colors.set(values.subarray(4 * at, 4 * at + 3), 3 * at)
    opacity[at] = values[4 * at + 3]!
  }
  if (per === 'points') {
    writer.array('color3f[] primvars:displayColor', colors, 3, settings('vertex'))
    writer.array('float[] primvars:displayOpacity', opacity, 1, settings('vertex'))
  } else {
    writeIndexed(writer, 'color3f[] primvars:displayColor', colors, 3, indices, 'faceVarying')
    writeIndexed(writer, 'float[] primvars:displayOpacity', opacity, 1, indices, 'faceVarying')
  }
}

/** Notes of a mesh: what the format has no words for, and names that are none in it. */
export function meshNotes(mesh: Mesh, settings: UsdWriteOptions, words: readonly string[]): object {
  const shapes = inWrittenOrder(planShapes(mesh))
  const notes = notesOf({ ...mesh, shapes }, { ...settings, creases: false, groups: false })
  const { subdivision, colorSets, uvSets, groups } = mesh
  const own: Record<string, unknown> = {
    ...notes,
    ...(settings.creases && subdivision.scheme !== 'none' ? { subdivision: { ...subdivision } } : {}),
    ...(settings.uvs && uvSets.some(({ name }, set) => name !== words[set])
      ? { uvSetNames: uvSets.map(({ name }) => name) }
      : {}),
    ...(settings.colors && colorSets.length ? { colorSetNames: colorSets.map(({ name }) => name) } : {}),
    // polygons may be of several groups at once, whose order no subset tells
    ...(settings.groups && groups && groups.sets.some((set) => set.length > 1) ? { groups: notesOf(mesh, { smoothing: false, creases: false, groups: true }).groups } : {}), // prettier-ignore
  }
  if (settings.shapes) {
    if (shapes.some(({ weight }) => weight)) own.weights = shapes.map(({ weight = 0 }) => weight)
  } else delete own.channels
  if (Object.keys(own).length === 0) return {}
  return { points: mesh.points.length / 3, polygons: mesh.faceOffsets.length - 1, ...own }
}

export interface MeshPaths {
  /** The mesh prim. */
  readonly own: string
  readonly materials: readonly string[] | null
  /** Names that prims beneath it already have. */
  readonly taken: Set<string>
}

/** Subsets, one for each material where there are several, and one for each group. */
function writeSubsets(
  writer: UsdWriter,
  mesh: Mesh,
  settings: UsdWriteOptions,
  names: UsdNames,
  { materials, taken }: MeshPaths,
  materialNames: readonly string[],
): void {
  const { faceMaterials, groups } = mesh
  const subset = (name: string, family: string, faces: readonly number[], material: string | null): void => {
    const word = names.unique(name, taken)
    const head = [
      ...(material ? ['prepend apiSchemas = ["MaterialBindingAPI"]'] : []),
      ...(word === name ? [] : [`displayName = ${quote(name)}`]),
    ]
    writer.prim(`def GeomSubset ${quote(word)}`, head, () => {
      writer.line('uniform token elementType = "face"')
      writer.line(`uniform token familyName = "${family}"`)
      writer.array('int[] indices', faces, 1)
      if (material) writer.line(`rel material:binding = <${material}>`)
    })
  }
  const used = materials && faceMaterials ? [...new Set(faceMaterials)] : []
  if (used.length > 1)
    for (const material of used.filter((one) => one >= 0).sort((a, b) => a - b)) {
      const faces: number[] = []
      faceMaterials!.forEach((own, face) => own === material && faces.push(face))
      subset(materialNames[material]!, 'materialBind', faces, materials![material]!)
    }
  if (settings.groups && groups)
    groups.names.forEach((name, group) => {
      const faces: number[] = []
      groups.faceSets.forEach((set, face) => {
        if (set >= 0 && groups.sets[set]!.includes(group)) faces.push(face)
      })
      subset(name, 'group', faces, null)
    })
}

/** What stands in a mesh's braces, but its skin. */
export function writeMesh(
  writer: UsdWriter,
  mesh: Mesh,
  settings: UsdWriteOptions,
  names: UsdNames,
  paths: MeshPaths,
  materialNames: readonly string[],
  lost: Set<string>,
): void {
  const { points, faceOffsets, faceVertices, creases, subdivision, normals, faceMaterials } = mesh
  const box = boundsOf(points)
  if (box) writer.line(`float3[] extent = [(${box.min.map(numberText).join(', ')}), (${box.max.map(numberText).join(', ')})]`) // prettier-ignore
  const counts = new Uint32Array(faceOffsets.length - 1)
  for (let face = 0; face < counts.length; face++) counts[face] = faceOffsets[face + 1]! - faceOffsets[face]!
  writer.array('int[] faceVertexCounts', counts, 1)
  writer.array('int[] faceVertexIndices', faceVertices, 1)
  writer.array('point3f[] points', points, 3)
  // a file that says nothing is smoothed by who reads it
  const scheme = settings.creases ? subdivision.scheme : 'none'
  writer.line(`uniform token subdivisionScheme = "${SCHEMES[scheme]}"`)
  if (scheme !== 'none' && subdivision.boundary)
    writer.line(`uniform token interpolateBoundary = "${subdivision.boundary === 'edge-only' ? 'edgeOnly' : 'edgeAndCorner'}"`) // prettier-ignore
  if (settings.creases && creases) {
    if (creases.edgePoints.length) {
      writer.array('int[] creaseIndices', creases.edgePoints, 1)
      writer.array('int[] creaseLengths', new Uint8Array(creases.edgeSharpness.length).fill(2), 1)
      writer.array('float[] creaseSharpnesses', creases.edgeSharpness, 1)
    }
    if (creases.cornerPoints.length) {
      writer.array('int[] cornerIndices', creases.cornerPoints, 1)
      writer.array('float[] cornerSharpnesses', creases.cornerSharpness, 1)
    }
  }
  const holes = mesh.layers?.find(({ kind, per }) => kind === 'holes' && per === 'faces')
  if (holes) {
    const marked: number[] = []
    for (let face = 0; face < counts.length; face++)
      if (holes.values[holes.indices ? holes.indices[face]! : face]) marked.push(face)
    if (marked.length) writer.array('int[] holeIndices', marked, 1)
  }
  if (settings.normals && normals)
    writeIndexed(writer, 'normal3f[] primvars:normals', normals.values, 3, normals.indices, 'faceVarying')
  const words = uvWords(mesh, names)
  if (settings.uvs)
    mesh.uvSets.forEach(({ values, indices, depths }, set) => {
      const all = depths
        ? Float64Array.from({ length: 3 * depths.length }, (_none, at) =>
            at % 3 === 2 ? depths[(at - 2) / 3]! : values[2 * Math.floor(at / 3) + (at % 3)]!,
          )
        : values
      const width = depths ? 3 : 2
      writeIndexed(writer, `texCoord${width}f[] primvars:${words[set]!}`, all, width, indices, 'faceVarying')
    })
  if (settings.colors) {
    const taken = new Set([...words, 'normals', 'displayColor', 'displayOpacity'])
    mesh.colorSets.forEach((set, at) =>
      writeColors(writer, set, at === 0 ? 'displayColor' : names.unique(set.name, taken)),
    )
  }
  for (const layer of mesh.layers ?? []) {
    if (layer.kind === 'holes') continue
    if (!layer.name.startsWith('primvars:')) lost.add(`${layer.kind} of polygons and points`)
    else if (layer.per === 'corners' && layer.indices)
      writeIndexed(
        writer,
        `${layer.kind} ${layer.name}`,
        layer.values,
        layer.width,
        layer.indices,
        'faceVarying',
      )
    else lost.add(`“${layer.name}”`)
  }
  if (mesh.lines) lost.add('lines between points')
  if (mesh.pointElements) lost.add('single points as such')
  if (mesh.pointWeights) lost.add('rational weights of points')
  if (settings.shapes && turnsTangents(mesh)) lost.add('how blend shapes turn tangents')
  const used = paths.materials && faceMaterials ? [...new Set(faceMaterials)] : []
  if (used.length === 1 && used[0]! >= 0)
    writer.line(`rel material:binding = <${paths.materials![used[0]!]!}>`)
  writeSubsets(writer, mesh, settings, names, paths, materialNames)
  if (settings.shapes && mesh.shapes.length) writeShapes(writer, mesh, names, paths)
}
