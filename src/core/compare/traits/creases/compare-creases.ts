import { soundDeviation } from '../sound-deviation.ts'
import { createEdgeJudge, edgeEnds, followEdges, invertMap, joined } from '../edge-keys.ts'
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
  const judge = createEdgeJudge(master, returned, match, back)
  const isKnown = (key: number): boolean => (key < 0 ? match.pointToReturned[-1 - key]! >= 0 : judge.own(key))
  const isKnownBack = (key: number): boolean => (key < 0 ? back[-1 - key]! >= 0 : judge.other(key))
  /** Creases of either side that have no edge or point on the other to be held against. */
  let without = 0
  const changed: number[] = []
  const seen = new Set<number>()
  let largest = 0
  for (const [key, sharpness] of from) {
    let other = NaN
    if (key < 0) {
      const point = match.pointToReturned[-1 - key]!
      other = point < 0 ? NaN : -1 - point
    } else {
      const [a, b] = edgeEnds(key).map((point) => match.pointToReturned[point]!)
      other = a! < 0 || b! < 0 ? NaN : edgeKey(a!, b!)
    }
    const otherSharpness = to.get(other)
    if (otherSharpness !== undefined) seen.add(other)
    else if (!isKnown(key)) {
      without++
      continue
    }
    const deviation =
      otherSharpness === undefined
        ? sharpness
        : soundDeviation(Math.abs(otherSharpness - sharpness), () => Object.is(otherSharpness, sharpness))
    if (deviation > largest) largest = deviation
    if (deviation > SHARPNESS_TOLERANCE) changed.push(key)
  }
  const unseen = [...to.keys()].filter((key) => !seen.has(key))
  const added = unseen.filter(isKnownBack)
  without += unseen.length - added.length
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
