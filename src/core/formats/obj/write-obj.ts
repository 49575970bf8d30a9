import { counted } from '../../base/messages/render.ts'
import { statedLength } from '../../uv/panels/uv-length.ts'
import { createByteWriter, joinBytes, type ByteWriter } from '../../base/bytes/byte-writer.ts'
import { groupsFromHardEdges } from '../../mesh/smoothing/smoothing-groups.ts'
import { isIdentity, multiplyMatrices, transformNormals, transformPoints } from '../../base/math/matrix.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, type MessageCollector } from '../../base/messages/collector.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { nodeMatricesIn, targetSpace } from '../../scene/space.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import type { Scene, Space } from '../../scene/scene.ts'
import { colorsToWrite, lossesOfPart, lossesOfScene } from './losses.ts'
import { triangulateScene, visibleNodes } from '../arrange/arrange-scene.ts'
import { lossesOfPlace } from '../arrange/parts-in-world.ts'
import { writeMtl } from './write-mtl.ts'
import { fileNameOf, packagePath, stemOf, type PackageFile } from '../package/package-file.ts'
import { OBJ_WRITE_DEFAULTS, type ObjWriteOptions } from './options.ts'

export interface WriteResult {
  /** The model first, then its material file and maps. */
  readonly files: readonly PackageFile[]
  readonly findings: readonly Finding[]
  /** The space that the numbers in the file are in. */
  readonly space: Space
}

/** What goes on through the whole file: the numbers that indices start from, and the statements in force. */
interface FileState {
  point: number
  uv: number
  normal: number
  /** -1: nothing said yet. */
  smoothing: number
  groups: string
  material: number
}

/** Parts of one line: blanks at the ends and line breaks can't be carried. */
const lineText = (text: string): string => text.replace(/[\r\n]+/g, ' ').trim()
/** A group's name may hold no blank, since blanks part names. */
const wordText = (text: string): string => text.trim().replace(/\s+/g, '_')

/**
 * Writes a scene as OBJ with MTL. OBJ has no hierarchy, so points are written in world space; a node whose
 * matrix is the identity is written without arithmetic, so that its numbers stay the same to the last bit.
 *
 * @param fileName name of the OBJ; the MTL gets the same stem.
 * Findings: `write.not-carried` for what OBJ has no words for.
 */
export function writeObj(
  whole: Scene,
  fileName: string,
  options: Partial<ObjWriteOptions> = {},
): WriteResult {
  const settings: ObjWriteOptions = { ...OBJ_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  const chosenScene = settings.triangulate ? triangulateScene(whole) : whole
  const scene = groupedSmoothing(chosenScene, settings, messages)
  const space = targetSpace(scene.space, settings)
  const { scale } = settings
  const matrices = nodeMatricesIn(scene, space).map(({ matrix, mirrors }) => ({
    matrix:
      scale === 1
        ? matrix
        : multiplyMatrices([scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, 1], matrix),
    mirrors,
  }))
  const out = createByteWriter()
  const mtlName = `${stemOf(fileName)}.mtl`
  const withMaterials = settings.materials !== 'none' && scene.materials.length > 0
  if (withMaterials) out.text(`mtllib ${mtlName}\n`)
  // the format has no name for its UVs: what a layout of panels says of their size is a comment
  if (settings.uvs) for (const length of statedLengths(scene)) out.text(`# One UV unit is ${length} m.\n`)

  const state: FileState = { point: 1, uv: 1, normal: 1, smoothing: -1, groups: 'g', material: -1 }
  const chosen = settings.selection ? new Set(settings.selection) : null
  const shown = visibleNodes(scene)
  const visible = settings.visibleOnly ? shown : null
  const lost = new Set<string>()
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || (chosen && !chosen.has(index)) || (visible && !visible[index])) return
    const mesh = scene.meshes[node.mesh]!
    if (pointCountOf(mesh) === 0) {
      messages.add('write.part-skipped', { name: node.name })
      return
    }
    const { matrix, mirrors } = matrices[index]!
    for (const what of [...lossesOfPart(mesh, settings), ...lossesOfPlace(node, shown[index]!)])
      lost.add(what)
    writePart(out, scene, node.name, mesh, isIdentity(matrix) ? null : matrix, mirrors, settings, state)
  })
  for (const what of lossesOfScene(scene, settings)) lost.add(what)
  for (const what of lost) messages.add('write.not-carried', { format: 'OBJ', what })

  const files: PackageFile[] = [{ name: fileNameOf(fileName), bytes: joinBytes(out.blocks()) }]
  if (withMaterials) {
    files.push({ name: mtlName, bytes: writeMtl(scene.materials, settings.materials === 'names') })
    if (settings.materials === 'full' && settings.maps)
      for (const { path, bytes } of scene.images.flatMap(imageFiles)) {
        const name = packagePath(path)
        if (name && !files.some((file) => file.name === name)) files.push({ name, bytes })
      }
  }
  return { files, findings: messages.list(), space }
}

/** Lengths of a UV unit that first UV sets state, each once. */
const statedLengths = ({ meshes }: Scene): Set<number> =>
  new Set(meshes.flatMap(({ uvSets: [first] }) => (first && statedLength(first.name)) ?? []))

/** Hard edges and masks as groups, which is the only form that the format has. */
function groupedSmoothing(scene: Scene, settings: ObjWriteOptions, messages: MessageCollector): Scene {
  if (!settings.smoothing || scene.meshes.every(({ smoothing }) => !smoothing || smoothing.kind === 'groups'))
    return scene
  let inexpressibleCount = 0
  const meshes = scene.meshes.map((mesh) => {
    if (!mesh.smoothing || mesh.smoothing.kind === 'groups') return mesh
    const { faceGroups, inexpressible } = groupsFromHardEdges(createMeshFacts(mesh))
    inexpressibleCount += inexpressible.length
    return { ...mesh, smoothing: { kind: 'groups' as const, faceGroups } }
  })
  if (inexpressibleCount)
    messages.add('write.not-carried', {
      format: 'OBJ',
      what: `${counted(inexpressibleCount, 'hard edge')} that ${inexpressibleCount === 1 ? 'ends' : 'end'} inside a soft area`,
    })
  return { ...scene, meshes }
}

function writePart(
  out: ByteWriter,
  scene: Scene,
  name: string,
  mesh: Mesh,
  matrix: readonly number[] | null,
  mirrors: boolean,
  settings: ObjWriteOptions,
  state: FileState,
): void {
  const { digits } = settings
  out.text(`o ${lineText(name)}\n`)
  const points = matrix ? transformPoints(mesh.points, matrix) : mesh.points
  const colors = settings.colors ? colorsToWrite(mesh)[0] : undefined
  const weights = mesh.pointWeights
  for (let at = 0, point = 0; at < points.length; at += 3, point++) {
    out.byte(118)
    for (let axis = 0; axis < 3; axis++) {
      out.byte(32)
      out.real(points[at + axis]!, digits)
    }
    if (colors) {
      const color = colors.indices.length ? colors.indices[point]! : point
      if (color >= 0)
        // opacity has no place here: with a seventh number other readers refuse the file
        for (let component = 0; component < 3; component++) {
          out.byte(32)
          out.real(colors.values[color * colors.components + component]!, digits)
        }
    } else if (weights) {
      out.byte(32)
      out.real(weights[point]!, digits)
    }
    out.byte(10)
  }
  const uvSet = settings.uvs ? mesh.uvSets[0] : undefined
  if (uvSet)
    for (let uv = 0; uv < uvSet.values.length / 2; uv++) {
      const v = uvSet.values[2 * uv + 1]!
      out.text('vt ')
      out.real(uvSet.values[2 * uv]!, digits)
      out.byte(32)
      out.real(settings.flipV ? 1 - v : v, digits)
      if (uvSet.depths) {
        out.byte(32)
        out.real(uvSet.depths[uv]!, digits)
      }
      out.byte(10)
    }
  const normals = settings.normals ? mesh.normals : null
  if (normals) {
    const values = matrix ? transformNormals(normals.values, matrix) : normals.values
    for (let at = 0; at < values.length; at += 3) {
      out.text('vn')
      for (let axis = 0; axis < 3; axis++) {
        out.byte(32)
        out.real(values[at + axis]!, digits)
      }
      out.byte(10)
    }
  }
  writeFaces(out, scene, mesh, mirrors, settings, state)
  writeElements(out, mesh, settings, state)
  if (settings.creases && mesh.creases) {
    // the tag lines count vertices from 0 through the whole file
    const base = state.point - 1
    const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh.creases
    for (let edge = 0; edge < edgeSharpness.length; edge++)
      out.text(
        `t crease 2/1/0 ${edgePoints[2 * edge]! + base} ${edgePoints[2 * edge + 1]! + base} ${edgeSharpness[edge]!}\n`,
      )
    for (let corner = 0; corner < cornerSharpness.length; corner++)
      out.text(`t corner 1/1/0 ${cornerPoints[corner]! + base} ${cornerSharpness[corner]!}\n`)
  }
  state.point += pointCountOf(mesh)
  if (uvSet) state.uv += uvSet.values.length / 2
  if (normals) state.normal += normals.values.length / 3
}

function writeFaces(
  out: ByteWriter,
  scene: Scene,
  mesh: Mesh,
  mirrors: boolean,
  settings: ObjWriteOptions,
  state: FileState,
): void {
  const { faceOffsets, faceVertices } = mesh
  const uvIndices = settings.uvs ? mesh.uvSets[0]?.indices : undefined
  const normalIndices = settings.normals ? mesh.normals?.indices : undefined
  const faceGroups =
    settings.smoothing && mesh.smoothing?.kind === 'groups' ? mesh.smoothing.faceGroups : null
  const groups = settings.groups ? mesh.groups : null
  const materials = settings.materials === 'none' ? null : mesh.faceMaterials
  // A face about which nothing is said (-1) inherits what stands before it in the file, so "none" has to be
  // said in words once something else was.
  const faceCount = faceCountOf(mesh)
  for (let face = 0; face < faceCount; face++) {
    const set = groups ? groups.faceSets[face]! : -1
    if (settings.groups && (face === 0 || (groups && set !== groups.faceSets[face - 1]))) {
      const words = set < 0 ? [] : groups!.sets[set]!.map((name) => wordText(groups!.names[name]!))
      const line = ['g', ...words].join(' ')
      if (line !== state.groups) out.text(`${line}\n`)
      state.groups = line
    }
    const material = materials ? materials[face]! : -1
    if (material !== state.material && settings.materials !== 'none') {
      state.material = material
      out.text(`usemtl ${material >= 0 ? lineText(scene.materials[material]!.name) : ''}`.trim() + '\n')
    }
    const smoothing = faceGroups ? faceGroups[face]! : -1
    if (smoothing !== state.smoothing && settings.smoothing) {
      state.smoothing = Math.max(smoothing, 0)
      out.text(smoothing > 0 ? `s ${smoothing}\n` : 's off\n')
    }
    out.byte(102)
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    for (let step = 0; step < end - start; step++) {
      // a mirrored space turns faces inside out; the first corner stays first
      const corner = mirrors && step > 0 ? end - step : start + step
      out.byte(32)
      out.integer(faceVertices[corner]! + state.point)
      const uv = uvIndices ? uvIndices[corner]! : -1
      const normal = normalIndices ? normalIndices[corner]! : -1
      if (uv >= 0) {
        out.byte(47)
        out.integer(uv + state.uv)
      } else if (normal >= 0) out.byte(47)
      if (normal >= 0) {
        out.byte(47)
        out.integer(normal + state.normal)
      }
    }
    out.byte(10)
  }
}

function writeElements(out: ByteWriter, mesh: Mesh, settings: ObjWriteOptions, state: FileState): void {
  const { lines, pointElements } = mesh
  if (lines)
    for (let line = 0; line + 1 < lines.offsets.length; line++) {
      out.text('l')
      for (let corner = lines.offsets[line]!; corner < lines.offsets[line + 1]!; corner++) {
        out.byte(32)
        out.integer(lines.points[corner]! + state.point)
        const uv = settings.uvs ? lines.uvs[corner]! : -1
        if (uv >= 0) {
          out.byte(47)
          out.integer(uv + state.uv)
        }
      }
      out.byte(10)
    }
  if (pointElements)
    for (const point of pointElements) {
      out.text('p ')
      out.integer(point + state.point)
      out.byte(10)
    }
}
