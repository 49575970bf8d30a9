/** Which of the master's parts each polygon of a returned part speaks for, by what it still has: UVs, then places. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { createNumberTable, type NumberTable } from '../../base/math/number-table.ts'
import { findWelds } from '../../mesh/welds/find-welds.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { stepsOf, uvKey } from '../match/evidence/uv-keys.ts'

/** Several parts say the same. */
const SEVERAL = -2

/** A mesh with its points in the world of the master's scene. */
export interface StandingMesh {
  readonly mesh: Mesh
  readonly points: Float64Array
}

/** Share of the diagonal of the master's scene within which points lie on one place. */
const ONE_PLACE = 1e-5

/** By its key, the part that each UV is of, or several. */
function uvOwners(parts: readonly StandingMesh[], steps: number): NumberTable {
  const owners = createNumberTable()
  parts.forEach(({ mesh }, part) => {
    const [set] = mesh.uvSets
    if (!set) return
    const isUsed = new Uint8Array(set.values.length / 2)
    for (const uv of set.indices) if (uv >= 0) isUsed[uv] = 1
    for (let uv = 0; uv < isUsed.length; uv++) {
      const key = isUsed[uv] ? uvKey(set, uv, steps) : null
      if (key === null) continue
      const known = owners.get(key)
      owners.set(key, known === undefined || known === part ? part : SEVERAL)
    }
  })
  return owners
}

/** For each point of each returned part, the master's part that has a point there; -1 for none, or several. */
function placeOwners(masters: readonly StandingMesh[], returned: readonly StandingMesh[]): Int32Array[] {
  const all = [...masters, ...returned]
  const points = new Float64Array(all.reduce((sum, part) => sum + part.points.length, 0))
  const owner = new Int32Array(points.length / 3).fill(-1)
  let at = 0
  all.forEach((part, index) => {
    points.set(part.points, at)
    if (index < masters.length) owner.fill(index, at / 3, (at + part.points.length) / 3)
    at += part.points.length
  })
  const masterPoints = points.subarray(
    0,
    masters.reduce((sum, part) => sum + part.points.length, 0),
  )
  const target = findWelds(points, diagonalOf(boundsOf(masterPoints)) * ONE_PLACE)
  // points of several parts on one place speak for none of them
  for (let point = 0; point < masterPoints.length / 3; point++) {
    const kept = target[point]!
    if (owner[kept] !== owner[point]) owner[kept] = SEVERAL
  }
  let first = masterPoints.length / 3
  return returned.map((part) => {
    const count = part.points.length / 3
    const found = Int32Array.from({ length: count }, (_point, index) => {
      const kept = target[first + index]!
      return kept < masterPoints.length / 3 ? owner[kept]! : -1
    })
    first += count
    return found
  })
}

/** Whether two parts have UVs and hardly any of them is of both. */
export function haveOtherUvs({ uvSets: [own] }: Mesh, { uvSets: [other] }: Mesh): boolean {
  if (!own || !other || own.values.length === 0 || other.values.length === 0) return false
  const steps = stepsOf(own, other)
  const there = new Set<number | null>()
  for (let uv = 0; uv < other.values.length / 2; uv++) there.add(uvKey(other, uv, steps))
  let both = 0
  const count = own.values.length / 2
  for (let uv = 0; uv < count; uv++) if (there.has(uvKey(own, uv, steps))) both++
  return both < count / 2
}

/**
 * One number a face of each returned part: the master's part that most of its corners speak for; -1 where none does, or
 * two alike.
 */
export function voteFaces(masters: readonly StandingMesh[], returned: readonly StandingMesh[]): Int32Array[] {
  const bySteps = new Map<number, NumberTable>()
  const ownersAt = (steps: number): NumberTable => {
    const known = bySteps.get(steps) ?? uvOwners(masters, steps)
    bySteps.set(steps, known)
    return known
  }
  const finite = [...masters, ...returned].every((part) => part.points.every(Number.isFinite))
  const places = finite
    ? placeOwners(masters, returned)
    : returned.map(({ mesh }) => new Int32Array(pointCountOf(mesh)).fill(-1))
  return returned.map(({ mesh }, part) => {
    const [set] = mesh.uvSets
    const place = places[part]!
    // what was rounded is told apart by fewer steps than those that any of the master's has
    const steps = set
      ? masters.reduce((least, { mesh: { uvSets } }) => Math.min(least, uvSets[0] ? stepsOf(uvSets[0], set) : Infinity), Infinity) // prettier-ignore
      : Infinity
    const owners = Number.isFinite(steps) ? ownersAt(steps) : null
    return Int32Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
      const votes = new Map<number, number>()
      const vote = (owner: number | undefined, weight: number): unknown =>
        owner !== undefined && owner >= 0 && votes.set(owner, (votes.get(owner) ?? 0) + weight)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const uv = set ? set.indices[corner]! : -1
        const key = set && owners && uv >= 0 ? uvKey(set, uv, steps) : null
        // a part may have come to where another one was; its UVs go with it
        vote(key === null ? undefined : owners!.get(key), 2)
        vote(place[mesh.faceVertices[corner]!], 1)
      }
      const [best, next] = [...votes].sort((a, b) => b[1] - a[1])
      return best && best[1] > (next?.[1] ?? 0) ? best[0] : -1
    })
  })
}
