/**
 * Which vertices of a file are one point. A file has one UV, one normal and one colour a vertex, so that points are split
 * wherever polygons differ in one of them; here they are joined again.
 */
import { createNumberTable } from '../../base/math/number-table.ts'

/** Points in the order of their first vertices. */
export interface JoinedVertices {
  /** vertexCount; the point of each vertex. */
  readonly vertexPoints: Uint32Array
  readonly pointCount: number
}

/** Sides at one place up to which each is held against each other; more are no model, and are paired as they come. */
const MOST_COMPARED = 64

/** A number for each place, the same for vertices at the very same coordinates (0 and -0 are the same). */
function placesOf(positions: Float64Array): {
  places: Uint32Array
  placeCount: number
  isShared: Uint8Array
} {
  const vertexCount = positions.length / 3
  const places = new Uint32Array(vertexCount)
  let slots = 16
  while (slots < 2 * vertexCount) slots *= 2
  const table = new Int32Array(slots).fill(-1)
  const firsts = new Uint32Array(vertexCount)
  const bits = new Int32Array(new Float64Array(3).buffer)
  const triple = new Float64Array(bits.buffer)
  const counts = new Uint32Array(vertexCount)
  let placeCount = 0
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const at = 3 * vertex
    for (let axis = 0; axis < 3; axis++) triple[axis] = positions[at + axis]! + 0
    let hash = 0
    for (let k = 0; k < 6; k++) {
      hash = Math.imul(hash ^ bits[k]!, 0x9e3779b1)
      hash ^= hash >>> 15
    }
    let slot = (hash >>> 0) & (slots - 1)
    for (;;) {
      const held = table[slot]!
      if (held < 0) {
        table[slot] = placeCount
        firsts[placeCount] = vertex
        places[vertex] = placeCount++
        break
      }
      const other = 3 * firsts[held]!
      if (
        positions[other] === positions[at] &&
        positions[other + 1] === positions[at + 1] &&
        positions[other + 2] === positions[at + 2]
      ) {
        places[vertex] = held
        break
      }
      slot = (slot + 1) & (slots - 1)
    }
    counts[places[vertex]!]!++
  }
  const isShared = new Uint8Array(vertexCount)
  for (let vertex = 0; vertex < vertexCount; vertex++) isShared[vertex] = Number(counts[places[vertex]!]! > 1)
  return { places, placeCount, isShared }
}

/** A number for each polygon, the same for those over the same places whichever way round. */
function marksOf(sizes: ArrayLike<number>, vertices: Uint32Array, places: Uint32Array): Float64Array {
  const marks = new Float64Array(sizes.length)
  for (let face = 0, at = 0; face < sizes.length; face++) {
    let sum = 0
    for (let k = 0; k < sizes[face]!; k++, at++) {
      const place = places[vertices[at]!]!
      // sums of such are the same for other places only by a chance of one in millions of millions; they stay below
      // 2^50, so that they don't go by the order they are added in
      sum +=
        (Math.imul(place + 1, 0x9e3779b1) >>> 0) * 65536 + (Math.imul(place ^ 0x5bd1e995, 0x85ebca6b) >>> 16)
      sum %= 1125899906842624
    }
    marks[face] = sum
  }
  return marks
}

interface SideList {
  /** The vertices of each side from its first to its second corner, and the polygon that it is of. */
  readonly from: number[]
  readonly to: number[]
  readonly face: number[]
}

/**
 * Joins vertices along the sides at which polygons meet: at one place alone nothing is joined, so that shells that touch
 * stay apart. Where more than two sides lie on each other they are paired opposite to each other, within what hangs
 * together already before others, and the nearest in the file's order first; where none lies opposite, sides that run the
 * same way are paired, as where a polygon is turned.
 *
 * @param positions 3 x vertexCount.
 * @param sizes vertices of each polygon.
 */
export function joinVertices(
  positions: Float64Array,
  sizes: ArrayLike<number>,
  vertices: Uint32Array,
): JoinedVertices {
  const vertexCount = positions.length / 3
  const { places, placeCount, isShared } = placesOf(positions)
  if (placeCount === vertexCount) return { vertexPoints: places, pointCount: placeCount }
  const parent = new Uint32Array(vertexCount)
  for (let vertex = 0; vertex < vertexCount; vertex++) parent[vertex] = vertex
  const find = (vertex: number): number => {
    let root = vertex
    while (parent[root] !== root) root = parent[root]!
    while (parent[vertex] !== root) {
      const next = parent[vertex]!
      parent[vertex] = root
      vertex = next
    }
    return root
  }
  const join = (a: number, b: number): void => {
    const [x, y] = [find(a), find(b)]
    if (x !== y) parent[Math.max(x, y)] = Math.min(x, y)
  }

  // sides that can't be anywhere else's are left out: most of a mesh is
  const table = createNumberTable()
  const groups: SideList[] = []
  let start = 0
  for (let face = 0; face < sizes.length; face++) {
    const size = sizes[face]!
    for (let k = 0; k < size; k++) {
      const a = vertices[start + k]!
      const b = vertices[start + ((k + 1) % size)]!
      if (!isShared[a] || !isShared[b]) continue
      const [low, high] = places[a]! < places[b]! ? [places[a]!, places[b]!] : [places[b]!, places[a]!]
      if (low === high) continue
      const key = low * placeCount + high
      let group = table.get(key)
      if (group === undefined) {
        group = groups.push({ from: [], to: [], face: [] }) - 1
        table.set(key, group)
      }
      const list = groups[group]!
      list.from.push(a)
      list.to.push(b)
      list.face.push(face)
    }
    start += size
  }
  const marks = marksOf(sizes, vertices, places)
  const crowded: SideList[] = []
  for (const list of groups) {
    if (list.from.length < 2) continue
    if (list.from.length > 2) crowded.push(list)
    // the two sides of a sheet that is drawn twice are two sheets
    else if (marks[list.face[0]!] !== marks[list.face[1]!]) joinSides(list, 0, 1)
  }
  for (const list of crowded) pairSides(list)

  function joinSides({ from, to }: SideList, one: number, other: number): void {
    const isSameWay = places[from[one]!] === places[from[other]!]
    join(from[one]!, isSameWay ? from[other]! : to[other]!)
    join(to[one]!, isSameWay ? to[other]! : from[other]!)
  }
  function pairSides(list: SideList): void {
    const { from, face } = list
    if (from.length > MOST_COMPARED) {
      for (let one = 0; one + 1 < from.length; one += 2) joinSides(list, one, one + 1)
      return
    }
    const open = new Set(from.keys())
    const pairs: { one: number; other: number; rank: number }[] = []
    for (let one = 0; one < from.length; one++)
      for (let other = one + 1; other < from.length; other++) {
        if (marks[face[one]!] === marks[face[other]!]) continue
        const isSameWay = places[from[one]!] === places[from[other]!]
        const [there, here] = isSameWay
          ? [list.from[other]!, list.to[other]!]
          : [list.to[other]!, list.from[other]!]
        // the file itself says that these are one
        const isOne = list.from[one] === there && list.to[one] === here
        const hangsTogether = find(list.from[one]!) === find(there) || find(list.to[one]!) === find(here)
        pairs.push({
          one,
          other,
          rank:
            (isSameWay ? 8e12 : 0) +
            (isOne ? 0 : hangsTogether ? 2e12 : 4e12) +
            Math.abs(face[one]! - face[other]!),
        })
      }
    pairs.sort((a, b) => a.rank - b.rank)
    for (const { one, other } of pairs) {
      if (!open.has(one) || !open.has(other)) continue
      open.delete(one)
      open.delete(other)
      joinSides(list, one, other)
    }
  }

  const numbers = new Int32Array(vertexCount).fill(-1)
  const vertexPoints = new Uint32Array(vertexCount)
  let pointCount = 0
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const root = find(vertex)
    if (numbers[root]! < 0) numbers[root] = pointCount++
    vertexPoints[vertex] = numbers[root]!
  }
  return { vertexPoints, pointCount }
}
