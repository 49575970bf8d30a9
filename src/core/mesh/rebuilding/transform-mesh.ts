import {
  isIdentity,
  isMirroring,
  meanScale,
  transformNormals,
  transformPoints,
  type Matrix,
} from '../../base/math/matrix.ts'
import type { BlendShape, KeptLayer, Mesh } from '../../scene/mesh.ts'
import { turnFaces } from '../orientation/turn-faces.ts'

/** A mesh through an affine matrix: points, normals and blend shapes; a mirroring one turns the faces as well. */
export function transformMesh(mesh: Mesh, matrix: Matrix): Mesh {
  if (isIdentity(matrix)) return mesh
  const facing = isMirroring(matrix) ? turnFaces(mesh) : mesh
  return {
    ...facing,
    points: transformPoints(mesh.points, matrix),
    normals: facing.normals && { ...facing.normals, values: transformNormals(facing.normals.values, matrix) },
    shapes: mesh.shapes.map((shape) => shapeThrough(shape, matrix)),
    ...(facing.layers ? { layers: turnLayers(facing.layers, matrix) } : {}),
  }
}

/** What a matrix does to directions, whose length stays. */
function turnOf(matrix: Matrix): number[] {
  const scale = meanScale(matrix) || 1
  return [...matrix.slice(0, 12).map((value) => value / scale), 0, 0, 0, 1]
}

/** A shape's movements through a matrix; they have a direction and a length, and no place. */
export function shapeThrough(shape: BlendShape, matrix: Matrix): BlendShape {
  const linear = [...matrix.slice(0, 12), 0, 0, 0, 1]
  return {
    ...shape,
    offsets: transformPoints(shape.offsets, linear),
    ...(shape.normals ? { normals: transformPoints(shape.normals, turnOf(matrix)) } : {}),
    ...(shape.tangents ? { tangents: transformPoints(shape.tangents, turnOf(matrix)) } : {}),
  }
}

/** Directions turn along as long as the matrix keeps angles; otherwise they would be wrong and go. */
function turnLayers(layers: readonly KeptLayer[], matrix: Matrix): KeptLayer[] {
  const lengths = [0, 4, 8].map((at) => Math.hypot(matrix[at]!, matrix[at + 1]!, matrix[at + 2]!))
  const [size] = lengths
  const dot = (a: number, b: number): number =>
    matrix[a]! * matrix[b]! + matrix[a + 1]! * matrix[b + 1]! + matrix[a + 2]! * matrix[b + 2]!
  const keepsAngles =
    lengths.every((length) => Math.abs(length - size!) <= 1e-9 * size!) &&
    [dot(0, 4), dot(0, 8), dot(4, 8)].every((value) => Math.abs(value) <= 1e-9 * size! * size!)
  return layers.flatMap((layer) => {
    if (layer.width !== 3) return [layer]
    if (!keepsAngles) return []
    const turn = [...matrix.slice(0, 12).map((value) => value / size!), 0, 0, 0, 1]
    return [{ ...layer, values: transformPoints(layer.values, turn) }]
  })
}
