/** An island made better where it lies. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { bordersCross } from '../flatten/borders-cross.ts'
import type { FlattenMethod } from '../flatten/distortion.ts'
import { flattenFaces, isSound, layNet, type FlatNet } from '../flatten/flatten-net.ts'
import { islandNet, type IslandNet } from '../flatten/island-net.ts'
import { signedArea } from '../pack/outline.ts'
import { applySimilarity, fitFlat } from './fit-flat.ts'
import { outlineOf, type LaidIsland } from './laid-island.ts'

export interface RelaxIsland {
  readonly method: FlattenMethod
  readonly rounds: number
  /** Corners on the border stay where they are. */
  readonly keepBorder: boolean
  /** net.vertexCount flags of corners that stay besides. */
  readonly pinned?: Uint8Array | null
}

export interface RelaxedIsland {
  readonly island: LaidIsland
  /** It was folded or had no area in places, and was laid flat anew. */
  readonly isAnew: boolean
}

/**
 * It keeps its place, its direction and its side; its size too where corners are held, else its texel density.
 *
 * @param isSeam edgeCount flags by which the island ends. @returns null where it can't be laid without folds.
 */
export function relaxIsland(
  facts: MeshFacts,
  { net: own, flat }: LaidIsland,
  isSeam: Uint8Array,
  { method, rounds, keepBorder, pinned = null }: RelaxIsland,
): RelaxedIsland | null {
  const net = asItLies(facts, own, isSeam, flat)
  const isMirrored = signedArea(outlineOf({ net, flat })) < 0
  const side = isMirrored ? flat.map((value, at) => (at % 2 ? -value : value)) : flat
  const back = (own: Float64Array): Float64Array =>
    isMirrored ? own.map((value, at) => (at % 2 ? -value : value)) : own
  let surface = 0
  for (let at = 0; at < net.faces.length; at++) surface += facts.faceAreas()[net.faces[at]!]!
  const laid = Math.abs(signedArea(outlineOf({ net, flat })))
  if (!(surface > 0)) return null
  // the energies ask for the model's own size
  const scale = laid > 0 ? Math.sqrt(surface / laid) : 0
  const held = heldVertices(net, keepBorder, pinned)
  const isSoundNow = scale > 0 && isSound(net, side)
  const start: FlatNet | null = isSoundNow
    ? layNet(
        facts,
        net,
        side.map((value) => value * scale),
      )
    : held
      ? null
      : flattenFaces(facts, net.faces, isSeam)
  if (!start || start.net.vertexCount !== net.vertexCount) return null
  const before = start.flat()
  start.relax(method, rounds, held)
  let better = start.flat()
  if (!isSound(start.net, better) || (bordersCross(start.net, better) && !bordersCross(start.net, before))) {
    if (!isSoundNow) return null
    better = before
  }
  if (held)
    return { island: { net: start.net, flat: back(better.map((value) => value / scale)) }, isAnew: false }
  // as it lay before: the same way round, about the same place, as large as its surface was there
  const sized = scale > 0 ? better.map((value) => value / scale) : better
  const placed = applySimilarity(sized, fitFlat(sized, side, true))
  return { island: { net: start.net, flat: back(placed) }, isAnew: !isSoundNow }
}

/** A quad that lies hollow can't be cut both ways; where that is all that is wrong it is cut one way. */
function asItLies(facts: MeshFacts, net: IslandNet, isSeam: Uint8Array, flat: Float64Array): IslandNet {
  const turned = flat.map((value, at) => (at % 2 ? -value : value))
  if (isSound(net, flat) || isSound(net, turned)) return net
  const oneWay = islandNet(facts, net.faces, isSeam, false)
  return oneWay.vertexCount === net.vertexCount && (isSound(oneWay, flat) || isSound(oneWay, turned))
    ? oneWay
    : net
}

function heldVertices(net: IslandNet, keepBorder: boolean, pinned: Uint8Array | null): Uint8Array | null {
  if (!keepBorder && !pinned) return null
  const held = pinned?.slice() ?? new Uint8Array(net.vertexCount)
  if (keepBorder) for (const loop of net.loops) for (const vertex of loop) held[vertex] = 1
  return held
}
