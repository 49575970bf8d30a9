import { EMPTY_MESH, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

type Place = readonly [number, number, number]

/**
 * Fewer polygons of no order, as where a tool lightens a mesh: points of one cell become one, where the first of them
 * lies, and polygons that fall together go (Rossignac & Borrel 1993, with a point of the mesh for each cell). Nothing
 * but points and polygons is left, which is all that such tools know.
 *
 * @param size edge of a cell, in the mesh's own unit, above 0.
 * @param where whether a point takes part.
 */
export function lightenMesh(mesh: Mesh, size: number, where: (place: Place) => boolean = () => true): Mesh {
  const numbers = new Map<string, number>()
  const points: number[] = []
  const newOf = Uint32Array.from({ length: pointCountOf(mesh) }, (_point, point) => {
    const place: Place = [mesh.points[3 * point]!, mesh.points[3 * point + 1]!, mesh.points[3 * point + 2]!]
    const cell = where(place) ? place.map((value) => Math.floor(value / size)).join() : `own ${point}`
    let number = numbers.get(cell)
    if (number === undefined) {
      number = points.length / 3
      numbers.set(cell, number)
      points.push(...place)
    }
    return number
  })
  const faceVertices: number[] = []
  const faceOffsets = [0]
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const corners = Array.from(
      mesh.faceVertices.subarray(mesh.faceOffsets[face], mesh.faceOffsets[face + 1]),
      (point) => newOf[point]!,
    )
    const left = corners.filter((point, at) => point !== corners[(at + 1) % corners.length])
    // one that would touch itself falls together as well
    if (left.length < 3 || new Set(left).size < left.length) continue
    faceVertices.push(...left)
    faceOffsets.push(faceVertices.length)
  }
  return {
    ...EMPTY_MESH,
    id: mesh.id,
    name: mesh.name,
    points: Float64Array.from(points),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(faceVertices),
  }
}
