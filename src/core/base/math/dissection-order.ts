/**
 * An order of elimination that leaves a sparse matrix sparse: nested dissection (George 1973) with the middle level of a
 * breadth-first walk as what parts a graph in two. Graphs of surfaces have such narrow levels.
 */

/** Who is whose neighbour; no one is its own. */
export interface Graph {
  readonly nodeCount: number
  /** nodeCount + 1. */
  readonly offsets: Uint32Array
  readonly neighbours: Uint32Array
}

/** Parts of no more are not parted further. */
const LEAF = 24
/** Share of the nodes that lie before the level that parts them, at least and at most. */
const [FROM, TO] = [0.38, 0.62]

/** @returns nodeCount; which node is eliminated first, second, ... */
export function dissectionOrder({ nodeCount, offsets, neighbours }: Graph): Uint32Array {
  const order = new Uint32Array(nodeCount)
  /** What is still to be parted: nodes by their span in `held`, and where their numbers begin. */
  const held = Uint32Array.from({ length: nodeCount }, (_, node) => node)
  const owner = new Int32Array(nodeCount)
  const seen = new Int32Array(nodeCount)
  const queue = new Uint32Array(nodeCount)
  const levelStarts: number[] = []
  let walk = 0
  let owners = 0

  /** Walks from a node through its own part; the queue holds what was met, level by level. */
  function levelsFrom(start: number, own: number): number {
    walk++
    levelStarts.length = 0
    queue[0] = start
    seen[start] = walk
    let [from, to] = [0, 1]
    while (from < to) {
      levelStarts.push(from)
      const end = to
      for (; from < end; from++) {
        const node = queue[from]!
        for (let at = offsets[node]!; at < offsets[node + 1]!; at++) {
          const other = neighbours[at]!
          if (seen[other] === walk || owner[other] !== own) continue
          seen[other] = walk
          queue[to++] = other
        }
      }
    }
    levelStarts.push(to)
    return to
  }

  const open: [from: number, to: number, number: number][] = [[0, nodeCount, 0]]
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to, first] = span
    const size = to - from
    if (size === 0) continue
    const own = ++owners
    for (let at = from; at < to; at++) owner[held[at]!] = own
    // the walk begins at a far end
    let met = levelsFrom(held[from]!, own)
    if (met === size && size > LEAF) met = levelsFrom(queue[met - 1]!, own)
    if (met < size) {
      // not connected: what was met is one part, the rest another
      const rest: number[] = []
      for (let at = from; at < to; at++) if (seen[held[at]!] !== walk) rest.push(held[at]!)
      held.set(queue.subarray(0, met), from)
      held.set(rest, from + met)
      open.push([from, from + met, first], [from + met, to, first + met])
      continue
    }
    const levels = levelStarts.length - 1
    if (size <= LEAF || levels < 3) {
      // from the far end inwards
      for (let at = 0; at < size; at++) order[first + at] = queue[size - 1 - at]!
      continue
    }
    let best = -1
    for (let level = 1; level + 1 < levels; level++) {
      const share = levelStarts[level]! / size
      const wide = (at: number): number => levelStarts[at + 1]! - levelStarts[at]!
      if (
        best < 0 ||
        (share >= FROM && share <= TO && wide(level) < wide(best)) ||
        levelStarts[best]! / size < FROM
      )
        best = level
      if (share > TO) break
    }
    const [start, end] = [levelStarts[best]!, levelStarts[best + 1]!]
    held.set(queue.subarray(0, start), from)
    held.set(queue.subarray(end, size), from + start)
    for (let at = start; at < end; at++) order[first + size - (end - start) + at - start] = queue[at]!
    const before = from + start
    open.push([from, before, first], [before, from + size - (end - start), first + start])
  }
  return order
}
