import { soundDeviation } from '../sound-deviation.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { cornerCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, NOTHING, type TraitComparison } from '../trait.ts'

/** Radians, about a hundredth of a degree: four digits of text, as many programs write normals, keep it. */
export const NORMAL_TOLERANCE = 2e-4

/** Directions of authored corner normals; their length doesn't count. */
export function compareNormals(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const a = master.normals
  const b = returned.normals
  const total = cornerCountOf(master)
  if (!a) return b ? compared('gained', 'gained', { totalCount: total }) : NOTHING
  if (!b) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const changed: number[] = []
  const changedReturned: number[] = []
  let largest = 0
  let exact = true
  for (let corner = 0; corner < total; corner++) {
    const other = match.cornerToReturned[corner]!
    const from = a.indices[corner]!
    const to = other < 0 ? -2 : b.indices[other]!
    if (from < 0 && to === -1) continue
    if (from < 0 || to < 0) {
      changed.push(corner)
      if (other >= 0) changedReturned.push(other)
      continue
    }
    const ax = a.values[3 * from]!
    const ay = a.values[3 * from + 1]!
    const az = a.values[3 * from + 2]!
    const bx = b.values[3 * to]!
    const by = b.values[3 * to + 1]!
    const bz = b.values[3 * to + 2]!
    if (ax === bx && ay === by && az === bz) continue
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
    if (angle > NORMAL_TOLERANCE) {
      changed.push(corner)
      changedReturned.push(other)
    }
  }
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
  return exact
    ? compared('same', 'same', common)
    : compared('within', 'within', { ...common, parameters: { deviation: largest } })
}
