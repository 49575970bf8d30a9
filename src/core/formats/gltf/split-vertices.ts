/** Vertices of a mesh, each with one value of everything: as few as its seams and hard edges need. */
import type { Mesh } from '../../scene/mesh.ts'

/** What corners carry, so many numbers each. */
export interface CornerChannel {
  readonly semantic: string
  readonly width: number
  /** Values as the file has them. */
  readonly values: Float32Array
  /** cornerCount, into the values; -1 for 0. */
  readonly indices: ArrayLike<number>
}

export interface SplitVertices {
  readonly vertexCount: number
  /** vertexCount; those of a point stand together, points in their order. */
  readonly vertexPoints: Uint32Array
  /** cornerCount. */
  readonly cornerVertices: Uint32Array
  /** By semantic: width x vertexCount. */
  readonly values: ReadonlyMap<string, Float32Array>
  /** Each vertex is known to be some corner's. */
  readonly isFull: boolean
}

/**
 * Vertices of a mesh whose corners carry everything by the numbers of their points, as where a file had no seams and no hard
 * edges: they are its points. Null for any other.
 */
function unsplit(mesh: Mesh, channels: readonly CornerChannel[]): SplitVertices | null {
  const pointCount = mesh.points.length / 3
  const { faceVertices } = mesh
  if (channels.some(({ values, width }) => values.length !== width * pointCount)) return null
  for (const { indices } of channels)
    for (let corner = 0; corner < faceVertices.length; corner++)
      if (indices[corner] !== faceVertices[corner]) return null
  const isUsed = new Uint8Array(pointCount)
  for (let corner = 0; corner < faceVertices.length; corner++) isUsed[faceVertices[corner]!] = 1
  // a point without corners carries nothing, whatever stands at its number
  if (isUsed.includes(0)) return null
  const vertexPoints = new Uint32Array(pointCount)
  for (let point = 0; point < pointCount; point++) vertexPoints[point] = point
  return {
    vertexCount: pointCount,
    vertexPoints,
    cornerVertices: faceVertices,
    values: new Map(channels.map(({ semantic, values }) => [semantic, values])),
    isFull: true,
  }
}

/** Every point has at least one vertex, also where no polygon has it. */
export function splitVertices(mesh: Mesh, channels: readonly CornerChannel[]): SplitVertices {
  const asItIs = unsplit(mesh, channels)
  if (asItIs) return asItIs
  const pointCount = mesh.points.length / 3
  const { faceVertices } = mesh
  const cornerCount = faceVertices.length
  const channelCount = channels.length
  const heads = new Int32Array(pointCount).fill(-1)
  const next = new Int32Array(cornerCount)
  const pointOf = new Uint32Array(cornerCount)
  const found = new Uint32Array(cornerCount)
  // the corner that a vertex was first met at has its values; held by their numbers, which mostly tell whether they are the same
  let held = new Int32Array(Math.max(channelCount * pointCount, 1))
  const sizes = new Uint32Array(pointCount)
  let count = 0
  const isHeld = (vertex: number, corner: number): boolean => {
    for (let at = 0; at < channelCount; at++) {
      const { indices, values, width } = channels[at]!
      const own = held[vertex * channelCount + at]!
      const index = indices[corner]!
      if (own === index) continue
      for (let k = 0; k < width; k++) {
        const value = index < 0 ? 0 : values[index * width + k]!
        if ((own < 0 ? 0 : values[own * width + k]!) !== value) return false
      }
    }
    return true
  }
  for (let corner = 0; corner < cornerCount; corner++) {
    const point = faceVertices[corner]!
    let vertex = heads[point]!
    while (vertex >= 0 && !isHeld(vertex, corner)) vertex = next[vertex]!
    if (vertex < 0) {
      vertex = count++
      if (count * channelCount > held.length) {
        const larger = new Int32Array(2 * held.length + channelCount)
        larger.set(held)
        held = larger
      }
      for (let at = 0; at < channelCount; at++)
        held[vertex * channelCount + at] = channels[at]!.indices[corner]!
      pointOf[vertex] = point
      next[vertex] = heads[point]!
      heads[point] = vertex
      sizes[point]!++
    }
    found[corner] = vertex
  }
  // numbered by points, so that a mesh without splits keeps its numbers
  const starts = new Uint32Array(pointCount + 1)
  for (let point = 0; point < pointCount; point++)
    starts[point + 1] = starts[point]! + Math.max(1, sizes[point]!)
  const vertexCount = starts[pointCount]!
  const places = new Uint32Array(count)
  const used = starts.slice(0, pointCount)
  for (let vertex = 0; vertex < count; vertex++) places[vertex] = used[pointOf[vertex]!]!++
  const vertexPoints = new Uint32Array(vertexCount)
  for (let point = 0; point < pointCount; point++)
    for (let vertex = starts[point]!; vertex < starts[point + 1]!; vertex++) vertexPoints[vertex] = point
  const values = new Map<string, Float32Array>()
  channels.forEach(({ semantic, width, values: own }, at) => {
    const list = new Float32Array(width * vertexCount)
    for (let vertex = 0; vertex < count; vertex++) {
      const index = held[vertex * channelCount + at]!
      if (index < 0) continue
      const to = width * places[vertex]!
      for (let k = 0; k < width; k++) list[to + k] = own[width * index + k]!
    }
    values.set(semantic, list)
  })
  for (let corner = 0; corner < cornerCount; corner++) found[corner] = places[found[corner]!]!
  return { vertexCount, vertexPoints, cornerVertices: found, values, isFull: false }
}
