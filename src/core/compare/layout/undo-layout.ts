/** Layouts of UVs brought back to where they lay, and to where they came to lie. */
import { createNumberTable } from '../../base/math/number-table.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { uvKey } from '../match/evidence/uv-keys.ts'
import type { LayoutWays } from './find-layout.ts'
import { alongWay, invertWay, type LayoutWay } from './layout-way.ts'

/** Steps to the tile's side by which the master's UVs are looked for, and how near one is that is the same. */
const [STEPS, SAME] = [1e5, 5e-7]

const mapSets = (
  mesh: Mesh,
  ways: LayoutWays,
  map: (set: UvSet, way: LayoutWay, at: number) => UvSet,
): Mesh =>
  mesh.uvSets.some((_set, at) => ways[at])
    ? { ...mesh, uvSets: mesh.uvSets.map((set, at) => (ways[at] ? map(set, ways[at], at) : set)) }
    : mesh

/**
 * A mesh made of laid ones with its layouts as they came.
 * @param came the values that came, by those that were laid; of others it is told by the names of meshes that were left as they lie.
 */
export const layAlong = (
  mesh: Mesh,
  ways: LayoutWays,
  came: ReadonlyMap<Float64Array, Float64Array>,
  left: ReadonlySet<string>,
): Mesh =>
  mapSets(mesh, ways, (set, way, at) => {
    const known = came.get(set.values)
    if (!known && left.has(leftKey(mesh, at))) return set
    return { ...set, values: known ?? alongWay(set.values, way) }
  })

const leftKey = ({ name }: Mesh, set: number): string => `${set} ${name}`

/** Names of the meshes, by set, whose layout lies in `laid` as it came though others' were brought back. */
export const leftOf = (came: Scene, laid: Scene, ways: LayoutWays): Set<string> =>
  new Set(
    came.meshes.flatMap((mesh, at) =>
      mesh.uvSets.flatMap((set, index) =>
        ways[index] && laid.meshes[at]!.uvSets[index] === set ? [leftKey(mesh, index)] : [],
      ),
    ),
  )

/**
 * The scene with its layouts where the master has them. A UV that is the master's but for what rounding on the way there and
 * back leaves becomes the master's own. A mesh with more UVs of the master's as it lies than along the way is left: it was not
 * turned with the others.
 */
export function undoLayout(master: Scene, returned: Scene, ways: LayoutWays): Scene {
  const nearest = ways.map((way, at) => {
    const points = createNumberTable()
    const values: number[] = []
    if (way)
      for (const { uvSets } of master.meshes) {
        const set = uvSets[at]
        for (let uv = 0; set && uv < set.values.length / 2; uv++) {
          const key = uvKey(set, uv, STEPS)
          if (key !== null && !points.has(key))
            points.set(key, values.push(set.values[2 * uv]!, set.values[2 * uv + 1]!) - 2)
        }
      }
    return { points, values }
  })
  return {
    ...returned,
    meshes: returned.meshes.map((mesh) =>
      mapSets(mesh, ways, (set, way, at) => {
        const laid = alongWay(set.values, invertWay(way))
        const { points, values } = nearest[at]!
        // what was rounded at a larger size lies no farther off than this at its own
        const within = SAME * Math.max(1, 1 / way.factor)
        const brought = { ...set, values: laid }
        let [along, asItLies] = [0, 0]
        for (let uv = 0; uv < laid.length / 2; uv++) {
          if (nearOwn(set, uv, points, values, SAME) >= 0) asItLies++
          const own = nearOwn(brought, uv, points, values, within)
          if (own < 0) continue
          along++
          laid[2 * uv] = values[own]!
          laid[2 * uv + 1] = values[own + 1]!
        }
        return asItLies > along ? set : brought
      }),
    ),
  }
}

/** Where the master's own value of a UV lies among its values, -1 where it has none so near. */
function nearOwn(
  set: UvSet,
  uv: number,
  points: ReturnType<typeof createNumberTable>,
  values: readonly number[],
  within: number,
): number {
  const [u, v] = [set.values[2 * uv]!, set.values[2 * uv + 1]!]
  const probe = { ...set, values: Float64Array.of(u, v) }
  for (const du of [0, -0.5, 0.5])
    for (const dv of [0, -0.5, 0.5]) {
      probe.values[0] = u + du / STEPS
      probe.values[1] = v + dv / STEPS
      const key = uvKey(probe, 0, STEPS)
      const own = key === null ? undefined : points.get(key)
      if (
        own !== undefined &&
        Math.abs(values[own]! - u) <= within &&
        Math.abs(values[own + 1]! - v) <= within
      )
        return own
    }
  return -1
}
