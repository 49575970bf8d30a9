/**
 * Sparse symmetric positive definite systems, by LDLᵀ: row by row, each row's pattern by the tree of elimination
 * (Davis, "Algorithm 849: a concise sparse Cholesky factorization package", 2005).
 */
import { dissectionOrder, type Graph } from './dissection-order.ts'

/** A symmetric matrix: a value for each node, and for each entry of a graph's neighbours. */
export interface SparseMatrix {
  readonly graph: Graph
  /** nodeCount. */
  readonly diagonal: Float64Array
  /** One for each of `graph.neighbours`; an entry and its mirror have the same. */
  readonly entries: Float64Array
}

/** What only the graph decides; one serves all matrices over it. */
export interface SparsePattern {
  readonly graph: Graph
  readonly order: Uint32Array
  readonly places: Uint32Array
  readonly parents: Int32Array
  readonly starts: Uint32Array
}

export interface SparseFactor {
  /** Solves A x = b. @param values nodeCount: b, which becomes x. */
  readonly solve: (values: Float64Array) => void
  /** Numbers held. */
  readonly size: number
}

export function sparsePattern(graph: Graph): SparsePattern {
  const { nodeCount, offsets, neighbours } = graph
  const order = dissectionOrder(graph)
  const places = new Uint32Array(nodeCount)
  for (let at = 0; at < nodeCount; at++) places[order[at]!] = at
  const parents = new Int32Array(nodeCount).fill(-1)
  const flags = new Int32Array(nodeCount).fill(-1)
  const counts = new Uint32Array(nodeCount)
  for (let row = 0; row < nodeCount; row++) {
    flags[row] = row
    const node = order[row]!
    for (let at = offsets[node]!; at < offsets[node + 1]!; at++)
      for (
        let column = places[neighbours[at]!]!;
        column < row && flags[column] !== row;
        column = parents[column]!
      ) {
        if (parents[column] === -1) parents[column] = row
        counts[column]!++
        flags[column] = row
      }
  }
  const starts = new Uint32Array(nodeCount + 1)
  for (let at = 0; at < nodeCount; at++) starts[at + 1] = starts[at]! + counts[at]!
  return { graph, order, places, parents, starts }
}

/** @returns null where the matrix is not positive definite, or holds what is no finite number. */
export function factorize(matrix: SparseMatrix, pattern: SparsePattern): SparseFactor | null {
  const { order, places, parents, starts } = pattern
  const { offsets, neighbours, nodeCount } = matrix.graph
  const rows = new Uint32Array(starts[nodeCount]!)
  const values = new Float64Array(starts[nodeCount]!)
  const inverse = new Float64Array(nodeCount)
  const ends = starts.slice(0, nodeCount)
  const sums = new Float64Array(nodeCount)
  const path = new Uint32Array(nodeCount)
  const stack = new Uint32Array(nodeCount)
  const flags = new Int32Array(nodeCount).fill(-1)
  for (let row = 0; row < nodeCount; row++) {
    let top = nodeCount
    flags[row] = row
    const node = order[row]!
    for (let at = offsets[node]!; at < offsets[node + 1]!; at++) {
      const first = places[neighbours[at]!]!
      if (first > row) continue
      sums[first]! += matrix.entries[at]!
      let length = 0
      for (let column = first; flags[column] !== row; column = parents[column]!) {
        path[length++] = column
        flags[column] = row
      }
      while (length > 0) stack[--top] = path[--length]!
    }
    let pivot = matrix.diagonal[node]!
    for (; top < nodeCount; top++) {
      const column = stack[top]!
      const own = sums[column]!
      sums[column] = 0
      const end = ends[column]!
      for (let at = starts[column]!; at < end; at++) sums[rows[at]!]! -= values[at]! * own
      const share = own * inverse[column]!
      pivot -= share * own
      rows[end] = row
      values[end] = share
      ends[column] = end + 1
    }
    if (!(pivot > 0) || pivot === Infinity) return null
    inverse[row] = 1 / pivot
  }
  const held = new Float64Array(nodeCount)
  return {
    size: values.length + nodeCount,
    solve(given) {
      for (let at = 0; at < nodeCount; at++) held[at] = given[order[at]!]!
      for (let column = 0; column < nodeCount; column++) {
        const own = held[column]!
        if (own !== 0)
          for (let at = starts[column]!; at < starts[column + 1]!; at++) held[rows[at]!]! -= values[at]! * own
      }
      for (let column = nodeCount - 1; column >= 0; column--) {
        let own = held[column]! * inverse[column]!
        for (let at = starts[column]!; at < starts[column + 1]!; at++) own -= values[at]! * held[rows[at]!]!
        held[column] = own
      }
      for (let at = 0; at < nodeCount; at++) given[order[at]!] = held[at]!
    },
  }
}
