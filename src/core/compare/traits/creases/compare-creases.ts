import { soundDeviation } from '../sound-deviation.ts'
import { comparableEdges, edgeEnds, followEdges, invertMap, joined } from '../edge-keys.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { edgeKey } from '../../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'

/** Sharpness by edge key; corners under `-1 - point`. */
export function sharpnessMap(mesh: Mesh): Map<number, number> {
  const map = new Map<number, number>()
  if (!mesh.creases) return map
  const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh.creases
  for (let edge = 0; edge < edgeSharpness.length; edge++)
    if (edgeSharpness[edge]! > 0)
      map.set(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!), edgeSharpness[edge]!)
  for (let corner = 0; corner < cornerSharpness.length; corner++)
    if (cornerSharpness[corner]! > 0) map.set(-1 - cornerPoints[corner]!, cornerSharpness[corner]!)
  return map
}

/** Sharpness is text or a 32-bit float in files. */
export const SHARPNESS_TOLERANCE = 1e-4

/** How a part is subdivided, as a sentence tells it; equal texts say the same. */
function subdivisionText({ subdivision }: Mesh): string {
  const { scheme, levels, renderLevels = levels, boundary } = subdivision
  if (scheme === 'none') return 'not at all'
  return [
    `${scheme} to level ${levels}`,
    ...(renderLevels === levels ? [] : [`level ${renderLevels} for rendering`]),
    ...(boundary
      ? [`borders ${boundary === 'edge-only' ? 'rounded at corners' : 'with sharp corners'}`]
      : []),
  ].join(', ')
}

/**
 * Creased edges and corners by their points, sharpness within `SHARPNESS_TOLERANCE`, absolute, and the scheme of subdivision.
 */
export function compareCreases(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const from = sharpnessMap(master)
  const to = sharpnessMap(returned)
  const [own, its] = [subdivisionText(master), subdivisionText(returned)]
  const subdivisionSame = own === its
  const refined = (): TraitComparison =>
    compared('changed', 'subdivision-changed', {
      changedCount: 1,
      totalCount: Math.max(1, from.size),
      parameters: { from: own, to: its },
    })
  if (from.size === 0 && to.size === 0) return subdivisionSame ? NOTHING : refined()
  if (from.size === 0) return compared('gained', 'gained', { totalCount: to.size })
  const keyEdges = (keys: readonly number[]): Uint32Array =>
    Uint32Array.from(keys.flatMap((key) => (key < 0 ? [-1 - key, -1 - key] : edgeEnds(key))))
  if (to.size === 0)
    return compared('lost', 'creases-lost', {
      changedCount: from.size,
      totalCount: from.size,
      parameters: { total: from.size },
      places: {
        element: 'edges',
        master: keyEdges([...from.keys()]),
        returned: followEdges(keyEdges([...from.keys()]), match),
      },
    })
  if (match.kind === 'none') return compared('incomparable', 'not-matched', { totalCount: from.size })
  const back = invertMap(match.pointToReturned, pointCountOf(returned))
  const otherOf = (key: number): number => {
    if (key < 0) {
      const point = match.pointToReturned[-1 - key]!
      return point < 0 ? NaN : -1 - point
    }
    const [a, b] = edgeEnds(key).map((point) => match.pointToReturned[point]!)
    return a! < 0 || b! < 0 ? NaN : edgeKey(a!, b!)
  }
  const seen = new Set([...from.keys()].map(otherOf).filter((other) => to.has(other)))
  const unmet = [...to.keys()].filter((key) => !seen.has(key))
  const unfollowed = [...from.keys()].filter((key) => !seen.has(otherOf(key)))
  const isEdge = (key: number): boolean => key >= 0
  const known = comparableEdges(master, returned, match, back, {
    own: unfollowed.filter(isEdge),
    other: unmet.filter(isEdge),
  })
  const isGone = new Set([
    ...known.own,
    ...unfollowed.filter((key) => key < 0 && match.pointToReturned[-1 - key]! >= 0),
  ])
  const added = [...unmet.filter((key) => key < 0 && back[-1 - key]! >= 0), ...known.other]
  /** Creases of either side that have no edge or point on the other to be held against. */
  const without = unfollowed.length - isGone.size + unmet.length - added.length
  const changed: number[] = []
  let largest = 0
  for (const [key, sharpness] of from) {
    const otherSharpness = to.get(otherOf(key))
    if (otherSharpness === undefined && !isGone.has(key)) continue
    const deviation =
      otherSharpness === undefined
        ? sharpness
        : soundDeviation(Math.abs(otherSharpness - sharpness), () => Object.is(otherSharpness, sharpness))
    if (deviation > largest) largest = deviation
    if (deviation > SHARPNESS_TOLERANCE) changed.push(key)
  }
  if (changed.length || added.length)
    return compared('changed', 'creases-changed', {
      changedCount: changed.length + added.length,
      totalCount: from.size,
      deviation: largest,
      parameters: { changed: changed.length, total: from.size, added: added.length },
      places: {
        element: 'edges',
        master: keyEdges(changed),
        returned: joined(followEdges(keyEdges(changed), match), keyEdges(added)),
      },
    })
  if (!subdivisionSame) return refined()
  if (without > 0) return sameWhereMatched(without, seen.size + without)
  return largest > 0
    ? compared('within', 'within', {
        totalCount: from.size,
        deviation: largest,
        parameters: { deviation: largest },
      })
    : compared('same', 'same', { totalCount: from.size })
}
