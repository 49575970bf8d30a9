/** A mesh whose points a file has split, as where it has one UV or normal a point, with them joined again. */
import type { ColorSet, Mesh } from '../../scene/mesh.ts'
import { joinVertices } from './join-vertices.ts'

/** The same values, those of one point that say the same shared. */
function shared(
  width: number,
  values: Float64Array,
  indices: Int32Array,
  faceVertices: Uint32Array,
  pointCount: number,
): { values: Float64Array; indices: Int32Array } {
  const heads = new Int32Array(pointCount).fill(-1)
  const next = new Int32Array(values.length / width)
  const chosen: number[] = []
  const numberOf = new Int32Array(values.length / width).fill(-1)
  const own = new Int32Array(indices.length).fill(-1)
  const isSame = (a: number, b: number): boolean => {
    for (let k = 0; k < width; k++) if (values[a * width + k] !== values[b * width + k]) return false
    return true
  }
  for (let corner = 0; corner < indices.length; corner++) {
    const index = indices[corner]!
    if (index < 0) continue
    if (numberOf[index]! < 0) {
      const point = faceVertices[corner]!
      let found = heads[point]!
      while (found >= 0 && !isSame(chosen[found]!, index)) found = next[found]!
      if (found < 0) {
        found = chosen.push(index) - 1
        next[found] = heads[point]!
        heads[point] = found
      }
      numberOf[index] = found
    }
    own[corner] = numberOf[index]!
  }
  const kept = new Float64Array(width * chosen.length)
  for (let at = 0; at < chosen.length; at++)
    for (let k = 0; k < width; k++) kept[width * at + k] = values[width * chosen[at]! + k]!
  return { values: kept, indices: own }
}

/** Colours of points that have become one: by corners where they differ. */
function joinedColors(
  set: ColorSet,
  oldVertices: Uint32Array,
  faceVertices: Uint32Array,
  firsts: Uint32Array,
  vertexPoints: Uint32Array,
): ColorSet {
  const { components, values } = set
  if (set.per === 'corners')
    return { ...set, ...shared(components, values, set.indices, faceVertices, firsts.length) }
  const isSame = vertexPoints.every((point, vertex) => {
    for (let k = 0; k < components; k++)
      if (values[components * vertex + k] !== values[components * firsts[point]! + k]) return false
    return true
  })
  if (!isSame)
    return {
      ...set,
      per: 'corners',
      ...shared(components, values, Int32Array.from(oldVertices), faceVertices, firsts.length),
    }
  const own = new Float64Array(components * firsts.length)
  for (let point = 0; point < firsts.length; point++)
    for (let k = 0; k < components; k++)
      own[components * point + k] = values[components * firsts[point]! + k]!
  return { ...set, values: own }
}

/** Whether each corner has a vertex of its own, in the corners' order. */
function isLoose(faceVertices: Uint32Array, vertexCount: number): boolean {
  if (faceVertices.length !== vertexCount) return false
  for (let corner = 0; corner < vertexCount; corner++) if (faceVertices[corner] !== corner) return false
  return true
}

/**
 * @param mesh as a file has it that knows one value a point: no creases, shapes, skin; values of indices that are used
 * by one old point each.
 * @param points 3 x vertexCount, where the mesh hasn't got them yet: many loose ones are held in less memory.
 * @returns where nothing is joined the mesh as it was, with the points.
 */
export function joinMesh(
  mesh: Mesh,
  points: Float32Array | Float64Array = mesh.points,
): { mesh: Mesh; joined: number } {
  const { faceOffsets, faceVertices } = mesh
  const sizes = faceOffsets.subarray(1).map((end, face) => end - faceOffsets[face]!)
  const { vertexPoints, pointCount } = joinVertices(points, sizes, faceVertices)
  const joined = points.length / 3 - pointCount
  if (joined === 0)
    return { mesh: points === mesh.points ? mesh : { ...mesh, points: new Float64Array(points) }, joined }
  const firsts = new Uint32Array(pointCount)
  for (let vertex = vertexPoints.length - 1; vertex >= 0; vertex--) firsts[vertexPoints[vertex]!] = vertex
  const pick = (width: number, values: Float32Array | Float64Array): Float64Array => {
    const own = new Float64Array(width * pointCount)
    for (let point = 0; point < pointCount; point++)
      for (let k = 0; k < width; k++) own[width * point + k] = values[width * firsts[point]! + k]!
    return own
  }
  const corners = isLoose(faceVertices, vertexPoints.length)
    ? vertexPoints
    : faceVertices.map((vertex) => vertexPoints[vertex]!)
  return {
    joined,
    mesh: {
      ...mesh,
      points: pick(3, points),
      faceVertices: corners,
      uvSets: mesh.uvSets.map((set) => ({
        ...set,
        ...shared(2, set.values, set.indices, corners, pointCount),
      })),
      normals: mesh.normals && shared(3, mesh.normals.values, mesh.normals.indices, corners, pointCount),
      colorSets: mesh.colorSets.map((set) => joinedColors(set, faceVertices, corners, firsts, vertexPoints)),
      lines: mesh.lines && {
        ...mesh.lines,
        points: mesh.lines.points.map((vertex) => vertexPoints[vertex]!),
      },
      ...(mesh.layers
        ? {
            layers: mesh.layers.map((layer) =>
              layer.per === 'points' && !layer.indices
                ? { ...layer, values: pick(layer.width, layer.values) }
                : layer,
            ),
          }
        : {}),
    },
  }
}
