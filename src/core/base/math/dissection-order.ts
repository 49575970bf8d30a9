/**
 * An order of elimination that leaves a sparse matrix sparse: nested dissection (George 1973). Nodes that lie in space and
 * hang together with what is near are parted by planes, which are short lines on a surface.
 */

/** Who is whose neighbour; no one is its own. */
export interface Graph {
  readonly nodeCount: number
  /** nodeCount + 1. */
  readonly offsets: Uint32Array
  readonly neighbours: Uint32Array
  /** 3 x nodeCount, finite: where the nodes are; only how fast it goes depends on it. */
  readonly places: Float64Array
}

/** Parts of no more are not parted further. */
const LEAF = 12
/** Slices across the longest side among which the middle is sought. */
const SLICES = 256

/** @returns nodeCount; which node is eliminated first, second, ... */
export function dissectionOrder({ nodeCount, offsets, neighbours, places }: Graph): Uint32Array {
  const order = new Uint32Array(nodeCount)
  const held = Uint32Array.from({ length: nodeCount }, (_, node) => node)
  const other = new Uint32Array(nodeCount)
  const owner = new Int32Array(nodeCount)
  const isFar = new Uint8Array(nodeCount)
  const counts = new Uint32Array(SLICES)
  let owners = 0
  const open: [from: number, to: number, first: number][] = [[0, nodeCount, 0]]
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to, first] = span
    const size = to - from
    const side = size > LEAF ? longestSide(places, held, from, to) : null
    if (!side) {
      for (let at = 0; at < size; at++) order[first + at] = held[from + at]!
      continue
    }
    const { axis, low, high } = side
    const own = ++owners
    const slice = (node: number): number =>
      Math.min(SLICES - 1, Math.floor(((places[3 * node + axis]! - low) / (high - low)) * SLICES))
    counts.fill(0)
    for (let at = from; at < to; at++) {
      owner[held[at]!] = own
      counts[slice(held[at]!)]!++
    }
    let before = 0
    let middle = 0
    while (2 * (before + counts[middle]!) < size && middle < SLICES - 2) before += counts[middle++]!
    for (let at = from; at < to; at++) isFar[held[at]!] = slice(held[at]!) > middle ? 1 : 0
    // what touches the farther side parts the two
    let [near, far, between] = [from, to, 0]
    for (let at = from; at < to; at++) {
      const node = held[at]!
      if (isFar[node]) {
        other[--far] = node
        continue
      }
      let touches = false
      for (let k = offsets[node]!; k < offsets[node + 1]! && !touches; k++)
        touches = owner[neighbours[k]!] === own && isFar[neighbours[k]!] === 1
      if (touches) order[first + size - ++between] = node
      else other[near++] = node
    }
    held.set(other.subarray(from, near), from)
    held.set(other.subarray(far, to), far)
    open.push([from, near, first], [far, to, first + near - from])
  }
  return order
}

function longestSide(
  places: Float64Array,
  held: Uint32Array,
  from: number,
  to: number,
): { axis: number; low: number; high: number } | null {
  let best: { axis: number; low: number; high: number } | null = null
  for (let axis = 0; axis < 3; axis++) {
    let [low, high] = [Infinity, -Infinity]
    for (let at = from; at < to; at++) {
      const value = places[3 * held[at]! + axis]!
      if (value < low) low = value
      if (value > high) high = value
    }
    if (high - low > (best ? best.high - best.low : 0) && high - low < Infinity) best = { axis, low, high }
  }
  return best
}
