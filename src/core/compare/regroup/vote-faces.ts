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
  /** Names of the materials that its polygons give numbers of. */
  readonly materials?: readonly string[]
}

/** Shares of the diagonal of the master's scene within which points lie on one place: the first, where it does for most of them. */
const ONE_PLACE = [1e-6, 1e-5]
const DOES = 0.98

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

interface Places {
  /** For each point of each returned part, the master's part that has a point there; -1 for none, or several. */
  readonly owners: readonly Int32Array[]
  /** The one part that has a polygon over all these points, of a returned part, where several have each of them; -1 for none. */
  readonly ownerOver: (part: number, points: Uint32Array) => number
  /** How many of the returned points lie on one of the master's. */
  readonly share: number
}

function placesOf(masters: readonly StandingMesh[], returned: readonly StandingMesh[]): Places {
  const [narrow, wide] = ONE_PLACE as [number, number]
  const found = placesWithin(masters, returned, narrow)
  return found.share >= DOES ? found : placesWithin(masters, returned, wide)
}

function placesWithin(
  masters: readonly StandingMesh[],
  returned: readonly StandingMesh[],
  width: number,
): Places {
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
  const target = findWelds(points, diagonalOf(boundsOf(masterPoints)) * width)
  // points of several parts on one place speak for none of them
  for (let point = 0; point < masterPoints.length / 3; point++) {
    const kept = target[point]!
    if (owner[kept] !== owner[point]) owner[kept] = SEVERAL
  }
  const masterCount = masterPoints.length / 3
  const firsts: number[] = []
  let first = masterCount
  for (const part of returned) {
    firsts.push(first)
    first += part.points.length / 3
  }
  const owners = returned.map((part, index) =>
    Int32Array.from({ length: part.points.length / 3 }, (_point, at) => {
      const kept = target[firsts[index]! + at]!
      return kept < masterCount ? owner[kept]! : -1
    }),
  )
  // few ask
  let shared: Map<number, SharedFace[]> | null = null
  const sharedAt = (place: number): readonly SharedFace[] =>
    (shared ??= sharedFaces(masters, target, (kept) => owner[kept] === SEVERAL)).get(place) ?? []
  let found = 0
  for (let point = masterCount; point < first; point++) if (target[point]! < masterCount) found++
  return {
    owners,
    share: found / Math.max(1, first - masterCount),
    ownerOver(part, corners) {
      const places = Array.from(corners, (point) => target[firsts[part]! + point]!)
      const over = sharedAt(places[0]!).filter((face) => places.every((place) => face.places.has(place))) // prettier-ignore
      // of two that lie on each other, as the walls of boxes that touch, the one that faces the same way
      const facing = over.filter((face) => facesAlike(face, places))
      const alike = facing.length ? facing : over
      const [one] = alike
      return one && alike.every((face) => face.part === one.part) ? one.part : -1
    },
  }
}

interface SharedFace {
  readonly part: number
  /** Those of its corners that several parts share, with their numbers in the polygon. */
  readonly places: ReadonlyMap<number, number>
}

/** Whether three places come in the same order round a polygon. */
function facesAlike({ places }: SharedFace, [a, b, c]: readonly number[]): boolean {
  const [first, second, third] = [a, b, c].map((place) => places.get(place!) ?? NaN)
  return (third! - second!) * (second! - first!) * (first! - third!) < 0
}

/** Polygons of the master with three corners or more where several parts have points, by each of these places. */
function sharedFaces(
  masters: readonly StandingMesh[],
  target: Uint32Array,
  isShared: (place: number) => boolean,
): Map<number, SharedFace[]> {
  const sharedAt = new Map<number, SharedFace[]>()
  let first = 0
  masters.forEach(({ mesh, points }, part) => {
    for (let face = 0; face < faceCountOf(mesh); face++) {
      const places = new Map<number, number>()
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const place = target[first + mesh.faceVertices[corner]!]!
        if (isShared(place)) places.set(place, corner)
      }
      if (places.size < 3) continue
      for (const place of places.keys()) {
        const held = sharedAt.get(place)
        if (held) held.push({ part, places })
        else sharedAt.set(place, [{ part, places }])
      }
    }
    first += points.length / 3
  })
  return sharedAt
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
  const places: Places = finite
    ? placesOf(masters, returned)
    : {
        owners: returned.map(({ mesh }) => new Int32Array(pointCountOf(mesh)).fill(-1)),
        ownerOver: () => -1,
        share: 0,
      }
  return returned.map(({ mesh }, part) => {
    const [set] = mesh.uvSets
    const place = places.owners[part]!
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
      if (best && best[1] > (next?.[1] ?? 0)) return best[0]
      // where parts meet, every corner may be of several, and the polygon of one
      return best ? -1 : places.ownerOver(part, mesh.faceVertices.subarray(mesh.faceOffsets[face], mesh.faceOffsets[face + 1])) // prettier-ignore
    })
  })
}
