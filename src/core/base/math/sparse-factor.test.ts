import fc from 'fast-check'
import { expect, test } from 'vitest'
import { chanceOf } from './chance.ts'
import type { Graph } from './dissection-order.ts'
import { dissectionOrder } from './dissection-order.ts'
import { factorize, sparsePattern } from './sparse-factor.ts'
import { howMany } from '../../../../tests/how-many.ts'

function graphOf(count: number, pairs: Iterable<readonly [number, number]>, places: Float64Array): Graph {
  const lists = Array.from({ length: count }, () => new Set<number>())
  for (const [a, b] of pairs)
    if (a !== b) {
      lists[a]!.add(b)
      lists[b]!.add(a)
    }
  const offsets = new Uint32Array(count + 1)
  lists.forEach((list, at) => (offsets[at + 1] = offsets[at]! + list.size))
  return {
    nodeCount: count,
    offsets,
    neighbours: Uint32Array.from(lists.flatMap((list) => [...list])),
    places,
  }
}

/** Weights by both ends, so that an entry and its mirror are the same. */
const entriesOf = (graph: Graph, weight: (a: number, b: number) => number): Float64Array => {
  const entries = new Float64Array(graph.neighbours.length)
  for (let node = 0; node < graph.nodeCount; node++)
    for (let at = graph.offsets[node]!; at < graph.offsets[node + 1]!; at++) {
      const other = graph.neighbours[at]!
      entries[at] = weight(Math.min(node, other), Math.max(node, other))
    }
  return entries
}

const times = (graph: Graph, diagonal: Float64Array, entries: Float64Array, x: Float64Array): Float64Array =>
  Float64Array.from(x, (value, node) => {
    let sum = diagonal[node]! * value
    for (let at = graph.offsets[node]!; at < graph.offsets[node + 1]!; at++)
      sum += entries[at]! * x[graph.neighbours[at]!]!
    return sum
  })

test('solves any positive definite system over any graph, in pieces or not', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 90 }),
      fc.integer(),
      fc.double({ min: 0, max: 4, noNaN: true }),
      (count, seed, degree) => {
        const chance = chanceOf(seed)
        const pairs = Array.from(
          { length: Math.floor((count * degree) / 2) },
          () => [Math.floor(chance() * count), Math.floor(chance() * count)] as const,
        )
        // several at one place, all in a plane, and all over the room
        const places = Float64Array.from({ length: 3 * count }, (_, at) =>
          seed % 3 === 0 ? 0 : seed % 3 === 1 && at % 3 === 2 ? 0 : Math.floor(chance() * 8),
        )
        const graph = graphOf(count, pairs, places)
        expect([...dissectionOrder(graph)].sort((a, b) => a - b)).toEqual(
          Array.from({ length: count }, (_, at) => at),
        )
        const entries = entriesOf(graph, (a, b) => Math.sin(a * 7 + b * 13 + seed))
        const diagonal = Float64Array.from({ length: count }, (_, node) => {
          let sum = 0.1 + chance()
          for (let at = graph.offsets[node]!; at < graph.offsets[node + 1]!; at++)
            sum += Math.abs(entries[at]!)
          return sum
        })
        const factor = factorize({ graph, diagonal, entries }, sparsePattern(graph))!
        const x = Float64Array.from({ length: count }, () => chance() * 2 - 1)
        const y = Float64Array.from({ length: count }, () => chance() * 2 - 1)
        const one = times(graph, diagonal, entries, x)
        const both = Float64Array.from({ length: 2 * count }, (_, at) =>
          at % 2 ? times(graph, diagonal, entries, y)[at >> 1]! : one[at >> 1]!,
        )
        factor.solve(one)
        factor.solve(both)
        for (let at = 0; at < count; at++) {
          expect(one[at]).toBeCloseTo(x[at]!, 9)
          expect(both[2 * at]).toBeCloseTo(x[at]!, 9)
          expect(both[2 * at + 1]).toBeCloseTo(y[at]!, 9)
        }
      },
    ),
    { numRuns: howMany(50, 1500) },
  )
})

test('what is not positive definite, or no number, has no factor', () => {
  const graph = graphOf(2, [[0, 1]], new Float64Array(6))
  const pattern = sparsePattern(graph)
  const of = (diagonal: number[], entry: number) =>
    factorize(
      { graph, diagonal: Float64Array.from(diagonal), entries: Float64Array.of(entry, entry) },
      pattern,
    )
  expect(of([1, 1], 2)).toBeNull()
  expect(of([NaN, 1], 0)).toBeNull()
  expect(of([Infinity, 1], 0)).toBeNull()
  expect(of([0, 1], 0)).toBeNull()
  expect(of([2, 2], 1)).not.toBeNull()
})
