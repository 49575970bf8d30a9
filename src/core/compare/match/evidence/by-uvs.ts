import { createNumberTable, type NumberTable } from '../../../base/math/number-table.ts'
import { pointCountOf, type Mesh, type UvSet } from '../../../scene/mesh.ts'
import { stepsOf, uvKey } from './uv-keys.ts'

/** Points of fewer may be said two things about by chance. */
const MANY_TIES = 12

/**
 * Pairs whose values stand at one point alone on either side; of a point with several values most have to agree.
 *
 * @param more how many points more came back.
 */
function pairUnique(valuesA: NumberTable, valuesB: NumberTable, count: number, more: number): Int32Array {
  const pairs = new Int32Array(count).fill(-1)
  /** Votes of the few points whose values don't agree. */
  const votes = new Map<number, Map<number, number>>()
  const agreed = new Uint16Array(count)
  valuesA.forEach((point, value) => {
    const other = point < 0 ? undefined : valuesB.get(value)
    if (other === undefined || other < 0) return
    const held = votes.get(point)
    if (held) held.set(other, (held.get(other) ?? 0) + 1)
    else if (pairs[point] === -1 || pairs[point] === other) {
      pairs[point] = other
      agreed[point]!++
    } else
      votes.set(
        point,
        new Map([
          [pairs[point]!, agreed[point]!],
          [other, 1],
        ]),
      )
  })
  const ties: [number, number][] = []
  for (const [point, candidates] of votes) {
    const [best, next] = [...candidates].sort((x, y) => y[1] - x[1] || x[0] - y[0])
    pairs[point] = best![1] > next![1] ? best![0] : -1
    if (best![1] === next![1]) ties.push([point, best![0]])
  }
  // many points that were split are each of those that they became: the first, so that neighbours go by the same piece
  if (ties.length >= MANY_TIES && ties.length <= more) for (const [point, other] of ties) pairs[point] = other
  return eachOnce(pairs)
}

/** A returned point that two master points claim goes with neither. */
function eachOnce(pairs: Int32Array): Int32Array {
  const claims = new Uint8Array(pairs.reduce((most, other) => Math.max(most, other), -1) + 1)
  for (const other of pairs) if (other >= 0 && claims[other]! < 2) claims[other]!++
  return pairs.map((other) => (other >= 0 && claims[other] === 1 ? other : -1))
}

/** No corner has the UV. */
const NO_POINT = -2

interface KnownPoints {
  readonly values: Float64Array
  readonly faceVertices: Uint32Array
  readonly steps: number
  readonly points: NumberTable
}
const byIndices = new WeakMap<Int32Array, KnownPoints>()

/**
 * UVs of the first sets that both have, by the point they stand at; -1 where one stands at several points. Once for the
 * same set on the same polygons.
 */
function uvPoints({ uvSets, faceVertices }: Mesh, at: number, steps: number): NumberTable {
  const { values, indices } = uvSets[at]!
  const known = byIndices.get(indices)
  if (known?.values === values && known.faceVertices === faceVertices && known.steps === steps)
    return known.points
  const points = findUvPoints(faceVertices, uvSets[at]!, steps)
  byIndices.set(indices, { values, faceVertices, steps, points })
  return points
}

function findUvPoints(faceVertices: Uint32Array, set: UvSet, steps: number): NumberTable {
  const uvCount = set.values.length / 2
  /** One a UV: its point; none, or several. */
  const pointOf = new Int32Array(uvCount).fill(NO_POINT)
  for (let corner = 0; corner < faceVertices.length; corner++) {
    const uv = set.indices[corner]!
    if (uv < 0) continue
    const point = faceVertices[corner]!
    if (pointOf[uv] === NO_POINT) pointOf[uv] = point
    else if (pointOf[uv] !== point) pointOf[uv] = -1
  }
  const points = createNumberTable(uvCount)
  for (let uv = 0; uv < uvCount; uv++) {
    const point = pointOf[uv]!
    if (point === NO_POINT) continue
    const key = uvKey(set, uv, steps)
    if (key === null) continue
    const known = points.get(key)
    points.set(key, known === undefined || known === point ? point : -1)
  }
  return points
}

/** Share of the points with UVs that have to be open for polygons to be asked: of most models all have their own. */
const MANY_OPEN = 0.02

/** A number as another one below 2 ** 48 that sums of others hardly give. */
function scrambled(key: number): number {
  const high = Math.floor(key / 4294967296)
  const low = key >>> 0
  const a = Math.imul(low ^ Math.imul(high, 0x85ebca6b), 0x9e3779b1)
  const b = Math.imul((a >>> 15) ^ low ^ 0x5bd1e995, 0xc2b2ae35)
  return (a >>> 0) * 65536 + ((b ^ (b >>> 13)) & 0xffff)
}

/**
 * Points by what is a corner's own: its UV together with those of its polygon. -1 where several points have such a corner.
 * Polygons that were never joined share no points, and share UVs with their neighbours in the layout.
 */
function cornerPoints(mesh: Mesh, steps: number): NumberTable {
  const { faceOffsets, faceVertices } = mesh
  const set = mesh.uvSets[0]!
  const points = createNumberTable(faceVertices.length)
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    const keys: number[] = []
    for (let corner = start; corner < end; corner++) {
      const uv = set.indices[corner]!
      const key = uv < 0 ? null : uvKey(set, uv, steps)
      if (key !== null) keys.push(scrambled(key))
    }
    if (keys.length < end - start) continue
    const sum = scrambled(keys.reduce((total, key) => (total + key) % 2 ** 48, end - start))
    for (let corner = start; corner < end; corner++) {
      const key = keys[corner - start]! + sum * 8
      const point = faceVertices[corner]!
      const known = points.get(key)
      points.set(key, known === undefined || known === point ? point : -1)
    }
  }
  return points
}

/** By UVs of the first set: an untouched layout is a key that survives all that only moves or renumbers. */
export function byUvs(master: Mesh, returned: Mesh): Int32Array | null {
  if (master.uvSets.length === 0 || returned.uvSets.length === 0) return null
  const count = pointCountOf(master)
  const more = pointCountOf(returned) - count
  const steps = stepsOf(master.uvSets[0]!, returned.uvSets[0]!)
  const pairs = pairUnique(uvPoints(master, 0, steps), uvPoints(returned, 0, steps), count, more)
  let open = 0
  for (const other of pairs) if (other < 0) open++
  if (open <= count * MANY_OPEN) return pairs
  const byCorners = pairUnique(cornerPoints(master, steps), cornerPoints(returned, steps), count, more)
  return eachOnce(pairs.map((other, point) => (other < 0 ? byCorners[point]! : other)))
}
