/** Seams between charts laid where they are shortest: the least cut through a band of faces about each (Dinic 1970). */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { liesFlat, type FlatMemo } from './join-charts.ts'

const RINGS = 6
/** By how much of what it costs a seam has to become cheaper to be moved. */
const CHEAPER = 1e-6
/** Faces of a band beyond which a seam stays. */
const MOST_FACES = 20000

/**
 * Changes `faceCharts`; charts that would no longer lie flat keep their borders.
 * @param isMeant between which charts. @param rings faces on each side of a seam among which it may move.
 */
export function straightenSeams(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  costs: Float64Array,
  isBarrier: Uint8Array,
  distortion: number,
  kept: FlatMemo,
  isMeant: (a: number, b: number) => boolean = () => true,
  rings = RINGS,
): void {
  const { edgeCount, cornerEdges } = facts.edges()
  const { faceOffsets } = facts.mesh
  const borders = new Map<string, number[]>()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (pairs[2 * edge]! < 0 || isBarrier[edge]) continue
    const [a, b] = [faceCharts[pairs[2 * edge]!]!, faceCharts[pairs[2 * edge + 1]!]!]
    if (a < 0 || b < 0 || a === b || !isMeant(a, b)) continue
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const known = borders.get(key)
    if (known) known.push(edge)
    else borders.set(key, [edge])
  }
  const before = faceCharts.slice()
  const changed = new Set<number>()
  const distances = new Int32Array(facts.faceCount).fill(-1)
  const numbers = new Int32Array(facts.faceCount).fill(-1)
  for (const [key, edges] of borders) {
    const [a, b] = key.split(' ').map(Number) as [number, number]
    // the band, ring by ring
    const band: number[] = []
    const take = (face: number, distance: number): void => {
      if (distances[face]! >= 0 || (faceCharts[face] !== a && faceCharts[face] !== b)) return
      distances[face] = distance
      band.push(face)
    }
    for (const edge of edges) {
      take(pairs[2 * edge]!, 0)
      take(pairs[2 * edge + 1]!, 0)
    }
    const neighbours = (face: number, visit: (other: number, edge: number) => void): void => {
      for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
        const edge = cornerEdges[corner]!
        if (pairs[2 * edge]! < 0 || isBarrier[edge]) continue
        visit(pairs[2 * edge] === face ? pairs[2 * edge + 1]! : pairs[2 * edge]!, edge)
      }
    }
    for (let head = 0; head < band.length && band.length < MOST_FACES; head++) {
      const face = band[head]!
      if (distances[face]! < rings) neighbours(face, (other) => take(other, distances[face]! + 1))
    }
    // the outermost ring of either side stays
    let [farA, farB] = [0, 0]
    for (const face of band)
      if (faceCharts[face] === a) farA = Math.max(farA, distances[face]!)
      else farB = Math.max(farB, distances[face]!)
    if (band.length < MOST_FACES && farA > 0 && farB > 0) {
      band.forEach((face, at) => (numbers[face] = at))
      const net = createFlow(band.length + 2)
      const [source, sink] = [band.length, band.length + 1]
      for (const face of band) {
        neighbours(face, (other, edge) => {
          if (other > face && numbers[other]! >= 0) net.join(numbers[face]!, numbers[other]!, costs[edge]!)
        })
        if (faceCharts[face] === a && distances[face] === farA) net.join(source, numbers[face]!, Infinity)
        if (faceCharts[face] === b && distances[face] === farB) net.join(numbers[face]!, sink, Infinity)
      }
      const isA = net.cut(source, sink)
      let cost = 0
      band.forEach((face, at) =>
        neighbours(face, (other, edge) => {
          if (other > face && numbers[other]! >= 0 && isA[at] !== isA[numbers[other]!]) cost += costs[edge]!
        }),
      )
      // of two that cost the same the one that is there
      if (cost < (1 - CHEAPER) * edges.reduce((sum, edge) => sum + costs[edge]!, 0))
        band.forEach((face, at) => {
          const own = isA[at] ? a : b
          if (own === faceCharts[face]) return
          faceCharts[face] = own
          changed.add(a).add(b)
        })
    }
    for (const face of band) distances[face] = numbers[face] = -1
  }
  // where a chart doesn't lie flat so, it and what lies at it stay as they were
  for (let round = 0; changed.size > 0; round++) {
    const faces = new Map<number, number[]>([...changed].map((chart) => [chart, []]))
    faceCharts.forEach((chart, face) => faces.get(chart)?.push(face))
    const bent = new Set<number>()
    for (const [chart, own] of faces)
      if (own.length === 0 || !liesFlat(facts, own, isBarrier, distortion, 0, kept)) bent.add(chart)
    changed.clear()
    if (bent.size === 0) return
    for (let face = 0; face < faceCharts.length; face++) {
      const [was, is] = [before[face]!, faceCharts[face]!]
      if (was === is || (round < 2 && !bent.has(was) && !bent.has(is))) continue
      faceCharts[face] = was
      changed.add(was).add(is)
    }
    if (round >= 2) return
  }
}

interface Flow {
  /** Both ways alike. */
  readonly join: (a: number, b: number, capacity: number) => void
  /** @returns flags of the nodes on the source's side of the least cut. */
  readonly cut: (source: number, sink: number) => Uint8Array
}

function createFlow(count: number): Flow {
  const heads = new Int32Array(count).fill(-1)
  const nexts: number[] = []
  const tos: number[] = []
  const left: number[] = []
  return {
    join(a, b, capacity) {
      for (const [from, to] of [
        [a, b],
        [b, a],
      ] as const) {
        tos.push(to)
        left.push(capacity)
        nexts.push(heads[from]!)
        heads[from] = tos.length - 1
      }
    },
    cut(source, sink) {
      const levels = new Int32Array(count)
      const at = new Int32Array(count)
      const least = 1e-12
      const reach = (): boolean => {
        levels.fill(-1)
        levels[source] = 0
        const queue = [source]
        for (let head = 0; head < queue.length; head++)
          for (let arc = heads[queue[head]!]!; arc >= 0; arc = nexts[arc]!)
            if (left[arc]! > least && levels[tos[arc]!]! < 0) {
              levels[tos[arc]!] = levels[queue[head]!]! + 1
              queue.push(tos[arc]!)
            }
        return levels[sink]! >= 0
      }
      while (reach()) {
        at.set(heads)
        // one way after another from the source, without calling itself
        const path: number[] = []
        let node = source
        for (;;) {
          if (node === sink) {
            let most = Infinity
            for (const arc of path) most = Math.min(most, left[arc]!)
            // all of it without a bound: the two can't be parted
            if (most === Infinity) return new Uint8Array(count)
            let first = -1
            path.forEach((arc, step) => {
              left[arc]! -= most
              left[arc ^ 1]! += most
              if (first < 0 && left[arc]! <= least) first = step
            })
            path.length = Math.max(0, first)
            node = path.length ? tos[path[path.length - 1]!]! : source
            continue
          }
          let arc = at[node]!
          while (arc >= 0 && !(left[arc]! > least && levels[tos[arc]!] === levels[node]! + 1))
            arc = nexts[arc]!
          at[node] = arc
          if (arc >= 0) {
            path.push(arc)
            node = tos[arc]!
            continue
          }
          if (node === source) break
          levels[node] = -1
          const back = path.pop()!
          node = tos[back ^ 1]!
        }
      }
      return Uint8Array.from(levels, (level) => (level >= 0 ? 1 : 0))
    },
  }
}
