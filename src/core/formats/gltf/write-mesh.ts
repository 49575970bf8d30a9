/** Meshes as primitives, one a material. Source: glTF 2.0, section 3.7. */
import { elementsAt } from '../../base/bytes/elements-at.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { TARGETS, type BufferWriter } from './buffer-writer.ts'
import { channelsOf, floatsOf, mendUnused, tangentSetOf } from './corner-channels.ts'
import { encodePolygons } from './encode-polygons.ts'
import { writeExtras } from './kept-extras.ts'
import { MOST_NUMBERED, notesOf, POINT_ATTRIBUTE, stretchesOf } from '../notes/mesh-notes.ts'
import type { GltfWriteOptions } from './options.ts'
import { splitVertices } from './split-vertices.ts'
import type { WrittenMaterials } from './write-materials.ts'
import { writeCloud } from './write-cloud.ts'
import type { WrittenMesh } from './written-mesh.ts'
import { influencesOf, writeInfluences, writeTarget } from './write-deformations.ts'

const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4'] as const

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
  if (pointCount === 0) {
    messages.add('write.part-skipped', { name: mesh.name })
    return null
  }
  if (faceCount + lines + (mesh.pointElements?.length ?? 0) === 0)
    return writeCloud(mesh, settings, writer, lost)
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

  mendUnused(split)

  // each primitive has vertices of its own: readers that copy a list that several share carry all of it with each
  const groups = groupFaces(mesh, faceMasks)
  const loose = looseElements(mesh, firstVertices(split.vertexPoints, pointCount))
  const pieces = [
    ...groups.map(({ faces }) =>
      split.isFull && faces.length === faceCount
        ? countUp(split.vertexCount)
        : verticesOf(mesh, faces, split.cornerVertices, split.vertexCount),
    ),
    ...loose.map(({ vertices }) => Uint32Array.from(new Set(vertices)).sort()),
  ]
  const left = unused(pieces, split.vertexPoints, pointCount)
  if (left.length) pieces[0] = joined(pieces[0]!, left)
  const isNumbered = isCounted(pieces, split.vertexPoints)
  if (!isNumbered && pointCount > MOST_NUMBERED)
    lost.add('which points were split, of parts with more than 16.7 million')
  const influences = settings.shapes && mesh.skin ? influencesOf(mesh, lost) : null

  /** Attributes of a primitive, and how its shapes move it. */
  const writeVertices = (
    piece: Uint32Array,
    isThere: (semantic: string) => boolean,
  ): { attributes: Record<string, number>; targets: Record<string, number>[] } => {
    const isAll = piece.length === split.vertexCount
    const vertexPoints = isAll ? split.vertexPoints : elementsAt(split.vertexPoints, piece)
    const options = { target: TARGETS.vertices }
    const attributes: Record<string, number> = {
      POSITION: writer.floats(isAll && isNumbered ? points : pick(points, 3, vertexPoints), 'VEC3', {
        bounds: true,
        ...options,
      }),
    }
    for (const { semantic, width } of list)
      if (isThere(semantic))
        attributes[semantic] = writer.floats(
          isAll ? split.values.get(semantic)! : pick(split.values.get(semantic)!, width, piece),
          TYPES[width - 1]!,
          options,
        )
    if (!isNumbered && pointCount <= MOST_NUMBERED)
      attributes[POINT_ATTRIBUTE] = writer.floats(Float32Array.from(vertexPoints), 'SCALAR', options)
    if (influences) Object.assign(attributes, writeInfluences(influences, vertexPoints, writer))
    return {
      attributes,
      targets: settings.shapes
        ? mesh.shapes.map((shape) =>
            writeTarget(shape, vertexPoints, pointCount, writer, attributes, settings, lost),
          )
        : [],
    }
  }

  const order = joinedFaces(groups, faceCount)
  const extensions = new Set<string>()
  const primitives: Record<string, unknown>[] = []
  const localOf = new Uint32Array(split.vertexCount)
  const number = (piece: Uint32Array): void => {
    for (let at = 0; at < piece.length; at++) localOf[piece[at]!] = at
  }
  groups.forEach(({ faces, material, mask, hasPolygons }, at) => {
    const piece = pieces[at]!
    number(piece)
    const { indices, cuts } = encodePolygons(mesh, faces, split.cornerVertices, hasPolygons)
    if (hasPolygons) extensions.add('FB_ngon_encoding')
    const { attributes, targets } = writeVertices(piece, (semantic) => {
      const bit = masked.indexOf(semantic)
      return bit < 0 || ((mask >> bit) & 1) === 1
    })
    const madeUp = makeUp(attributes, setCounts.get(material) ?? 0, piece.length, writer)
    primitives.push({
      attributes,
      indices: writer.indices(
        piece.length === split.vertexCount ? indices : elementsAt(localOf, indices),
        piece.length,
      ),
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
  })
  loose.forEach(({ mode, vertices }, at) => {
    const piece = pieces[groups.length + at]!
    number(piece)
    const { attributes, targets } = writeVertices(piece, () => false)
    primitives.push({
      attributes,
      mode,
      indices: writer.indices(
        vertices.map((vertex) => localOf[vertex]!),
        piece.length,
      ),
      ...(targets.length ? { targets } : {}),
    })
  })
  if (mesh.lines && mesh.lines.uvs.some((uv) => uv >= 0)) lost.add('UVs of lines')

  const isSorted = groups.length < 2 || order.every((face, at) => face === at)
  const own = { ...notes, ...notesOf(mesh, settings) }
  const { tangents: computedTangents, ...kept } = own
  const extras = {
    points: pointCount,
    polygons: faceCount,
    ...(isSorted ? {} : { polygonOrder: stretchesOf(order) }),
    ...kept,
    ...(computedTangents && !kept.normals ? { tangents: 'computed' } : {}),
    ...(settings.shapes && mesh.shapes.length ? { targetNames: mesh.shapes.map(({ name }) => name) } : {}),
  }
  const weights = mesh.shapes.map(({ weight = 0 }) => weight / 100)
  return {
    extensions: [...extensions],
    json: {
      name: mesh.ownName ?? mesh.name,
      primitives,
      ...(settings.shapes && weights.some((weight) => weight !== 0) ? { weights } : {}),
      ...writeExtras(extras as never, mesh.kept),
    },
  }
}

const countUp = (count: number): Uint32Array => {
  const numbers = new Uint32Array(count)
  for (let at = 0; at < count; at++) numbers[at] = at
  return numbers
}

/** Rising numbers, and some more. */
const joined = (numbers: Uint32Array, more: readonly number[]): Uint32Array => {
  const all = new Uint32Array(numbers.length + more.length)
  all.set(numbers)
  all.set(more, numbers.length)
  return all.sort()
}

/** Whether vertices, as they are written, are the points counted through. */
function isCounted(pieces: readonly Uint32Array[], vertexPoints: Uint32Array): boolean {
  let met = 0
  for (const piece of pieces)
    for (let at = 0; at < piece.length; at++) if (vertexPoints[piece[at]!] !== met++) return false
  return true
}

/** Faces as primitives draw them, one after the other. */
function joinedFaces(groups: readonly FaceGroup[], faceCount: number): Uint32Array {
  const faces = new Uint32Array(faceCount)
  let at = 0
  for (const group of groups) {
    faces.set(group.faces, at)
    at += group.faces.length
  }
  return faces
}

/** Values of some elements, one after the other. */
function pick(values: Float32Array, width: number, elements: Uint32Array): Float32Array {
  const picked = new Float32Array(width * elements.length)
  for (let at = 0; at < elements.length; at++)
    for (let k = 0; k < width; k++) picked[width * at + k] = values[width * elements[at]! + k]!
  return picked
}

/** Vertices of some faces, rising. */
function verticesOf(
  { faceOffsets }: Mesh,
  faces: Uint32Array,
  cornerVertices: Uint32Array,
  vertexCount: number,
): Uint32Array {
  const isThere = new Uint8Array(vertexCount)
  let count = 0
  for (const face of faces)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const vertex = cornerVertices[corner]!
      if (!isThere[vertex]) count++
      isThere[vertex] = 1
    }
  const vertices = new Uint32Array(count)
  for (let vertex = 0, at = 0; vertex < vertexCount; vertex++) if (isThere[vertex]) vertices[at++] = vertex
  return vertices
}

/** A vertex of each point that nothing draws: it goes along, so that it is there when the file comes back. */
function unused(pieces: readonly Uint32Array[], vertexPoints: Uint32Array, pointCount: number): number[] {
  const isThere = new Uint8Array(pointCount)
  for (const piece of pieces) for (let at = 0; at < piece.length; at++) isThere[vertexPoints[piece[at]!]!] = 1
  const left: number[] = []
  if (!isThere.includes(0)) return left
  vertexPoints.forEach((point, vertex) => {
    if (isThere[point]) return
    isThere[point] = 1
    left.push(vertex)
  })
  return left
}

/**
 * Sets that a primitive has to have and that its polygons don't: a material's maps need UVs, and sets are counted
 * through. UVs are those that a viewer would make up, colours change nothing.
 *
 * @returns what was added, by the names of attributes.
 */
function makeUp(
  attributes: Record<string, number>,
  setCount: number,
  vertexCount: number,
  writer: BufferWriter,
): string[] {
  const lacking = (kind: string, least: number): string[] => {
    const highest = Object.keys(attributes).flatMap((semantic) =>
      semantic.startsWith(kind) ? [1 + Number(semantic.slice(kind.length))] : [],
    )
    return Array.from({ length: Math.max(least, ...highest) }, (_none, set) => `${kind}${set}`).filter(
      (semantic) => attributes[semantic] === undefined,
    )
  }
  const uvs = lacking('TEXCOORD_', setCount)
  const colors = lacking('COLOR_', 0)
  const zeros = uvs.length ? writer.zeros(vertexCount, 'VEC2') : 0
  const white = colors.length ? writer.floats(new Float32Array(3 * vertexCount).fill(1), 'VEC3') : 0
  for (const semantic of uvs) attributes[semantic] = zeros
  for (const semantic of colors) attributes[semantic] = white
  return [...uvs, ...colors]
}

interface FaceGroup {
  /** Rising. */
  readonly faces: Uint32Array
  readonly material: number
  readonly mask: number
  /** Some of the mesh's polygons have more than three corners, and these are such. */
  readonly hasPolygons: boolean
}

/**
 * Faces that one primitive draws: of one material, with the same sets, and triangles apart from larger polygons: those
 * need no encoding, and would have to be turned for it.
 */
function groupFaces({ faceOffsets, faceMaterials }: Mesh, faceMasks: Uint32Array): FaceGroup[] {
  const groups = new Map<string, Omit<FaceGroup, 'faces'> & { number: number; count: number }>()
  const groupOf = new Uint32Array(faceMasks.length)
  let group: ReturnType<typeof groups.get>
  for (let face = 0; face < faceMasks.length; face++) {
    const hasPolygons = faceOffsets[face + 1]! - faceOffsets[face]! > 3
    const material = faceMaterials?.[face] ?? -1
    const mask = faceMasks[face]!
    // most are as the one before
    if (group?.material !== material || group.mask !== mask || group.hasPolygons !== hasPolygons) {
      const key = `${material} ${mask} ${hasPolygons}`
      group = groups.get(key) ?? { material, mask, hasPolygons, number: groups.size, count: 0 }
      groups.set(key, group)
    }
    groupOf[face] = group.number
    group.count++
  }
  const found = [...groups.values()].map(({ count, ...own }) => ({ ...own, faces: new Uint32Array(count) }))
  const used = new Uint32Array(found.length)
  for (let face = 0; face < groupOf.length; face++) {
    const number = groupOf[face]!
    found[number]!.faces[used[number]!++] = face
  }
  return found
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
