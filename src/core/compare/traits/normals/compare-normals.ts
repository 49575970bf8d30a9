import { furtherCorners } from '../further-counterparts.ts'
import { soundDeviation } from '../sound-deviation.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { cornerCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'

/** Radians, about a hundredth of a degree: four digits of text, as many programs write normals, keep it. */
export const NORMAL_TOLERANCE = 2e-4

/** Directions of authored corner normals; their length doesn't count. A corner without counterpart is neither changed nor the same. */
export function compareNormals(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const a = master.normals
  const b = returned.normals
  const total = cornerCountOf(master)
  if (!a) return b ? compared('gained', 'gained', { totalCount: total }) : NOTHING
  if (!b) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const changed: number[] = []
  const isChanged = new Uint8Array(total)
  const changedReturned: number[] = []
  let largest = 0
  let exact = true
  const turned = (corner: number, other: number): void => {
    if (!isChanged[corner]) changed.push(corner)
    isChanged[corner] = 1
    changedReturned.push(other)
  }
  const look = (corner: number, other: number): void => {
    const from = a.indices[corner]!
    const to = b.indices[other]!
    if (from < 0 && to < 0) return
    if (from < 0 || to < 0) return turned(corner, other)
    const ax = a.values[3 * from]!
    const ay = a.values[3 * from + 1]!
    const az = a.values[3 * from + 2]!
    const bx = b.values[3 * to]!
    const by = b.values[3 * to + 1]!
    const bz = b.values[3 * to + 2]!
    if (ax === bx && ay === by && az === bz) return
    exact = false
    const cx = ay * bz - az * by
    const cy = az * bx - ax * bz
    const cz = ax * by - ay * bx
    // no normal stands farther off than one that looks back
    const angle = Math.min(
      Math.PI,
      soundDeviation(
        Math.atan2(Math.sqrt(cx * cx + cy * cy + cz * cz), ax * bx + ay * by + az * bz),
        () => Object.is(ax, bx) && Object.is(ay, by) && Object.is(az, bz),
      ),
    )
    if (angle > largest) largest = angle
    if (angle > NORMAL_TOLERANCE) turned(corner, other)
  }
  let without = 0
  for (let corner = 0; corner < total; corner++) {
    const other = match.cornerToReturned[corner]!
    if (other < 0) without++
    else look(corner, other)
  }
  const further = furtherCorners(match)
  for (let at = 0; at < further.own.length; at++) look(further.own[at]!, further.other[at]!)
  const common = { totalCount: total, deviation: largest, changedCount: changed.length }
  if (changed.length)
    return compared('changed', 'normals-turned', {
      ...common,
      parameters: { changed: changed.length, total, degrees: (largest * 180) / Math.PI },
      places: {
        element: 'corners',
        master: Uint32Array.from(changed),
        returned: Uint32Array.from(changedReturned),
      },
    })
  if (without > 0) return sameWhereMatched(without, total)
  return exact
    ? compared('same', 'same', common)
    : compared('within', 'within', { ...common, parameters: { deviation: largest } })
}
