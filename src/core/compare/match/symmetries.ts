/** Turns and mirrors along the axes that bring a mesh onto itself, about the middle of its box. */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { boundsOf, diagonalOf, type Box } from '../../base/math/box.ts'
import { isMirroring, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { remember } from '../../base/remembering/remember.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { matchFaces } from './match-faces.ts'
import { matchPositions } from './match-positions.ts'

export interface Symmetry {
  /** 4x4, column-major, in the mesh's own space. */
  readonly matrix: Matrix
  /** Polygons look the same way then, a mirror turning them as it does: what is flat lies on itself the wrong way up too. */
  readonly keepsSides: boolean
  /** One a point, and one a face: the one that it comes to lie on. */
  readonly points: Int32Array
  readonly faces: Int32Array
}

/** Share of the diagonal within which a point has to come to lie on another. */
const REACH = 1e-5
/** Larger meshes are not asked, and so many points first. */
const MOST_POINTS = 50_000
const ASKED_FIRST = 64

/** A way along the axes about a middle. @param m 3x3, row-major. */
function aboutMiddle(m: readonly number[], { min, max }: Box): Matrix {
  const middle = min.map((value, axis) => (value + max[axis]!) / 2)
  const move = middle.map((value, row) => value - (m[3 * row]! * middle[0]! + m[3 * row + 1]! * middle[1]! + m[3 * row + 2]! * middle[2]!)) // prettier-ignore
  return [m[0]!, m[3]!, m[6]!, 0, m[1]!, m[4]!, m[7]!, 0, m[2]!, m[5]!, m[8]!, 0, ...move, 1]
}

/** Of extents that differ no axis takes another's place. */
function keepsExtents(m: readonly number[], { min, max }: Box, reach: number): boolean {
  const extents = max.map((value, axis) => value - min[axis]!)
  return extents.every((extent, row) => {
    const from = [0, 1, 2].find((column) => m[3 * row + column] !== 0)!
    return Math.abs(extent - extents[from]!) <= reach
  })
}

/** Those of a mesh but the one that leaves all as it is; empty for a mesh that is too large. */
export const symmetriesOf = remember((mesh: Mesh): readonly Symmetry[] => {
  const box = boundsOf(mesh.points)
  const count = pointCountOf(mesh)
  const reach = diagonalOf(box) * REACH
  if (!box || count > MOST_POINTS || !(reach > 0) || !mesh.points.every(Number.isFinite)) return []
  const step = Math.max(1, Math.floor(count / ASKED_FIRST))
  const some = mesh.points.filter((_value, at) => Math.floor(at / 3) % step === 0)
  return ALONG_AXES.slice(1).flatMap((m): Symmetry[] => {
    if (!keepsExtents(m, box, 2 * reach)) return []
    const matrix = aboutMiddle(m, box)
    if (matchPositions(transformPoints(some, matrix), mesh.points, reach).includes(-1)) return []
    const points = matchPositions(transformPoints(mesh.points, matrix), mesh.points, reach)
    if (points.includes(-1)) return []
    const { faceToReturned, matchedFaceCount, turnedFaceCount } = matchFaces(mesh, mesh, points)
    if (matchedFaceCount < faceCountOf(mesh)) return []
    const turned = isMirroring(matrix) ? matchedFaceCount - turnedFaceCount : turnedFaceCount
    return [{ matrix, keepsSides: turned === 0, points, faces: faceToReturned }]
  })
})
