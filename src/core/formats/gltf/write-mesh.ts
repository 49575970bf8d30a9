/** Meshes as primitives, one a material. Source: glTF 2.0, section 3.7. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { TARGETS, type BufferWriter } from './buffer-writer.ts'
import { channelsOf, floatsOf, mendUnused, tangentSetOf } from './corner-channels.ts'
import { encodePolygons } from './encode-polygons.ts'
import { writeExtras } from './kept-extras.ts'
import { MOST_NUMBERED, notesOf, POINT_ATTRIBUTE, stretchesOf } from './notes.ts'
import type { GltfWriteOptions } from './options.ts'
import { splitVertices } from './split-vertices.ts'
import type { WrittenMaterials } from './write-materials.ts'
import { writeInfluences, writeTarget } from './write-deformations.ts'

const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4'] as const

export interface WrittenMesh {
  readonly json: Record<string, unknown>
  readonly extensions: readonly string[]
}

/** @returns null for a mesh without points: a file can't have one. */
export function writeMesh(
  mesh: Mesh,
  { materials }: Scene,
  { normalSets, setCounts }: Pick<WrittenMaterials, 'normalSets' | 'setCounts'>,
  settings: GltfWriteOptions,
  writer: BufferWriter,
  messages: MessageCollector,
  lost: Set<string>,
): WrittenMesh | null {
  const pointCount = mesh.points.length / 3
  const faceCount = mesh.faceOffsets.length - 1
  const lines = mesh.lines ? mesh.lines.offsets.length - 1 : 0
  if (pointCount === 0 || faceCount + lines + (mesh.pointElements?.length ?? 0) === 0) {
    messages.add('write.part-skipped', { name: mesh.name })
    return null
  }
  const broken = { count: 0 }
  const { list, faceMasks, masked, notes } = channelsOf(
    mesh,
    tangentSetOf(mesh, normalSets, settings.tangents),
    settings,
    lost,
    broken,
  )
  const points = floatsOf(mesh.points, broken)
  const split = splitVertices(mesh, list)
  if (broken.count > 0) lost.add('numbers that are none; they are 0 in it')
  if (mesh.pointWeights) lost.add('rational weights of points')

  const positions = new Float32Array(3 * split.vertexCount)
  for (let vertex = 0; vertex < split.vertexCount; vertex++)
    for (let axis = 0; axis < 3; axis++)
      positions[3 * vertex + axis] = points[3 * split.vertexPoints[vertex]! + axis]!
  const attributes: Record<string, number> = {
    POSITION: writer.floats(positions, 'VEC3', { bounds: true, target: TARGETS.vertices }),
  }
  mendUnused(split)
  for (const { semantic, width } of list)
    attributes[semantic] = writer.floats(split.values.get(semantic)!, TYPES[width - 1]!, {
      target: TARGETS.vertices,
    })
  if (split.vertexCount > pointCount) {
    if (pointCount <= MOST_NUMBERED)
      attributes[POINT_ATTRIBUTE] = writer.floats(Float32Array.from(split.vertexPoints), 'SCALAR', {
        target: TARGETS.vertices,
      })
    else lost.add('which points were split, of parts with more than 16.7 million')
  }
  if (settings.shapes && mesh.skin)
    Object.assign(attributes, writeInfluences(mesh, split.vertexPoints, writer, lost))
  const targets = settings.shapes
    ? mesh.shapes.map((shape) => writeTarget(shape, split.vertexPoints, pointCount, writer))
    : []

  const groups = groupFaces(mesh, faceMasks)
  const order: number[] = []
  const extensions = new Set<string>()
  const primitives: Record<string, unknown>[] = []
  let zeros: number | undefined
  let white: number | undefined
  for (const { faces, material, mask, hasPolygons } of groups) {
    const { indices, cuts } = encodePolygons(mesh, faces, split.cornerVertices, hasPolygons)
    for (const face of faces) order.push(face)
    if (hasPolygons) extensions.add('FB_ngon_encoding')
    const own = Object.fromEntries(
      Object.entries(attributes).filter(([semantic]) => {
        const bit = masked.indexOf(semantic)
        return bit < 0 || (mask >> bit) & 1
      }),
    )
    // a material's maps need UVs: polygons that have none get those that a viewer would make up. Sets are counted
    // through, so that one that only others of the mesh have is there too, of no effect
    const highest = (kind: string): number =>
      Object.keys(own).filter((semantic) => semantic.startsWith(kind)).length &&
      Math.max(
        ...Object.keys(own).flatMap((semantic) =>
          semantic.startsWith(kind) ? [1 + Number(semantic.slice(kind.length))] : [],
        ),
      )
    const lacking = (kind: string, count: number): string[] =>
      Array.from({ length: count }, (_none, set) => `${kind}${set}`).filter(
        (semantic) => own[semantic] === undefined,
      )
    const uvs = lacking('TEXCOORD_', Math.max(setCounts.get(material) ?? 0, highest('TEXCOORD_')))
    const colors = lacking('COLOR_', highest('COLOR_'))
    if (uvs.length) zeros ??= writer.zeros(split.vertexCount, 'VEC2')
    if (colors.length) white ??= writer.floats(new Float32Array(3 * split.vertexCount).fill(1), 'VEC3')
    for (const semantic of uvs) own[semantic] = zeros!
    for (const semantic of colors) own[semantic] = white!
    const madeUp = [...uvs, ...colors]
    primitives.push({
      attributes: own,
      indices: writer.indices(indices, split.vertexCount),
      ...(material >= 0 && material < materials.length && settings.materials !== 'none' ? { material } : {}),
      ...(targets.length ? { targets } : {}),
      ...(hasPolygons ? { extensions: { FB_ngon_encoding: {} } } : {}),
      ...(cuts.length || madeUp.length
        ? {
            extras: {
              ...(cuts.length ? { polygonCuts: cuts } : {}),
              ...(madeUp.length ? { madeUp } : {}),
            },
          }
        : {}),
    })
  }
  const bare = Object.fromEntries(
    Object.entries(attributes).filter(([semantic]) => ['POSITION', POINT_ATTRIBUTE].includes(semantic)),
  )
  for (const { mode, vertices } of looseElements(mesh, firstVertices(split.vertexPoints, pointCount)))
    primitives.push({
      attributes: bare,
      mode,
      indices: writer.indices(vertices, split.vertexCount),
      ...(targets.length ? { targets } : {}),
    })
  if (mesh.lines && mesh.lines.uvs.some((uv) => uv >= 0)) lost.add('UVs of lines')

  const isSorted = order.every((face, at) => face === at)
  const own = { ...notes, ...notesOf(mesh, settings) }
  const { tangents: computedTangents, ...kept } = own
  const extras = {
    points: pointCount,
    polygons: faceCount,
    ...(isSorted ? {} : { polygonOrder: stretchesOf(order) }),
    ...kept,
    ...(computedTangents && !kept.normals ? { tangents: 'computed' } : {}),
    ...(targets.length ? { targetNames: mesh.shapes.map(({ name }) => name) } : {}),
  }
  const weights = mesh.shapes.map(({ weight = 0 }) => weight / 100)
  return {
    extensions: [...extensions],
    json: {
      name: mesh.ownName ?? mesh.name,
      primitives,
      ...(targets.length && weights.some((weight) => weight !== 0) ? { weights } : {}),
      ...writeExtras(extras as never, mesh.kept),
    },
  }
}

interface FaceGroup {
  readonly faces: number[]
  readonly material: number
  readonly mask: number
  /** Some of the mesh's polygons have more than three corners, and these are such. */
  readonly hasPolygons: boolean
}

/**
 * Faces that one primitive draws: of one material, with the same sets, and triangles apart from larger polygons: those
 * need no encoding, and would have to be turned for it.
 */
function groupFaces(mesh: Mesh, faceMasks: Uint32Array): FaceGroup[] {
  const groups = new Map<string, FaceGroup>()
  for (let face = 0; face < faceMasks.length; face++) {
    const hasPolygons = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! > 3
    const material = mesh.faceMaterials?.[face] ?? -1
    const mask = faceMasks[face]!
    const key = `${material} ${mask} ${hasPolygons}`
    let group = groups.get(key)
    if (!group) {
      group = { faces: [], material, mask, hasPolygons }
      groups.set(key, group)
    }
    group.faces.push(face)
  }
  return [...groups.values()]
}

function firstVertices(vertexPoints: Uint32Array, pointCount: number): Uint32Array {
  const firsts = new Uint32Array(pointCount)
  for (let vertex = vertexPoints.length - 1; vertex >= 0; vertex--) firsts[vertexPoints[vertex]!] = vertex
  return firsts
}

/** Lines up to which each is drawn on its own, so that it comes back as one; beyond, all as pairs of points. */
const MOST_STRIPS = 200

function looseElements(mesh: Mesh, vertexOf: Uint32Array): { mode: number; vertices: Uint32Array }[] {
  const found: { mode: number; vertices: Uint32Array }[] = []
  const { lines, pointElements } = mesh
  if (lines) {
    const all = Array.from({ length: lines.offsets.length - 1 }, (_none, line) =>
      Uint32Array.from(
        lines.points.subarray(lines.offsets[line]!, lines.offsets[line + 1]!),
        (point) => vertexOf[point]!,
      ),
    ).filter((line) => line.length > 1)
    const long = all.filter((line) => line.length > 2)
    const asStrips = long.length <= MOST_STRIPS
    const pairs = (asStrips ? all.filter((line) => line.length === 2) : all).flatMap((line) =>
      [...line].slice(1).flatMap((vertex, at) => [line[at]!, vertex]),
    )
    if (pairs.length) found.push({ mode: 1, vertices: Uint32Array.from(pairs) })
    if (asStrips) for (const line of long) found.push({ mode: 3, vertices: line })
  }
  if (pointElements?.length)
    found.push({ mode: 0, vertices: Uint32Array.from(pointElements, (point) => vertexOf[point]!) })
  return found
}
