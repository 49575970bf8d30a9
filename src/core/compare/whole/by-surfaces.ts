/** What happened to a model as a whole where hardly any point corresponds: from where its surfaces lie. */
import { buildBvh } from '../../base/math/bvh.ts'
import { invertAffine, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { pointCountOf } from '../../scene/mesh.ts'
import type { Space } from '../../scene/scene.ts'
import { wholeByPoints, type WholeFound } from './by-points.ts'
import { CLEARLY_NEARER, MIRROR_NEARER, mirrors } from './find-alignment.ts'
import { fitSimilarity, similarityMatrix } from './similarity.ts'
import { samplePairs, pointsEach, type PlacedMesh, type PointPairs } from './point-pairs.ts'

/** Rounds of bringing surfaces nearer to each other, and points that these are told from. */
const ROUNDS = 20
const MOST_LOOKED_AT = 800
/** A round that brings them to more than this share of their distance is the last. */
const HARDLY_NEARER = 0.995
/** Ways that are gone into, those that begin nearest. */
const MOST_STARTS = 4

/**
 * Points of the master, each with the place on what came back that is nearest once that is brought to where it stood; the
 * similarity between them is then asked as it is of points that correspond.
 *
 * @param pairs parts of both sides that are the same, in the space of the master's scene.
 * @param along from where the returned parts stand to about where the master's do, ways that assume least first.
 */
export function wholeBySurfaces(
  pairs: readonly { readonly master: PlacedMesh; readonly returned: PlacedMesh }[],
  along: readonly Matrix[],
  spaces: { readonly master: Space; readonly returned: Space },
): WholeFound | null {
  const most = pointsEach(pairs.length)
  const own = pairs.map(({ master }): PointPairs => {
    const itself = Int32Array.from({ length: pointCountOf(master.mesh) }, (_pair, point) => point)
    return samplePairs(master, master, itself, most)
  })
  // each part is looked for on its own partner: what is round would slide over itself
  const trees = pairs.map(({ returned: { mesh, world } }) =>
    buildBvh({ ...mesh, points: transformPoints(mesh.points, world) }),
  )
  const nearest = (points: readonly Float64Array[], way: Matrix): PointPairs & { readonly off: number } => {
    const master: number[] = []
    const returned: number[] = []
    let off = 0
    points.forEach((own, part) => {
      const there = transformPoints(own, way)
      for (let at = 0; at < there.length; at += 3) {
        const place = [there[at]!, there[at + 1]!, there[at + 2]!] as const
        const found = place.every(Number.isFinite) ? trees[part]!.nearest(...place) : null
        if (!found) continue
        master.push(own[at]!, own[at + 1]!, own[at + 2]!)
        returned.push(...found.point)
        off += Math.hypot(...found.point.map((value, axis) => value - place[axis]!))
      }
    })
    return { master: Float64Array.from(master), returned: Float64Array.from(returned), off }
  }
  const all = own.map(({ master }) => master)
  const count = all.reduce((sum, points) => sum + points.length / 3, 0)
  const step = Math.max(1, Math.floor(count / MOST_LOOKED_AT))
  const some = all.map((points) => points.filter((_value, at) => Math.floor(at / 3) % step === 0))
  const brought = (start: Matrix): { way: Matrix; off: number } => {
    let way = start
    let last = nearest(some, way)
    for (let round = 0; round < ROUNDS; round++) {
      const fit = fitSimilarity(last.master, last.returned)
      if (!fit || !(fit.factor > 0)) break
      const next = nearest(some, similarityMatrix(fit))
      if (next.off > last.off * HARDLY_NEARER) break
      way = similarityMatrix(fit)
      last = next
    }
    return { way, off: last.off }
  }
  const starts = along.flatMap((one) => {
    const way = invertAffine(one)
    return way ? [way] : []
  })
  const offs = starts.map((way) => nearest(some, way).off)
  const likely = offs.map((_off, at) => at).sort((a, b) => offs[a]! - offs[b]! || a - b).slice(0, MOST_STARTS) // prettier-ignore
  const ends = [...new Set([0, ...likely])].sort((a, b) => a - b).map((at) => brought(starts[at]!))
  const [first, ...rest] = ends
  const best = rest.reduce((one, other) => {
    const nearer = mirrors(other.way) && one && !mirrors(one.way) ? MIRROR_NEARER : CLEARLY_NEARER
    return one && other.off > one.off * nearer ? one : other
  }, first)
  if (!best) return null
  const found = wholeByPoints(nearest(all, best.way), spaces, true)
  return found && { ...found, told: { ...found.told, by: 'surfaces' } }
}
