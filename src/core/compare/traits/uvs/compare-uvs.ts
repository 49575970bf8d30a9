import { furtherCorners } from '../further-counterparts.ts'
import { FLOAT_ROUNDING, soundDeviation } from '../sound-deviation.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { cornerCountOf, type Mesh, type UvSet } from '../../../scene/mesh.ts'
import { wayText } from '../../layout/layout-way.ts'
import { wayOfCorners } from '../../layout/way-of-corners.ts'
import { pairSets, setNames } from '../pair-sets.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'

/** In UV units; a ten-thousandth of a texel on a 4096 map is 2.4e-8, six digits of text keep 5e-7. */
export const UV_TOLERANCE = 1e-6

/** Corners of which a third coordinate is another one; where a file has none it is 0. */
function otherDepths(
  pairs: readonly { readonly from: UvSet; readonly to: UvSet | null }[],
  match: Correspondence,
): number {
  const changed = new Set<number>()
  for (const { from, to } of pairs) {
    if (!to || (!from.depths && !to.depths)) continue
    const look = (corner: number, other: number): void => {
      if (other < 0) return
      const [own, its] = [from.indices[corner]!, to.indices[other]!]
      if (own < 0 || its < 0) return
      if (!(Math.abs((from.depths?.[own] ?? 0) - (to.depths?.[its] ?? 0)) <= UV_TOLERANCE))
        changed.add(corner)
    }
    match.cornerToReturned.forEach((other, corner) => look(corner, other))
    const { own, other } = furtherCorners(match)
    own.forEach((corner, at) => look(corner, other[at]!))
  }
  return changed.size
}

/** What was done to the whole layout of a part, where it was one thing alone to all of its sets that changed; else null. */
function changedAsWhole(
  pairs: readonly { readonly from: UvSet; readonly to: UvSet | null }[],
  match: Correspondence,
): string | null {
  let how: string | null = null
  const further = furtherCorners(match)
  for (const { from, to } of pairs) {
    if (!to) return null
    const [own, other]: [number[], number[]] = [[], []]
    const look = (corner: number, there: number): void => {
      const [uv, otherUv] = [from.indices[corner]!, there < 0 ? -1 : to.indices[there]!]
      if (uv < 0 || otherUv < 0) return
      own.push(from.values[2 * uv]!, from.values[2 * uv + 1]!)
      other.push(to.values[2 * otherUv]!, to.values[2 * otherUv + 1]!)
    }
    match.cornerToReturned.forEach((there, corner) => look(corner, there))
    further.own.forEach((corner, at) => look(corner, further.other[at]!))
    const way = wayOfCorners(Float64Array.from(own), Float64Array.from(other), (u, v) =>
      Math.max(2 * UV_TOLERANCE, 2 * FLOAT_ROUNDING * Math.max(Math.abs(u), Math.abs(v))),
    )
    if (!way) return null
    const said = wayText(way)
    if (how && said && how !== said) return null
    how ||= said
  }
  return how || null
}

/**
 * UVs corner by corner. Which corners share a UV follows from their values: a seam is where the corners
 * round a point have different ones.
 */
export function compareUvs(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const total = cornerCountOf(master)
  if (master.uvSets.length === 0)
    return returned.uvSets.length === 0 ? NOTHING : compared('gained', 'gained', { totalCount: total })
  if (returned.uvSets.length === 0) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const { pairs, gained } = pairSets(master.uvSets, returned.uvSets)
  const changed = new Set<number>()
  let largest = 0
  let missing = 0
  const further = furtherCorners(match)
  const without = match.cornerToReturned.reduce((sum, other) => sum + (other < 0 ? 1 : 0), 0)
  let renamed: { from: string; to: string } | null = null
  for (const { from, to } of pairs) {
    if (!to) continue
    if (from.name !== to.name) renamed ??= { from: from.name, to: to.name }
    const look = (corner: number, other: number): void => {
      const uv = from.indices[corner]!
      const otherUv = to.indices[other]!
      if (uv < 0 && otherUv < 0) return
      if (uv < 0 || otherUv < 0) {
        if (!changed.has(corner)) missing++
        changed.add(corner)
        return
      }
      // most are the very same, and nothing further has to be worked out for them
      if (
        from.values[2 * uv] === to.values[2 * otherUv] &&
        from.values[2 * uv + 1] === to.values[2 * otherUv + 1]
      )
        return
      const du = Math.abs(from.values[2 * uv]! - to.values[2 * otherUv]!)
      const dv = Math.abs(from.values[2 * uv + 1]! - to.values[2 * otherUv + 1]!)
      const deviation = soundDeviation(Math.max(du, dv), () =>
        [0, 1].every((axis) => Object.is(from.values[2 * uv + axis], to.values[2 * otherUv + axis])),
      )
      if (deviation > largest) largest = deviation
      // 32 bits, which it may have come through anywhere on its way, round the more the farther a UV lies from the first tile
      const size = Math.max(Math.abs(from.values[2 * uv]!), Math.abs(from.values[2 * uv + 1]!))
      if (deviation > Math.max(UV_TOLERANCE, FLOAT_ROUNDING * size)) changed.add(corner)
    }
    for (let corner = 0; corner < total; corner++)
      if (match.cornerToReturned[corner]! >= 0) look(corner, match.cornerToReturned[corner]!)
    for (let at = 0; at < further.own.length; at++) look(further.own[at]!, further.other[at]!)
  }
  const lost = pairs.filter((pair) => !pair.to).map((pair) => pair.from)
  const corners = Uint32Array.from(changed)
  const places = {
    element: 'corners' as const,
    master: corners,
    returned: Uint32Array.from(
      [...corners].map((corner) => match.cornerToReturned[corner]!).filter((c) => c >= 0),
    ),
  }
  const common = { changedCount: changed.size, totalCount: total, deviation: largest }
  if (lost.length)
    return compared('changed', 'uv-sets-lost', {
      ...common,
      parameters: { lost: lost.length, total: master.uvSets.length, names: setNames(lost) },
      places,
    })
  if (changed.size && missing === changed.size)
    return compared('changed', 'uvs-missing', { ...common, parameters: { missing, total }, places })
  const how = !missing && changed.size > (total - without) / 2 ? changedAsWhole(pairs, match) : null
  if (how) return compared('changed', 'uvs-as-whole', { ...common, parameters: { how }, places })
  if (changed.size)
    return compared('changed', 'uvs-moved', {
      ...common,
      parameters: {
        changed: changed.size - missing,
        total,
        deviation: largest,
        also: missing ? `; ${missing} more ${missing === 1 ? 'has' : 'have'} none on one side` : '',
      },
      places,
    })
  const deep = otherDepths(pairs, match)
  if (deep > 0)
    return compared('changed', 'uv-depths', {
      changedCount: deep,
      totalCount: total,
      parameters: { changed: deep, total },
    })
  if (gained.length)
    return compared('gained', 'uv-sets-gained', {
      ...common,
      parameters: { added: gained.length, names: setNames(gained) },
    })
  if (renamed) return compared('changed', 'uv-set-renamed', { ...common, parameters: renamed })
  if (without > 0) return sameWhereMatched(without, total)
  if (largest > 0) return compared('within', 'within', { ...common, parameters: { deviation: largest } })
  return compared('same', 'same', common)
}
