/** A net laid flat: a conformal start where it turns nothing over, else a convex one, and a relaxation. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { DISTORTIONS, type FlattenMethod } from './distortion.ts'
import { islandNet, type IslandNet } from './island-net.ts'
import { leastArea, relaxNet } from './relax.ts'
import { conformalStart, convexStart } from './start-flat.ts'
import { netGraph, triangleShapes } from './triangle-shapes.ts'

export interface FlatNet {
  readonly net: IslandNet
  /** 2 x vertexCount, in the model's unit. */
  readonly flat: Float64Array
  /** Mean energy by area, see DISTORTIONS. */
  readonly energy: number
}

export interface FlattenOptions {
  readonly method: FlattenMethod
  readonly rounds: number
}

/**
 * @param isSeam edgeCount flags by which the faces are a disc, with or without holes.
 * @returns null where no way was found that turns nothing over.
 */
export function flattenFaces(
  facts: MeshFacts,
  faces: ArrayLike<number>,
  isSeam: Uint8Array,
  { method, rounds }: FlattenOptions,
): FlatNet | null {
  const points = facts.points()
  for (const bothWays of [true, false]) {
    const net = islandNet(facts, faces, isSeam, bothWays)
    if (net.loops.length === 0 || net.triangles.length === 0) return null
    const graph = netGraph(net)
    const shapes = triangleShapes(net, points)
    const start =
      upright(net, net.loops.length === 1 ? conformalStart(net, graph, shapes, points) : null) ??
      upright(net, convexStart(net, graph, shapes))
    if (!start) continue
    const { flat, energy } = relaxNet(net, graph, shapes, start, DISTORTIONS[method], { rounds })
    return { net, flat, energy }
  }
  return null
}

const upright = (net: IslandNet, flat: Float64Array | null): Float64Array | null =>
  flat && leastArea(net, flat) > 0 ? flat : null
