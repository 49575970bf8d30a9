/** Boxes laid in rows, for more islands than outlines can be compared of. */
import type { Placement } from './placement.ts'

const MOST_ROUNDS = 40

/**
 * @param boxes width and height of each, turned. @param lows where each begins, turned. @param angles their turns.
 * @param padding between two, as a share of a tile's side; where so many boxes have no room for it, less.
 * @param scale null: as large as all fit into one tile.
 */
export function packBoxes(
  boxes: readonly (readonly [number, number])[],
  lows: readonly (readonly [number, number])[],
  angles: readonly number[],
  padding: number,
  scale: number | null,
): { placements: Placement[]; scale: number; tileCount: number; padding: number } {
  const order = Array.from(boxes, (_, at) => at).sort((a, b) => boxes[b]![1] - boxes[a]![1] || a - b)
  // half of a tile at least is for the islands
  const room = Math.min(padding, 0.3 / Math.sqrt(Math.max(1, boxes.length)))
  const lay = (own: number, mostTiles: number): Placement[] | null => {
    const placements: Placement[] = new Array<Placement>(boxes.length)
    let [tile, u, v, high] = [0, room / 2, room / 2, 0]
    for (const at of order) {
      const [wide, tall] = [boxes[at]![0] * own, boxes[at]![1] * own]
      if (u + wide + room / 2 > 1) {
        u = room / 2
        v += high + room
        high = 0
      }
      if (v + tall + room / 2 > 1) {
        if (++tile >= mostTiles) return null
        ;[u, v, high] = [room / 2, room / 2, 0]
      }
      placements[at] = {
        tile,
        angle: angles[at]!,
        shiftU: u - lows[at]![0] * own,
        shiftV: v - lows[at]![1] * own,
      }
      u += wide + room
      high = Math.max(high, tall)
    }
    return placements
  }
  if (scale !== null) {
    const placements = lay(scale, Infinity)!
    return {
      placements,
      scale,
      padding: room,
      tileCount: 1 + placements.reduce((most, { tile }) => Math.max(most, tile), 0),
    }
  }
  const longest = boxes.reduce((most, [wide, tall]) => Math.max(most, wide, tall), 1e-300)
  let [low, high] = [0, (1 - room) / longest]
  let best: Placement[] | null = null
  for (let round = 0; round < MOST_ROUNDS && (round < 12 || !best); round++) {
    const own = round === 0 ? high : (low + high) / 2
    const placements = lay(own, 1)
    if (placements) {
      best = placements
      low = own
      if (round === 0) break
    } else high = own
  }
  return {
    placements: best ?? boxes.map((_, at) => ({ tile: 0, angle: angles[at]!, shiftU: 0, shiftV: 0 })),
    scale: low,
    padding: room,
    tileCount: 1,
  }
}
