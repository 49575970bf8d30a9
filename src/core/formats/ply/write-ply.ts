/** A scene to PLY: all its parts in one list of points, in world space. */
import { joinNumbers } from '../../base/math/join-numbers.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { groupsFromHardEdges } from '../../mesh/smoothing/smoothing-groups.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, Space } from '../../scene/scene.ts'
import { targetSpace } from '../../scene/space.ts'
import { triangulateScene } from '../arrange/arrange-scene.ts'
import { byPoint } from '../arrange/by-point.ts'
import { partsInWorld, type WorldPart } from '../arrange/parts-in-world.ts'
import type { PackageFile } from '../package/package-file.ts'
import { lineName, UV_NAME } from './notes.ts'
import { writeBinary, writeText, type Column, type Type } from './write-columns.ts'
import { PLY_WRITE_DEFAULTS, type PlyWriteOptions } from './options.ts'

interface Part extends WorldPart {
  readonly firstPoint: number
}

const isFloat = (values: Float64Array): boolean => {
  for (const value of values) if (Math.fround(value) !== value && value === value) return false
  return true
}

/** Whether each of several lists is there and of the parts' own kind; then all of them, one after the other. */
function joinedIf(lists: readonly (Float64Array | null)[]): Float64Array | null {
  if (lists.some((list) => list === null)) return null
  return joinNumbers(lists as readonly Float64Array[])
}

/**
 * Writes what the options ask for, in their unit and axes; the file says neither.
 *
 * Findings: `write.not-carried`, `write.part-skipped`.
 */
export function writePly(
  whole: Scene,
  fileName: string,
  options: Partial<PlyWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: PlyWriteOptions = { ...PLY_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  const scene = settings.triangulate ? triangulateScene(whole) : whole
  const space = targetSpace(scene.space, settings)
  const lost = new Set<string>()
  let firstPoint = 0
  const parts = partsInWorld(scene, space, settings, ({ points }) => points.length === 0, messages, lost).map(
    (part): Part => {
      for (const what of lossesOf(part.mesh, settings)) lost.add(what)
      const start = firstPoint
      firstPoint += part.mesh.points.length / 3
      return { ...part, firstPoint: start }
    },
  )
  if (
    scene.materials.some(({ properties, maps }) => properties.length + maps.length > 0) &&
    settings.materials === 'names'
  )
    lost.add('what materials look like; their names travel')

  const meshes = parts.map(({ mesh }) => mesh)
  const comments: string[] = []
  const vertexColumns = pointColumns(meshes, settings, lost)
  const faceColumns = polygonColumns(scene, parts, settings, comments, vertexColumns.hasUvs)
  // what stands in one part under its file's name is nothing new
  if (parts.length > 0)
    comments.unshift(
      ...parts.map(({ name, mesh }) => `part ${mesh.points.length / 3} points ${lineName(name)}`),
    )
  const shared = (['points', 'faces'] as const).flatMap((per) =>
    sharedLayers(meshes, per).map(({ kind }) => `${kind} ${per}`),
  )
  for (const { kind, per } of meshes.flatMap(({ layers }) => layers ?? []))
    if (!shared.includes(`${kind} ${per}`)) lost.add(`the layer “${kind}” of its ${per}`)
  for (const what of lost) messages.add('write.not-carried', { format: 'PLY', what })

  const faceCount = meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0)
  const form = { binary: 'binary_little_endian', 'binary-big': 'binary_big_endian', text: 'ascii' }[
    settings.form
  ]
  const propertyLine = ({ name, type, list }: Column): string =>
    list ? `property list ${list} ${type} ${name}` : `property ${type} ${name}`
  const head = [
    'ply',
    `format ${form} 1.0`,
    ...comments.map((comment) => `comment ${comment}`),
    `element vertex ${firstPoint}`,
    ...vertexColumns.columns.map(propertyLine),
    ...(faceCount ? [`element face ${faceCount}`, ...faceColumns.map(propertyLine)] : []),
    'end_header',
    '',
  ].join('\n')
  const write = settings.form === 'text' ? writeText : writeBinary(settings.form === 'binary')
  const body = [
    write(vertexColumns.columns, firstPoint),
    ...(faceCount ? [write(faceColumns, faceCount)] : []),
  ]
  const start = encodeUtf8(head)
  const bytes = new Uint8Array(start.length + body.reduce((sum, piece) => sum + piece.length, 0))
  bytes.set(start)
  let at = start.length
  for (const piece of body) {
    bytes.set(piece, at)
    at += piece.length
  }
  return { files: [{ name: fileName, bytes }], findings: messages.list(), space }
}

function lossesOf(mesh: Mesh, settings: PlyWriteOptions): string[] {
  return [
    ...(mesh.creases || mesh.subdivision.scheme !== 'none' ? ['creases and subdivision'] : []),
    ...(mesh.shapes.length || mesh.skin ? ['shapes and skins'] : []),
    ...(settings.uvs && mesh.uvSets.length > 1 ? ['UV sets beyond the first'] : []),
    ...(settings.uvs && mesh.uvSets[0]?.depths ? ['third UV coordinates'] : []),
    ...(settings.colors && mesh.colorSets.length > 1 ? ['sets of vertex colours beyond the first'] : []),
    ...(mesh.lines || mesh.pointElements ? ['lines and single points as such'] : []),
    ...(mesh.pointWeights ? ['rational weights of points'] : []),
  ]
}

function pointColumns(
  meshes: readonly Mesh[],
  settings: PlyWriteOptions,
  lost: Set<string>,
): { columns: Column[]; hasUvs: boolean } {
  const columns: Column[] = []
  const add = (names: readonly string[], values: Float64Array, type: Type): void => {
    names.forEach((name, k) =>
      columns.push({ name, type, list: null, valuesOf: (entry) => [values[names.length * entry + k]!] }),
    )
  }
  const typeOf = (values: Float64Array): Type => (settings.exact && !isFloat(values) ? 'double' : 'float')
  const points = joinedIf(meshes.map((mesh) => mesh.points)) ?? new Float64Array(0)
  add(['x', 'y', 'z'], points, typeOf(points))
  if (settings.normals && meshes.some(({ normals }) => normals)) {
    const normals = joinedIf(
      meshes.map((mesh) => mesh.normals && byPoint(mesh, 3, mesh.normals.values, mesh.normals.indices)),
    )
    if (normals) add(['nx', 'ny', 'nz'], normals, typeOf(normals))
    else lost.add('normals that differ between the corners of a point')
  }
  if (settings.colors && meshes.some(({ colorSets }) => colorSets.length)) {
    const components = Math.max(...meshes.map(({ colorSets }) => colorSets[0]?.components ?? 3))
    const colors = joinedIf(
      meshes.map((mesh) => {
        const [set] = mesh.colorSets
        const count = mesh.points.length / 3
        if (!set) return new Float64Array(components * count).fill(1)
        const own =
          set.per === 'points' ? set.values : byPoint(mesh, set.components, set.values, set.indices, 1)
        if (!own || set.components === components) return own
        return Float64Array.from({ length: components * count }, (_none, at) =>
          at % components < set.components
            ? own[Math.floor(at / components) * set.components + (at % components)]!
            : 1,
        )
      }),
    )
    if (!colors) lost.add('colours that differ between the corners of a point')
    else {
      const names = ['red', 'green', 'blue', 'alpha'].slice(0, components)
      // whole 255ths are what programs look for
      const isBytes = colors.every(
        (value) => Math.round(value * 255) / 255 === value && value >= 0 && value <= 1,
      )
      if (isBytes)
        add(
          names,
          colors.map((value) => Math.round(value * 255)),
          'uchar',
        )
      else add(names, colors, typeOf(colors))
    }
  }
  let hasUvs = false
  if (settings.uvs && meshes.some(({ uvSets }) => uvSets.length)) {
    const uvs = joinedIf(
      meshes.map((mesh) => {
        const [set] = mesh.uvSets
        return set ? byPoint(mesh, 2, set.values, set.indices) : null
      }),
    )
    if (uvs) {
      add(['u', 'v'], uvs, typeOf(uvs))
      hasUvs = true
    }
  }
  for (const { kind, values, whole } of sharedLayers(meshes, 'points'))
    add([kind], values, whole ? 'int' : typeOf(values))
  return { columns, hasUvs }
}

/** Values that a file had under names of its own, where every part has them. */
function sharedLayers(
  meshes: readonly Mesh[],
  per: 'points' | 'faces',
): { kind: string; values: Float64Array; whole: boolean }[] {
  const [first] = meshes
  return (first?.layers ?? [])
    .filter((layer) => layer.per === per && layer.width === 1 && !layer.indices && /^\w+$/.test(layer.kind))
    .flatMap(({ kind, whole }) => {
      const values = joinedIf(
        meshes.map(
          (mesh) => mesh.layers?.find((layer) => layer.kind === kind && layer.per === per)?.values ?? null,
        ),
      )
      return values ? [{ kind, values, whole }] : []
    })
}

function polygonColumns(
  scene: Scene,
  parts: readonly Part[],
  settings: PlyWriteOptions,
  comments: string[],
  hasPointUvs: boolean,
): Column[] {
  const meshes = parts.map(({ mesh }) => mesh)
  const starts = [0]
  for (const mesh of meshes) starts.push(starts.at(-1)! + mesh.faceOffsets.length - 1)
  /** The part of an entry and its polygon's number there. */
  let held = 0
  const place = (entry: number): { part: Part; face: number } => {
    if (entry < starts[held]! || entry >= starts[held + 1]!)
      held = starts.findIndex((start, at) => entry >= start && entry < starts[at + 1]!)
    return { part: parts[held]!, face: entry - starts[held]! }
  }
  const most = meshes.reduce((largest, { faceOffsets }) => {
    for (let face = 0; face + 1 < faceOffsets.length; face++)
      largest = Math.max(largest, faceOffsets[face + 1]! - faceOffsets[face]!)
    return largest
  }, 0)
  const list = most > 255 ? 'int' : 'uchar'
  const columns: Column[] = [
    {
      name: 'vertex_indices',
      type: 'int',
      list,
      valuesOf: (entry) => {
        const { part, face } = place(entry)
        const { faceOffsets, faceVertices } = part.mesh
        const corners: number[] = []
        for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
          corners.push(part.firstPoint + faceVertices[corner]!)
        return corners
      },
    },
  ]
  if (settings.uvs && meshes.some(({ uvSets }) => uvSets.length)) {
    const name = meshes.find(({ uvSets }) => uvSets.length)!.uvSets[0]!.name
    if (name !== UV_NAME) comments.push(`uvs ${lineName(name)}`)
    if (!hasPointUvs) {
      const exact = settings.exact && !meshes.every(({ uvSets: [set] }) => !set || isFloat(set.values))
      columns.push({
        name: 'texcoord',
        type: exact ? 'double' : 'float',
        list: 2 * most > 255 ? 'int' : 'uchar',
        valuesOf: (entry) => {
          const { part, face } = place(entry)
          const { faceOffsets, uvSets } = part.mesh
          const [set] = uvSets
          const uvs: number[] = []
          if (!set) return uvs
          for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
            const uv = set.indices[corner]!
            // a polygon has UVs on all corners or on none
            if (uv < 0) return []
            uvs.push(set.values[2 * uv]!, set.values[2 * uv + 1]!)
          }
          return uvs
        },
      })
    }
  }
  const byFace = (name: string, valueOf: (mesh: Mesh, face: number) => number): void => {
    columns.push({
      name,
      type: 'int',
      list: null,
      valuesOf: (entry) => {
        const { part, face } = place(entry)
        return [valueOf(part.mesh, face)]
      },
    })
  }
  if (settings.materials === 'names' && meshes.some(({ faceMaterials }) => faceMaterials)) {
    for (const { name } of scene.materials) comments.push(`material ${lineName(name)}`)
    byFace('material', (mesh, face) => mesh.faceMaterials?.[face] ?? -1)
  }
  if (settings.smoothing && meshes.some(({ smoothing }) => smoothing)) {
    const groups = new Map(
      meshes.map((mesh) => {
        const { smoothing } = mesh
        if (!smoothing || smoothing.kind === 'groups') return [mesh, smoothing?.faceGroups ?? null]
        return [mesh, groupsFromHardEdges(createMeshFacts(mesh)).faceGroups]
      }),
    )
    byFace('smoothing', (mesh, face) => groups.get(mesh)?.[face] ?? -1)
  }
  if (settings.groups && meshes.some(({ groups }) => groups)) {
    const names = [...new Set(meshes.flatMap(({ groups }) => groups?.names ?? []))]
    for (const name of names) comments.push(`group ${lineName(name)}`)
    // a polygon in several groups is in a set of them
    const sets: string[] = []
    const setOf = ({ groups }: Mesh, face: number): string | null => {
      const set = groups?.sets[groups.faceSets[face]!]
      return set?.length ? set.map((name) => names.indexOf(groups!.names[name]!)).join(' ') : null
    }
    for (const mesh of meshes)
      for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
        const set = setOf(mesh, face)
        if (set !== null && !sets.includes(set)) sets.push(set)
      }
    for (const set of sets) comments.push(`groups ${set}`)
    byFace('group', (mesh, face) => {
      const set = setOf(mesh, face)
      return set === null ? -1 : sets.indexOf(set)
    })
  }
  for (const { kind, values, whole } of sharedLayers(meshes, 'faces'))
    columns.push({
      name: kind,
      type: whole ? 'int' : isFloat(values) ? 'float' : 'double',
      list: null,
      valuesOf: (entry) => [values[entry]!],
    })
  return columns
}
