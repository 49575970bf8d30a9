/** Meshes: several primitives of one mesh are one part. Source: glTF 2.0, section 3.7. */
import { elementsAt } from '../../base/bytes/elements-at.ts'
import { signed } from '../../base/bytes/signed.ts'
import type { BlendShape, KeptLayer, Mesh, PolyLines } from '../../scene/mesh.ts'
import { EMPTY_MESH } from '../../scene/mesh.ts'
import type { Accessors } from './read-accessor.ts'
import type { GltfReading } from './read-buffers.ts'
import { ofPoints, readColors, readCornerValues, readUvSets, type Corners } from './read-corner-values.ts'
import { joinVertices } from '../../mesh/welds/join-vertices.ts'
import { listOf, numbersOf, objectOf, partOf, textOf, wholeOf, type Json } from '../notes/json.ts'
import { keptExtras } from './kept-extras.ts'
import {
  CLOUD_NORMALS,
  NOTE_NAMES,
  orderOf,
  POINT_ATTRIBUTE,
  readNotes,
  withChannels,
} from '../notes/mesh-notes.ts'
import type { GltfReadOptions } from './options.ts'
import { gatherPrimitives, type Gathered } from './gather-primitives.ts'

/** A mesh, and the joints that its vertices name, still by their places in a skin. */
export interface ReadMesh {
  readonly mesh: Mesh
  /** Weights a point: 4 joints and 4 weights a vertex and set, as the file has them. */
  readonly influences: {
    readonly joints: Float64Array
    readonly weights: Float64Array
    readonly perPoint: number
  } | null
  /** Vertices that have gone into others. */
  readonly joined: number
}

/** The point of each vertex where an attribute numbers them; null where it doesn't, or no longer rightly. */
function numberedPoints(
  { positions, attributes, vertexCount }: Gathered,
  extras: Json | null,
): { vertexPoints: Uint32Array; pointCount: number } | null {
  const numbers = attributes.get(POINT_ATTRIBUTE)
  const pointCount = wholeOf(extras?.points)
  if (!numbers || numbers.width !== 1 || pointCount === null || !numbers.isWhole) return null
  if (pointCount > vertexCount) return null
  const firsts = new Int32Array(pointCount).fill(-1)
  const vertexPoints = new Uint32Array(vertexCount)
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const point = numbers.values[vertex]!
    if (!Number.isInteger(point) || point < 0 || point >= pointCount) return null
    vertexPoints[vertex] = point
    const first = firsts[point]!
    if (first < 0) firsts[point] = vertex
    else
      for (let axis = 0; axis < 3; axis++)
        if (positions[3 * first + axis] !== positions[3 * vertex + axis]) return null
  }
  return firsts.every((first) => first >= 0) ? { vertexPoints, pointCount } : null
}

/** Points that no polygon, line or point element has; a file can't draw them, so that they are left over. */
function usedPoints(gathered: Gathered, vertexPoints: Uint32Array, pointCount: number): Int32Array | null {
  if (gathered.isFull) return null
  const isUsed = new Uint8Array(pointCount)
  const { vertices } = gathered
  for (let corner = 0; corner < vertices.length; corner++) isUsed[vertexPoints[vertices[corner]!]!] = 1
  for (const line of gathered.lines) for (const vertex of line) isUsed[vertexPoints[vertex]!] = 1
  for (const vertex of gathered.pointElements) isUsed[vertexPoints[vertex]!] = 1
  if (!isUsed.includes(0)) return null
  let used = 0
  const newOf = new Int32Array(pointCount).fill(-1)
  for (let point = 0; point < pointCount; point++) if (isUsed[point]) newOf[point] = used++
  return newOf
}

/** @returns null where nothing of the mesh can be read. */
export function readMesh(
  index: number,
  name: string,
  reading: GltfReading,
  accessors: Accessors,
  materialCount: number,
  options: GltfReadOptions,
): ReadMesh | null {
  const { messages } = reading
  const source = objectOf(listOf(reading.document.meshes)[index])
  if (!source) {
    messages.add('gltf.part', { place: `Mesh ${index}`, why: 'the file doesn’t have it' })
    return null
  }
  const extras = partOf(source, 'extras')
  const gathered = gatherPrimitives(index, source, reading, accessors, materialCount)
  if (gathered.vertexCount === 0) return null

  const noted = numberedPoints(gathered, extras)
  const isUnsplit = wholeOf(extras?.points) === gathered.vertexCount
  const joined =
    noted ??
    (options.join && !isUnsplit
      ? joinVertices(gathered.positions, gathered.sizes, gathered.vertices)
      : {
          vertexPoints: countUp(gathered.vertexCount),
          pointCount: gathered.vertexCount,
        })
  let { vertexPoints, pointCount } = joined
  const newOf = noted || isUnsplit ? null : usedPoints(gathered, vertexPoints, pointCount)
  if (newOf) {
    vertexPoints = vertexPoints.map((point) => Math.max(0, newOf[point]!))
    pointCount = newOf.reduce((sum, point) => sum + Number(point >= 0), 0)
    if (pointCount === 0) return null
  }
  const isPlain = isIdentity(vertexPoints) && pointCount === gathered.vertexCount
  const isLeft = newOf && Uint8Array.from(joined.vertexPoints, (point) => Number(newOf[point]! < 0))
  // what is as the file has it is shared, not copied: arrays of meshes are never written into
  const { points, firsts } = isPlain
    ? { points: gathered.positions, firsts: signed(vertexPoints) }
    : pointsOf(gathered, vertexPoints, pointCount, isLeft)

  // polygons back in the order that they had before they were sorted by materials
  const faceCount = gathered.sizes.length
  const order = extras?.polygonOrder === undefined ? null : orderOf(extras.polygonOrder, faceCount)
  const faces = orderFaces(gathered, order)
  const hasNumbers =
    (noted !== null || isUnsplit) &&
    (order !== null || extras?.polygonOrder === undefined) &&
    !gathered.isStale
  const notes = readNotes(extras, pointCount, faceCount, hasNumbers)
  const stale = [...notes.stale]
  if (gathered.isStale || (extras?.polygonOrder !== undefined && !order))
    stale.push('the cut of its polygons')
  if (stale.length) messages.add('gltf.stale', { name, what: stale.join(', ') })

  const corners: Corners = {
    vertices: faces.vertices,
    vertexPoints,
    pointCount,
    isIn: faces.isIn,
    isUnsplit: isPlain,
  }
  const uvSets = readUvSets(gathered, corners, listOf(extras?.uvSetNames).map(textOf))
  const isComputed = extras?.normals === 'computed' && stale.length === 0
  const normals = isComputed ? null : readCornerValues(gathered, corners, 'NORMAL')
  const mesh: Mesh = {
    ...EMPTY_MESH,
    name,
    points,
    faceOffsets: faces.offsets,
    faceVertices: isPlain ? faces.vertices : elementsAt(vertexPoints, faces.vertices),
    uvSets,
    normals,
    smoothing: notes.smoothing,
    creases: notes.creases,
    subdivision: notes.subdivision,
    faceMaterials: faces.materials,
    groups: notes.groups,
    colorSets: readColors(gathered, corners, listOf(extras?.colorSetNames).map(textOf), firsts),
    shapes: withChannels(readTargets(source, gathered, firsts, extras), extras),
    lines: linesOf(gathered, vertexPoints),
    // points that another program draws are elements; those that had nothing over them are points alone
    pointElements:
      gathered.pointElements.length && extras?.bare !== true
        ? Uint32Array.from(gathered.pointElements, (vertex) => vertexPoints[vertex]!)
        : null,
    ...(faceCount === 0
      ? cloudLayers(gathered, firsts)
      : layersOf(gathered, corners, isComputed || (extras?.tangents === 'computed' && stale.length === 0))),
    source: String(index),
    ...(textOf(source.name) && textOf(source.name) !== name ? { ownName: textOf(source.name) } : {}),
    ...keptExtras(source, NOTE_NAMES),
  }
  return {
    mesh,
    influences: influencesOf(gathered, firsts),
    joined: noted ? 0 : gathered.vertexCount - joined.pointCount,
  }
}

/** Places of points, and the first vertex of each. */
function pointsOf(
  { positions, vertexCount }: Gathered,
  vertexPoints: Uint32Array,
  pointCount: number,
  isLeft: Uint8Array | null,
): { points: Float64Array; firsts: Int32Array } {
  const points = new Float64Array(3 * pointCount)
  const firsts = new Int32Array(pointCount).fill(-1)
  for (let vertex = vertexCount - 1; vertex >= 0; vertex--) {
    if (isLeft?.[vertex]) continue
    const point = vertexPoints[vertex]!
    firsts[point] = vertex
    for (let axis = 0; axis < 3; axis++) points[3 * point + axis] = positions[3 * vertex + axis]!
  }
  return { points, firsts }
}

function countUp(count: number): Uint32Array {
  const numbers = new Uint32Array(count)
  for (let at = 0; at < count; at++) numbers[at] = at
  return numbers
}

function isIdentity(numbers: Uint32Array): boolean {
  for (let at = 0; at < numbers.length; at++) if (numbers[at] !== at) return false
  return true
}

interface OrderedFaces {
  readonly offsets: Uint32Array
  readonly vertices: Uint32Array
  readonly materials: Int32Array | null
  /** cornerCount; the primitive of each corner. Null: there is one. */
  readonly isIn: Uint32Array | null
}

/** @param order the scene's number of each polygon as they stand in the file; null: the same. */
function orderFaces(gathered: Gathered, order: Uint32Array | null): OrderedFaces {
  const faceCount = gathered.sizes.length
  const offsets = new Uint32Array(faceCount + 1)
  const isOne = gathered.primitives.length < 2
  if (isOne && !order) {
    for (let face = 0; face < faceCount; face++) offsets[face + 1] = offsets[face]! + gathered.sizes[face]!
    return { offsets, vertices: gathered.vertices, materials: gathered.materials, isIn: null }
  }
  const materials = gathered.materials && new Int32Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    const own = order ? order[face]! : face
    offsets[own + 1] = gathered.sizes[face]!
    if (materials) materials[own] = gathered.materials![face]!
  }
  for (let face = 0; face < faceCount; face++) offsets[face + 1]! += offsets[face]!
  const vertices = new Uint32Array(gathered.vertices.length)
  const isIn = isOne ? null : new Uint32Array(gathered.vertices.length)
  let from = 0
  for (let face = 0; face < faceCount; face++) {
    const to = offsets[order ? order[face]! : face]!
    for (let k = 0; k < gathered.sizes[face]!; k++) {
      vertices[to + k] = gathered.vertices[from + k]!
      if (isIn) isIn[to + k] = gathered.facePrimitives[face]!
    }
    from += gathered.sizes[face]!
  }
  return { offsets, vertices, materials, isIn }
}

function linesOf({ lines }: Gathered, vertexPoints: Uint32Array): PolyLines | null {
  if (lines.length === 0) return null
  const offsets = Uint32Array.from([0, ...lines.map((line) => line.length)])
  for (let line = 0; line < lines.length; line++) offsets[line + 1]! += offsets[line]!
  const points = Uint32Array.from(lines.flat(), (vertex) => vertexPoints[vertex]!)
  return { offsets, points, uvs: new Int32Array(points.length).fill(-1) }
}

/** Shapes of points that move; what stays in its place is not listed. */
function readTargets(
  source: Json,
  gathered: Gathered,
  firsts: Int32Array,
  extras: Json | null,
): BlendShape[] {
  const names = listOf(extras?.targetNames).map(textOf)
  const weights = numbersOf(source.weights, gathered.targets.length) ?? []
  return gathered.targets.map(({ offsets, normals, tangents }, target) => {
    const moved: number[] = []
    firsts.forEach((vertex, point) => {
      const moves = (values: Float64Array | null): boolean =>
        values !== null &&
        vertex >= 0 &&
        (values[3 * vertex] !== 0 || values[3 * vertex + 1] !== 0 || values[3 * vertex + 2] !== 0)
      if (moves(offsets) || moves(normals) || moves(tangents)) moved.push(point)
    })
    const pick = (values: Float64Array): Float64Array =>
      Float64Array.from(
        { length: 3 * moved.length },
        // a zero with a sign says nothing more than one without
        (_none, at) => values[3 * firsts[moved[Math.floor(at / 3)]!]! + (at % 3)]! + 0,
      )
    return {
      name: names[target] || `shape ${target + 1}`,
      points: Uint32Array.from(moved),
      offsets: pick(offsets),
      ...(normals ? { normals: pick(normals) } : {}),
      ...(tangents ? { tangents: pick(tangents) } : {}),
      ...(weights[target] ? { weight: weights[target]! * 100 } : {}),
    }
  })
}

/** Joints and weights of points, as many sets as the file has. */
function influencesOf({ attributes }: Gathered, firsts: Int32Array): ReadMesh['influences'] {
  const sets: { joints: Float64Array; weights: Float64Array }[] = []
  for (let set = 0; ; set++) {
    const joints = attributes.get(`JOINTS_${set}`)
    const weights = attributes.get(`WEIGHTS_${set}`)
    if (!joints || !weights) break
    sets.push({ joints: joints.values, weights: weights.values })
  }
  if (sets.length === 0) return null
  const perPoint = 4 * sets.length
  const joints = new Float64Array(perPoint * firsts.length)
  const weights = new Float64Array(perPoint * firsts.length)
  firsts.forEach((vertex, point) =>
    sets.forEach((set, at) => {
      for (let k = 0; k < 4; k++) {
        joints[perPoint * point + 4 * at + k] = set.joints[4 * vertex + k]!
        weights[perPoint * point + 4 * at + k] = set.weights[4 * vertex + k]!
      }
    }),
  )
  return { joints, weights, perPoint }
}

/** What points without polygons carry: normals, and attributes that a program has named itself. */
function cloudLayers(
  gathered: Gathered,
  firsts: Int32Array,
): { layers: KeptLayer[] } | Record<string, never> {
  const layer = (kind: string, width: number, values: Float64Array): KeptLayer => ({
    kind,
    name: '',
    per: 'points',
    width,
    values,
    indices: null,
    edgePoints: null,
    whole: false,
  })
  const normals = gathered.attributes.has('NORMAL') ? ofPoints(gathered, 'NORMAL', firsts) : null
  const layers = [
    ...(normals
      ? CLOUD_NORMALS.map((kind, axis) =>
          layer(
            kind,
            1,
            normals.filter((_value, at) => at % 3 === axis),
          ),
        )
      : []),
    ...[...gathered.attributes]
      .filter(([kind]) => kind.startsWith('_') && kind !== POINT_ATTRIBUTE)
      .map(([kind, { width }]) => layer(kind, width, ofPoints(gathered, kind, firsts))),
  ]
  return layers.length ? { layers } : {}
}

/** Tangents, and attributes that a program has named itself. */
function layersOf(
  gathered: Gathered,
  corners: Parameters<typeof readCornerValues>[1],
  isComputed: boolean,
): { layers: KeptLayer[] } | Record<string, never> {
  const layers: KeptLayer[] = []
  const layer = (kind: string, width: number, values: Float64Array, indices: Int32Array): void => {
    layers.push({ kind, name: '', per: 'corners', width, values, indices, edgePoints: null, whole: false })
  }
  const tangents = isComputed ? null : readCornerValues(gathered, corners, 'TANGENT')
  const normals = tangents && readCornerValues(gathered, corners, 'NORMAL')
  if (tangents && normals && tangents.indices.every((index) => index >= 0)) {
    const cornerCount = tangents.indices.length
    const along = new Float64Array(3 * cornerCount)
    const across = new Float64Array(3 * cornerCount)
    for (let corner = 0; corner < cornerCount; corner++) {
      const t = 4 * tangents.indices[corner]!
      const n = 3 * normals.indices[corner]!
      const [tx, ty, tz, sign] = [0, 1, 2, 3].map((k) => tangents.values[t + k]!) as [
        number,
        number,
        number,
        number,
      ]
      const [nx, ny, nz] = [0, 1, 2].map((k) => (n < 0 ? 0 : normals.values[n + k]!)) as [
        number,
        number,
        number,
      ]
      along.set([tx, ty, tz], 3 * corner)
      // V runs down in the file and up here, so that what crosses it runs the other way
      across.set(
        [-sign * (ny * tz - nz * ty), -sign * (nz * tx - nx * tz), -sign * (nx * ty - ny * tx)],
        3 * corner,
      )
    }
    const own = Int32Array.from(tangents.indices.keys())
    layer('tangents', 3, along, own)
    layer('binormals', 3, across, own)
  }
  for (const [kind, { width }] of gathered.attributes) {
    if (!kind.startsWith('_') || kind === POINT_ATTRIBUTE) continue
    const values = readCornerValues(gathered, corners, kind)
    if (values) layer(kind, width, values.values, values.indices)
  }
  return layers.length ? { layers } : {}
}
