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
}

/** Every point has at least one vertex, also where no polygon has it. */
export function splitVertices(mesh: Mesh, channels: readonly CornerChannel[]): SplitVertices {
  const pointCount = mesh.points.length / 3
  const { faceVertices } = mesh
  const cornerCount = faceVertices.length
  const width = channels.reduce((sum, channel) => sum + channel.width, 0)
  const heads = new Int32Array(pointCount).fill(-1)
  const next = new Int32Array(cornerCount)
  // the corner that a vertex was first met at has its values
  const firsts = new Int32Array(cornerCount)
  const found = new Uint32Array(cornerCount)
  const row = new Float32Array(width)
  let held = new Float32Array(Math.max(width * pointCount, 1))
  const sizes = new Uint32Array(pointCount)
  let count = 0
  for (let corner = 0; corner < cornerCount; corner++) {
    let at = 0
    for (const { width: own, values, indices } of channels) {
      const index = indices[corner]!
      for (let k = 0; k < own; k++) row[at++] = index < 0 ? 0 : values[index * own + k]!
    }
    const point = faceVertices[corner]!
    let vertex = heads[point]!
    search: while (vertex >= 0) {
      const base = vertex * width
      let k = 0
      while (k < width && held[base + k] === row[k]) k++
      if (k === width) break search
      vertex = next[vertex]!
    }
    if (vertex < 0) {
      vertex = count++
      if (count * width > held.length) {
        const larger = new Float32Array(2 * held.length + width)
        larger.set(held)
        held = larger
      }
      held.set(row, vertex * width)
      firsts[vertex] = point
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
  for (let vertex = 0; vertex < count; vertex++) places[vertex] = used[firsts[vertex]!]!++
  const vertexPoints = new Uint32Array(vertexCount)
  for (let point = 0; point < pointCount; point++)
    vertexPoints.fill(point, starts[point]!, starts[point + 1]!)
  const values = new Map<string, Float32Array>()
  let offset = 0
  for (const { semantic, width: own } of channels) {
    const list = new Float32Array(own * vertexCount)
    for (let vertex = 0; vertex < count; vertex++)
      for (let k = 0; k < own; k++) list[own * places[vertex]! + k] = held[vertex * width + offset + k]!
    values.set(semantic, list)
    offset += own
  }
  return {
    vertexCount,
    vertexPoints,
    cornerVertices: found.map((vertex) => places[vertex]!),
    values,
  }
}
