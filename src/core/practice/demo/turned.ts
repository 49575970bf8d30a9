/** Parts turned on a lathe, for the demo's props. */
import type { Mesh } from '../../scene/mesh.ts'
import { addLoft, type Ring } from './loft.ts'
import { createPartBuilder, type UvRect } from './part-builder.ts'

/** Rings of a turned body from a profile of radius and height, with loops held close at the given corners. */
function turned(profile: readonly (readonly [number, number])[]): Ring[] {
  return profile.map(([radius, height]) => ({
    center: [0, height, 0],
    along: [0, 1, 0],
    side: radius,
    up: radius,
  }))
}

export function buildTurned(
  name: string,
  profile: readonly (readonly [number, number])[],
  options: {
    material: number
    uv?: UvRect
    creased: readonly number[]
    group: string
    open?: boolean
    around?: number
  },
): Mesh {
  const builder = createPartBuilder()
  addLoft(builder, {
    rings: turned(profile),
    around: options.around ?? 40,
    uv: options.uv,
    material: options.material,
    smoothing: 1,
    capSmoothing: 2,
    startCap: options.open ? null : 0,
    endCap: options.open ? null : 0,
    groups: () => [options.group],
    rowCrease: (row) => (options.creased.includes(row) ? 3 : 0),
  })
  return builder.build(name)
}
