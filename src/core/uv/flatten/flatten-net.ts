/** A net laid flat: a conformal start where it turns nothing over, else a convex one, and a relaxation. */
import { flatBoundsOf } from '../../base/math/box.ts'
import { sparsePattern } from '../../base/math/sparse-factor.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { DISTORTIONS, type FlattenMethod } from './distortion.ts'
import { islandNet, type IslandNet } from './island-net.ts'
import { stretchOf, type FlatStretch } from './measure-flat.ts'
import { leastTriangles, longestStep, relaxNet, SHORT_OF_FLAT } from './relax.ts'
import { createMetric, type Metric } from './metric.ts'
import { conformalStart, convexStart } from './start-flat.ts'
import { netGraph, triangleShapes } from './triangle-shapes.ts'

/** A net that lies flat, and can lie better. No triangle is ever turned over. */
export interface FlatNet {
  readonly net: IslandNet
  /** 2 x vertexCount, in the model's unit. */
  readonly flat: () => Float64Array
  /** @param pinned vertexCount flags; these stay where they are. @returns how many rounds it took. */
  readonly relax: (method: FlattenMethod, rounds: number, pinned?: Uint8Array | null) => number
  /** Moves vertices, as far along as no triangle vanishes. @param step 2 x vertexCount. @returns the share of it, 0 to 1. */
  readonly draw: (step: Float64Array) => number
  /** @param limit see `FlatStretch`. */
  readonly stretch: (limit?: number) => FlatStretch
}

/** A disc, with or without holes; in one piece and without a handle. */
const isDisc = ({ euler, loops }: IslandNet): boolean => euler === 2 - loops.length

/**
 * @param isSeam edgeCount flags by which the faces are a disc, with or without holes.
 * @param onlyDiscs what is none isn't tried. @param bothWays false: quads are two triangles each, see `islandNet`.
 * @returns null where no way was found that turns nothing over.
 */
export function flattenFaces(
  facts: MeshFacts,
  faces: ArrayLike<number>,
  isSeam: Uint8Array,
  { onlyDiscs = false, bothWays = true } = {},
): FlatNet | null {
  for (const ways of bothWays ? [true, false] : [false]) {
    const net = islandNet(facts, faces, isSeam, ways)
    if (net.loops.length === 0 || net.triangles.length === 0) return null
    if (onlyDiscs && !isDisc(net)) return null
    const flat = layNet(facts, net)
    if (flat) return flat
  }
  return null
}

/** @param given 2 x vertexCount where it lies already; absent: it is laid. @returns null where a triangle is turned over. */
export function layNet(facts: MeshFacts, net: IslandNet, given?: Float64Array): FlatNet | null {
  const points = facts.points()
  const graph = netGraph(net, points)
  const pattern = sparsePattern(graph)
  const shapes = triangleShapes(net, points)
  const start = given
    ? upright(net, given, 0)
    : (upright(
        net,
        net.loops.length === 1 ? conformalStart(net, graph, pattern, shapes, points) : null,
        SLIM,
      ) ?? upright(net, convexStart(net, graph, shapes), 0))
  if (!start) return null
  let flat = start
  let metrics: Partial<Record<FlattenMethod, Metric>> = {}
  let held: Uint8Array | null = null
  return {
    net,
    flat: () => flat,
    relax(method, rounds, pinned) {
      if (held !== (pinned ?? null)) {
        metrics = {}
        held = pinned ?? null
      }
      const metric = (metrics[method] ??= createMetric(
        net,
        graph,
        pattern,
        shapes,
        DISTORTIONS[method],
        held,
      ))
      const relaxed = relaxNet(net, shapes, flat, DISTORTIONS[method], metric, { rounds, pinned: held })
      flat = relaxed.flat
      return relaxed.rounds
    },
    draw(step) {
      const share = Math.min(1, SHORT_OF_FLAT * longestStep(net, flat, step))
      const next = flat.map((value, at) => value + share * step[at]!)
      if (!(leastTriangles(net, next).slimmest > 0)) return 0
      flat = next
      return share
    },
    stretch: (limit) => stretchOf(net, shapes, flat, limit),
  }
}

/** Slimmer triangles may turn over where they are scaled, turned and rounded. */
const SLIM = 1e-9

/** Triangles lower than this share of the whole vanish where it is turned, laid elsewhere and rounded. */
const LOW = 1e-10

/** Whether every triangle lies the right way up, and would after it is turned, moved and rounded. */
export function isSound(net: IslandNet, flat: Float64Array): boolean {
  const { slimmest, lowest } = leastTriangles(net, flat)
  const [u0, v0, u1, v1] = flatBoundsOf([flat])
  return slimmest > SLIM && lowest > LOW * Math.max(u1 - u0, v1 - v0)
}

const upright = (net: IslandNet, flat: Float64Array | null, least: number): Float64Array | null =>
  flat && leastTriangles(net, flat).slimmest > least ? flat : null
