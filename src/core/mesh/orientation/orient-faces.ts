/** Which way faces are turned, over connected shells. */
import type { MeshFacts } from '../relations/mesh-facts.ts'

export interface Orientation {
  /** faceCount flags: faces that must be turned so that all faces of their shell agree. */
  readonly against: Uint8Array
  /** faceCount; the shell of each face: faces joined over edges with two sides. */
  readonly faceShells: Int32Array
  readonly shellCount: number
  /** shellCount flags: no border and no edge with more than two sides. */
  readonly closed: Uint8Array
  /** shellCount; six times the volume that the shell encloses once its faces agree, negative: inside out. */
  readonly volumes: Float64Array
  /** shellCount flags: after agreeing, the shell faces inwards. */
  readonly inward: Uint8Array
  /** shellCount flags: the shell can't be turned so that all its faces agree (a Moebius band). */
  readonly oneSided: Uint8Array
}

/** Share of the most flux from which an open shell has an inside. */
const OPEN_FLUX = 0.5

/**
 * Walks every shell over its edges and turns faces to agree with most of the shell: the smaller of the two
 * camps is the one that is against. Of a closed shell the enclosed volume tells inside from outside. Of an
 * open one it is told by the flux through it, about its own middle: a bowl whose faces look at each other is
 * taken for inside out only where the flux is beyond half of what its area could give (a ball's cap of 40 degrees): cloth
 * in the wind and plates are not.
 */
export function orientFaces(facts: MeshFacts): Orientation {
  const { mesh, faceCount } = facts
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const faceShells = new Int32Array(faceCount).fill(-1)
  const against = new Uint8Array(faceCount)
  const queue = new Uint32Array(faceCount)
  const closed: number[] = []
  const oneSided: number[] = []
  let shellCount = 0
  for (let first = 0; first < faceCount; first++) {
    if (faceShells[first]! >= 0) continue
    const shell = shellCount++
    closed.push(1)
    oneSided.push(0)
    let head = 0
    let tail = 0
    let turned = 0
    queue[tail++] = first
    faceShells[first] = shell
    while (head < tail) {
      const face = queue[head++]!
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const edge = cornerEdges[corner]!
        if (edgeSides[edge] !== 2) {
          closed[shell] = 0
          continue
        }
        const first2 = edgeCorners[2 * edge]!
        const other = first2 === corner ? edgeCorners[2 * edge + 1]! : first2
        const otherFace = cornerFaces[other]!
        // both sides start at the same point: the faces wind against each other
        const clash = mesh.faceVertices[corner] === mesh.faceVertices[other] ? 1 : 0
        const wanted = against[face]! ^ clash
        if (faceShells[otherFace]! < 0) {
          faceShells[otherFace] = shell
          against[otherFace] = wanted
          turned += wanted
          queue[tail++] = otherFace
        } else if (against[otherFace] !== wanted && otherFace !== face) oneSided[shell] = 1
      }
    }
    if (2 * turned > tail) for (let at = 0; at < tail; at++) against[queue[at]!]! ^= 1
  }
  const { volumes, inward } = measureShells(facts, against, faceShells, shellCount, closed)
  return {
    against,
    faceShells,
    shellCount,
    closed: Uint8Array.from(closed),
    volumes,
    inward,
    oneSided: Uint8Array.from(oneSided),
  }
}

function measureShells(
  facts: MeshFacts,
  against: Uint8Array,
  faceShells: Int32Array,
  shellCount: number,
  closed: readonly number[],
): { volumes: Float64Array; inward: Uint8Array } {
  const { mesh, faceCount } = facts
  const points = facts.points()
  const normals = facts.faceNormals()
  const areas = facts.faceAreas()
  const centers = new Float64Array(3 * shellCount)
  const weights = new Float64Array(shellCount)
  const middle = (face: number, axis: number): number => {
    let sum = 0
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      sum += points[3 * mesh.faceVertices[corner]! + axis]!
    return sum / (mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!)
  }
  for (let face = 0; face < faceCount; face++) {
    const shell = faceShells[face]!
    weights[shell]! += areas[face]!
    for (let axis = 0; axis < 3; axis++) centers[3 * shell + axis]! += areas[face]! * middle(face, axis)
  }
  for (let shell = 0; shell < shellCount; shell++)
    for (let axis = 0; axis < 3; axis++) centers[3 * shell + axis]! /= weights[shell]! || 1
  const volumes = new Float64Array(shellCount)
  /** What the flux could at most be: every face square to the line from the middle. */
  const most = new Float64Array(shellCount)
  for (let face = 0; face < faceCount; face++) {
    const shell = faceShells[face]!
    const sign = against[face] ? -1 : 1
    let flux = 0
    let away = 0
    for (let axis = 0; axis < 3; axis++) {
      const offset = middle(face, axis) - centers[3 * shell + axis]!
      flux += normals[3 * face + axis]! * offset
      away += offset * offset
    }
    volumes[shell]! += sign * flux
    most[shell]! += 2 * areas[face]! * Math.sqrt(away)
  }
  const inward = new Uint8Array(shellCount)
  for (let shell = 0; shell < shellCount; shell++)
    // what is flat has no inside, whichever way rounding falls
    if (
      volumes[shell]! <
      -Math.max((closed[shell] ? 1e-9 : OPEN_FLUX) * most[shell]!, 1e-9 * weights[shell]! ** 1.5)
    )
      inward[shell] = 1
  return { volumes, inward }
}
