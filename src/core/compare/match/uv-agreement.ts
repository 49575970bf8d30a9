/** How far UVs bear out which corner is which. */
import { createNumberTable } from '../../base/math/number-table.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { stepsOf, uvKey } from './evidence/uv-keys.ts'

/** Corners that are looked at for whether UVs agree. */
const MOST_LOOKED_AT = 2000
/**
 * Whether hardly any UV agrees where places do: a symmetrical shape that was mirrored lies where it lay, and only its
 * UVs tell. Of a new layout they tell nothing, which is found when they are asked which point is which.
 */
export function contradictUvs(master: Mesh, returned: Mesh, cornerToReturned: Int32Array): boolean {
  const share = agreeingUvs(master, returned, cornerToReturned)
  return share !== null && share < 0.5
}

export const uvsBearOut = (master: Mesh, returned: Mesh, cornerToReturned: Int32Array): boolean =>
  (agreeingUvs(master, returned, cornerToReturned) ?? 0) >= 0.5

/** The share of UVs that agree; null where one side has none. */
export function agreeingUvs(master: Mesh, returned: Mesh, cornerToReturned: Int32Array): number | null {
  const [own] = master.uvSets
  const [other] = returned.uvSets
  if (!own || !other) return null
  const step = Math.max(1, Math.floor(cornerToReturned.length / MOST_LOOKED_AT))
  const steps = stepsOf(own, other)
  let looked = 0
  let agree = 0
  for (let corner = 0; corner < cornerToReturned.length; corner += step) {
    const uv = own.indices[corner]!
    const there = cornerToReturned[corner]!
    const uvThere = there < 0 ? -1 : other.indices[there]!
    if (uv < 0 || uvThere < 0) continue
    looked++
    if (uvKey(own, uv, steps) === uvKey(other, uvThere, steps)) agree++
  }
  return looked > 0 ? agree / looked : null
}

/** Whether every corner has the UV that it had: of shells that lie on each other places alone don’t tell which is which. */
export function allUvsAgree(master: Mesh, returned: Mesh, cornerToReturned: Int32Array): boolean {
  const [own] = master.uvSets
  const [other] = returned.uvSets
  if (!own || !other) return false
  const steps = stepsOf(own, other)
  for (let corner = 0; corner < cornerToReturned.length; corner++) {
    const there = cornerToReturned[corner]!
    const uv = own.indices[corner]!
    const uvThere = there < 0 ? -1 : other.indices[there]!
    if (uv < 0 || uvThere < 0) return false
    const key = uvKey(own, uv, steps)
    if (key === null || key !== uvKey(other, uvThere, steps)) return false
  }
  return true
}

export const hasUvs = (mesh: Mesh): boolean => mesh.uvSets.length > 0

/** Share of the UVs that have to be the master's for its layout to be untouched. */
const UNTOUCHED = 0.95

/**
 * Whether the layout is what it was while hardly any corner has the UV that it had: then it is other corners that have
 * them, and what was found is not certain, as of a symmetrical shape that was mirrored and lost polygons.
 */
export function contradictsLayout(master: Mesh, returned: Mesh, cornerToReturned: Int32Array): boolean {
  if (!contradictUvs(master, returned, cornerToReturned)) return false
  const own = master.uvSets[0]!
  const other = returned.uvSets[0]!
  const steps = stepsOf(own, other)
  const known = createNumberTable(own.values.length / 2)
  for (let uv = 0; uv < own.values.length / 2; uv++) {
    const key = uvKey(own, uv, steps)
    if (key !== null) known.set(key, 1)
  }
  const step = Math.max(1, Math.floor(other.indices.length / MOST_LOOKED_AT))
  let [looked, found] = [0, 0]
  for (let corner = 0; corner < other.indices.length; corner += step) {
    const uv = other.indices[corner]!
    const key = uv < 0 ? null : uvKey(other, uv, steps)
    if (key === null) continue
    looked++
    if (known.has(key)) found++
  }
  return looked > 0 && found >= looked * UNTOUCHED
}
