/**
 * Sparse symmetric positive definite systems by LDLᵀ, front by front (Duff & Reid 1983): columns of like pattern are worked
 * on together as a small dense matrix, so that most of the work runs over numbers that lie side by side.
 */
import { dissectionOrder, type Graph } from './dissection-order.ts'
import { reduceFront } from './reduce-front.ts'

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
  /** nodeCount: which node is eliminated first, second, ... */
  readonly order: Uint32Array
  /** nodeCount: its inverse. */
  readonly places: Uint32Array
  /** front count + 1: the first column of each front. */
  readonly fronts: Uint32Array
  /** front count; the front that takes what is left of one, -1 for none. Fronts stand behind those that they take. */
  readonly parents: Int32Array
  /** front count + 1 offsets into `rows`. */
  readonly rowStarts: Uint32Array
  /** For each front the rows below its own columns, in rising order. */
  readonly rows: Uint32Array
}

export interface SparseFactor {
  /**
   * Solves A x = b.
   * @param values nodeCount numbers, or as many for each node as there are sides to solve for: b, which becomes x.
   */
  readonly solve: (values: Float64Array) => void
}

/** Columns of a front that are joined whatever zeros it brings, and the share of zeros that more of them may bring. */
const [FEW_COLUMNS, MOST_ZEROS] = [8, 0.25]

export function sparsePattern(graph: Graph): SparsePattern {
  const { nodeCount, offsets, neighbours } = graph
  const first = dissectionOrder(graph)
  const firstParents = eliminationTree(graph, first)
  // children before their parents, each with all that hangs on it
  const order = childrenFirst(firstParents).map((at) => first[at]!)
  const places = new Uint32Array(nodeCount)
  for (let at = 0; at < nodeCount; at++) places[order[at]!] = at
  const parents = eliminationTree(graph, order)
  // how many rows each column has below itself
  const counts = new Uint32Array(nodeCount)
  const flags = new Int32Array(nodeCount).fill(-1)
  for (let row = 0; row < nodeCount; row++) {
    flags[row] = row
    const node = order[row]!
    for (let at = offsets[node]!; at < offsets[node + 1]!; at++)
      for (
        let column = places[neighbours[at]!]!;
        column < row && flags[column] !== row;
        column = parents[column]!
      ) {
        counts[column]!++
        flags[column] = row
      }
  }
  // columns that differ by themselves only, then those that bring few zeros
  const starts: number[] = []
  const ends: number[] = []
  const belows: number[] = []
  /** Zeros that a front holds. */
  const held: number[] = []
  for (let column = 0; column < nodeCount; column++) {
    const last = ends.length - 1
    if (last >= 0 && parents[column - 1] === column && counts[column - 1] === counts[column]! + 1) {
      ends[last] = column + 1
      belows[last] = counts[column]!
    } else {
      starts.push(column)
      ends.push(column + 1)
      belows.push(counts[column]!)
      held.push(0)
    }
    // what was closed before may belong to it
    for (;;) {
      const own = ends.length - 1
      if (own < 1 || ends[own] !== column + 1) break
      // a front is whole when the next column doesn't go on with it
      const goesOn =
        column + 1 < nodeCount && parents[column] === column + 1 && counts[column] === counts[column + 1]! + 1
      if (goesOn || parents[ends[own - 1]! - 1]! < starts[own]! || parents[ends[own - 1]! - 1]! >= ends[own]!)
        break
      const [k, m] = [ends[own - 1]! - starts[own - 1]!, belows[own - 1]!]
      const [kk, mm] = [ends[own]! - starts[own]!, belows[own]!]
      const zeros = held[own - 1]! + held[own]! + k * (kk + mm - m)
      const all = ((k + kk) * (k + kk + 1)) / 2 + (k + kk) * mm
      if (k + kk > FEW_COLUMNS && zeros > MOST_ZEROS * all) break
      starts.pop()
      ends.pop()
      belows.pop()
      held.pop()
      held[own - 1] = zeros
      ends[own - 1] = column + 1
      belows[own - 1] = mm
    }
  }
  const frontCount = starts.length
  const frontOf = new Uint32Array(nodeCount)
  for (let front = 0; front < frontCount; front++) frontOf.fill(front, starts[front], ends[front])
  const rowStarts = new Uint32Array(frontCount + 1)
  const lists: Uint32Array[] = []
  const children: number[][] = Array.from({ length: frontCount }, () => [])
  const frontParents = new Int32Array(frontCount).fill(-1)
  flags.fill(-1)
  for (let front = 0; front < frontCount; front++) {
    const own: number[] = []
    const note = (row: number): void => {
      if (row < ends[front]! || flags[row] === front) return
      flags[row] = front
      own.push(row)
    }
    for (let column = starts[front]!; column < ends[front]!; column++) {
      const node = order[column]!
      for (let at = offsets[node]!; at < offsets[node + 1]!; at++) note(places[neighbours[at]!]!)
    }
    for (const child of children[front]!) for (const row of lists[child]!) note(row)
    const list = Uint32Array.from(own).sort()
    lists.push(list)
    rowStarts[front + 1] = rowStarts[front]! + list.length
    if (list.length) {
      frontParents[front] = frontOf[list[0]!]!
      children[frontParents[front]!]!.push(front)
    }
  }
  const rows = new Uint32Array(rowStarts[frontCount]!)
  lists.forEach((list, front) => rows.set(list, rowStarts[front]))
  return {
    order,
    places,
    fronts: Uint32Array.from([...starts, nodeCount]),
    parents: frontParents,
    rowStarts,
    rows,
  }
}

/** @returns nodeCount; the first row below each column of the factor, -1 for none. */
function eliminationTree({ nodeCount, offsets, neighbours }: Graph, order: Uint32Array): Int32Array {
  const places = new Uint32Array(nodeCount)
  for (let at = 0; at < nodeCount; at++) places[order[at]!] = at
  const parents = new Int32Array(nodeCount).fill(-1)
  const tops = new Int32Array(nodeCount).fill(-1)
  for (let row = 0; row < nodeCount; row++) {
    const node = order[row]!
    for (let at = offsets[node]!; at < offsets[node + 1]!; at++)
      for (let column = places[neighbours[at]!]!; column < row;) {
        const top = tops[column]!
        tops[column] = row
        if (top < 0) {
          if (parents[column]! < 0) parents[column] = row
          break
        }
        if (top === row) break
        column = top
      }
  }
  return parents
}

function childrenFirst(parents: Int32Array): Uint32Array {
  const count = parents.length
  const heads = new Int32Array(count).fill(-1)
  const nexts = new Int32Array(count).fill(-1)
  const roots: number[] = []
  for (let at = count - 1; at >= 0; at--) {
    const parent = parents[at]!
    if (parent < 0) roots.push(at)
    else {
      nexts[at] = heads[parent]!
      heads[parent] = at
    }
  }
  const order = new Uint32Array(count)
  let placed = 0
  const stack: number[] = []
  for (const root of roots.reverse()) {
    stack.push(root)
    while (stack.length > 0) {
      const at = stack[stack.length - 1]!
      const child = heads[at]!
      if (child < 0) {
        order[placed++] = at
        stack.pop()
      } else {
        heads[at] = nexts[child]!
        stack.push(child)
      }
    }
  }
  return order
}

/** @returns null where the matrix is not positive definite, or holds what is no finite number. */
export function factorize(matrix: SparseMatrix, pattern: SparsePattern): SparseFactor | null {
  const { order, places, fronts, parents, rowStarts, rows } = pattern
  const { offsets, neighbours, nodeCount } = matrix.graph
  const frontCount = fronts.length - 1
  const valueStarts = new Float64Array(frontCount + 1)
  let largest = 0
  for (let front = 0; front < frontCount; front++) {
    const columns = fronts[front + 1]! - fronts[front]!
    const size = columns + rowStarts[front + 1]! - rowStarts[front]!
    valueStarts[front + 1] = valueStarts[front]! + columns * size
    largest = Math.max(largest, size)
  }
  const values = new Float64Array(valueStarts[frontCount]!)
  const pivots = new Float64Array(nodeCount)
  const work = new Float64Array(largest * largest)
  const positions = new Uint32Array(nodeCount)
  const left: (Float64Array | null)[] = new Array<Float64Array | null>(frontCount).fill(null)
  const children: number[][] = Array.from({ length: frontCount }, () => [])
  for (let front = 0; front < frontCount; front++)
    if (parents[front]! >= 0) children[parents[front]!]!.push(front)
  const into = new Uint32Array(largest)
  for (let front = 0; front < frontCount; front++) {
    const [start, end] = [fronts[front]!, fronts[front + 1]!]
    const columns = end - start
    const [from, to] = [rowStarts[front]!, rowStarts[front + 1]!]
    const size = columns + to - from
    for (let at = from; at < to; at++) positions[rows[at]!] = columns + at - from
    // columns one after another, each from its diagonal on
    for (let column = 0; column < size; column++) work.fill(0, column * size + column, (column + 1) * size)
    for (let column = start; column < end; column++) {
      const node = order[column]!
      const base = (column - start) * size
      work[base + column - start] = matrix.diagonal[node]!
      for (let at = offsets[node]!; at < offsets[node + 1]!; at++) {
        const row = places[neighbours[at]!]!
        if (row > column) work[base + (row < end ? row - start : positions[row]!)]! += matrix.entries[at]!
      }
    }
    for (const child of children[front]!) {
      const [low, high] = [rowStarts[child]!, rowStarts[child + 1]!]
      const own = left[child]!
      const count = high - low
      for (let at = 0; at < count; at++) {
        const row = rows[low + at]!
        into[at] = row < end ? row - start : positions[row]!
      }
      let read = 0
      for (let column = 0; column < count; column++) {
        const base = into[column]! * size
        for (let row = column; row < count; row++) work[base + into[row]!]! += own[read++]!
      }
      left[child] = null
    }
    if (!reduceFront(work, size, columns, pivots, start)) return null
    values.set(work.subarray(0, columns * size), valueStarts[front])
    const rest = size - columns
    if (rest > 0) {
      const own = new Float64Array((rest * (rest + 1)) / 2)
      let written = 0
      for (let column = columns; column < size; column++)
        for (let row = column; row < size; row++) own[written++] = work[column * size + row]!
      left[front] = own
    }
  }
  let held = new Float64Array(nodeCount)
  return {
    solve(given) {
      // as many sides at once as are given, so that the factor is walked over once
      const width = given.length / nodeCount
      if (held.length < given.length) held = new Float64Array(given.length)
      for (let at = 0; at < nodeCount; at++)
        for (let side = 0; side < width; side++) held[width * at + side] = given[width * order[at]! + side]!
      if (width === 2) solvePairs(held, values, pivots, pattern, valueStarts)
      else
        for (let side = 0; side < width; side++)
          solveSide(held, width, side, values, pivots, pattern, valueStarts)
      for (let at = 0; at < nodeCount; at++)
        for (let side = 0; side < width; side++) given[width * order[at]! + side] = held[width * at + side]!
    },
  }
}

function solveSide(
  held: Float64Array,
  width: number,
  side: number,
  values: Float64Array,
  pivots: Float64Array,
  { fronts, rowStarts, rows }: SparsePattern,
  valueStarts: Float64Array,
): void {
  const frontCount = fronts.length - 1
  for (let front = 0; front < frontCount; front++) {
    const start = fronts[front]!
    const columns = fronts[front + 1]! - start
    const from = rowStarts[front]!
    const below = rowStarts[front + 1]! - from
    let base = valueStarts[front]!
    for (let column = 0; column < columns; column++, base += columns + below) {
      const own = held[width * (start + column) + side]!
      for (let row = column + 1; row < columns; row++)
        held[width * (start + row) + side]! -= values[base + row]! * own
      for (let row = 0; row < below; row++)
        held[width * rows[from + row]! + side]! -= values[base + columns + row]! * own
    }
  }
  for (let front = frontCount - 1; front >= 0; front--) {
    const start = fronts[front]!
    const columns = fronts[front + 1]! - start
    const from = rowStarts[front]!
    const below = rowStarts[front + 1]! - from
    for (let column = columns - 1; column >= 0; column--) {
      const base = valueStarts[front]! + column * (columns + below)
      let own = held[width * (start + column) + side]! / pivots[start + column]!
      for (let row = column + 1; row < columns; row++)
        own -= values[base + row]! * held[width * (start + row) + side]!
      for (let row = 0; row < below; row++)
        own -= values[base + columns + row]! * held[width * rows[from + row]! + side]!
      held[width * (start + column) + side] = own
    }
  }
}

/** Two sides, number by number beside each other. */
function solvePairs(
  held: Float64Array,
  values: Float64Array,
  pivots: Float64Array,
  { fronts, rowStarts, rows }: SparsePattern,
  valueStarts: Float64Array,
): void {
  const frontCount = fronts.length - 1
  for (let front = 0; front < frontCount; front++) {
    const start = fronts[front]!
    const columns = fronts[front + 1]! - start
    const from = rowStarts[front]!
    const below = rowStarts[front + 1]! - from
    let base = valueStarts[front]!
    for (let column = 0; column < columns; column++, base += columns + below) {
      const u = held[2 * (start + column)]!
      const v = held[2 * (start + column) + 1]!
      for (let row = column + 1; row < columns; row++) {
        const value = values[base + row]!
        held[2 * (start + row)]! -= value * u
        held[2 * (start + row) + 1]! -= value * v
      }
      for (let row = 0; row < below; row++) {
        const value = values[base + columns + row]!
        const to = 2 * rows[from + row]!
        held[to]! -= value * u
        held[to + 1]! -= value * v
      }
    }
  }
  for (let front = frontCount - 1; front >= 0; front--) {
    const start = fronts[front]!
    const columns = fronts[front + 1]! - start
    const from = rowStarts[front]!
    const below = rowStarts[front + 1]! - from
    for (let column = columns - 1; column >= 0; column--) {
      const base = valueStarts[front]! + column * (columns + below)
      const at = 2 * (start + column)
      let u = held[at]! / pivots[start + column]!
      let v = held[at + 1]! / pivots[start + column]!
      for (let row = column + 1; row < columns; row++) {
        const value = values[base + row]!
        u -= value * held[2 * (start + row)]!
        v -= value * held[2 * (start + row) + 1]!
      }
      for (let row = 0; row < below; row++) {
        const value = values[base + columns + row]!
        const to = 2 * rows[from + row]!
        u -= value * held[to]!
        v -= value * held[to + 1]!
      }
      held[at] = u
      held[at + 1] = v
    }
  }
}
