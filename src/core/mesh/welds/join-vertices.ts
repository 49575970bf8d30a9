/**
 * Which vertices of a file are one point. A file has one UV, one normal and one colour a vertex, so that points are split
 * wherever polygons differ in one of them; here they are joined again.
 */
import { firstOfPairs } from '../relations/first-of-pairs.ts'

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
  // as large as the places that were met ask for: most vertices lie where others do, and a small table is at hand
  let slots = 1024
  while (slots < vertexCount / 4) slots *= 2
  let table = new Int32Array(slots).fill(-1)
  const firsts = new Uint32Array(vertexCount)
  const bits = new Int32Array(new Float64Array(3).buffer)
  const triple = new Float64Array(bits.buffer)
  const counts = new Uint32Array(vertexCount)
  let placeCount = 0
  const hashOf = (at: number): number => {
    for (let axis = 0; axis < 3; axis++) triple[axis] = positions[at + axis]! + 0
    let hash = 0
    for (let k = 0; k < 6; k++) {
      hash = Math.imul(hash ^ bits[k]!, 0x9e3779b1)
      hash ^= hash >>> 15
    }
    return hash >>> 0
  }
  /** What is no number is at no place that another could be at; in the table all of it would be looked through each time. */
  const isNowhere = (at: number): boolean =>
    Number.isNaN(positions[at]!) || Number.isNaN(positions[at + 1]!) || Number.isNaN(positions[at + 2]!)
  const grow = (): void => {
    slots *= 2
    table = new Int32Array(slots).fill(-1)
    for (let place = 0; place < placeCount; place++) {
      if (isNowhere(3 * firsts[place]!)) continue
      let slot = hashOf(3 * firsts[place]!) & (slots - 1)
      while (table[slot]! >= 0) slot = (slot + 1) & (slots - 1)
      table[slot] = place
    }
  }
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    if (2 * placeCount >= slots) grow()
    const at = 3 * vertex
    if (isNowhere(at)) {
      firsts[placeCount] = vertex
      places[vertex] = placeCount++
      counts[places[vertex]!]!++
      continue
    }
    let slot = hashOf(at) & (slots - 1)
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

/**
 * Sides by the two places that they run between, in flat arrays: a model of which nothing is joined has millions, and
 * with a list for each pair reading it took eight times as long.
 */
interface Sides {
  /** Side count: its vertices from its first to its second corner, and the polygon that it is of. */
  readonly from: Uint32Array
  readonly to: Uint32Array
  readonly face: Uint32Array
  /** Side count: the next side between the same places, -1 for none. */
  readonly next: Int32Array
  readonly groupCount: number
  /** Of each group its first side and how many it has. */
  readonly firsts: Int32Array
  readonly counts: Uint32Array
}

/** Sides both of whose ends lie where others do; what can't be anywhere else's is left out: most of a mesh is. */
function sidesOf(
  sizes: ArrayLike<number>,
  vertices: Uint32Array,
  { places, placeCount, isShared }: ReturnType<typeof placesOf>,
): Sides {
  let sideCount = 0
  const eachSide = (call: (a: number, b: number, face: number) => void): void => {
    for (let face = 0, start = 0; face < sizes.length; face++) {
      const size = sizes[face]!
      for (let k = 0; k < size; k++) {
        const a = vertices[start + k]!
        const b = vertices[start + (k + 1 === size ? 0 : k + 1)]!
        if (isShared[a] && isShared[b] && places[a] !== places[b]) call(a, b, face)
      }
      start += size
    }
  }
  eachSide(() => sideCount++)
  const from = new Uint32Array(sideCount)
  const to = new Uint32Array(sideCount)
  const sideFace = new Uint32Array(sideCount)
  const next = new Int32Array(sideCount).fill(-1)
  const firsts = new Int32Array(sideCount)
  const lasts = new Int32Array(sideCount)
  const counts = new Uint32Array(sideCount)
  let side = 0
  eachSide((a, b, face) => {
    from[side] = a
    to[side] = b
    sideFace[side++] = face
  })
  // in the order of their first sides
  const firstOf = firstSides(from, to, places, placeCount)
  const groupOf = new Uint32Array(sideCount)
  let groupCount = 0
  for (side = 0; side < sideCount; side++) {
    const first = firstOf[side]!
    const group = first === side ? groupCount++ : groupOf[first]!
    groupOf[side] = group
    if (first === side) firsts[group] = side
    else next[lasts[group]!] = side
    lasts[group] = side
    counts[group]!++
  }
  return { from, to, face: sideFace, next, groupCount, firsts, counts }
}

/** For each side the first one between the same two places, itself where it is that one. */
function firstSides(
  from: Uint32Array,
  to: Uint32Array,
  places: Uint32Array,
  placeCount: number,
): Uint32Array {
  const lows = new Uint32Array(from.length)
  const highs = new Uint32Array(from.length)
  for (let side = 0; side < from.length; side++) {
    const a = places[from[side]!]!
    const b = places[to[side]!]!
    lows[side] = a < b ? a : b
    highs[side] = a < b ? b : a
  }
  return firstOfPairs(lows, highs, placeCount)
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
  const known = placesOf(positions)
  const { places, placeCount } = known
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

  const { from, to, face, next, groupCount, firsts, counts } = sidesOf(sizes, vertices, known)
  const marks = marksOf(sizes, vertices, places)
  const crowded: number[] = []
  for (let group = 0; group < groupCount; group++) {
    const one = firsts[group]!
    const other = next[one]!
    if (other < 0) continue
    if (counts[group]! > 2) crowded.push(group)
    // the two sides of a sheet that is drawn twice are two sheets
    else if (marks[face[one]!] !== marks[face[other]!]) joinSides(one, other)
  }
  for (const group of crowded) pairSides(group)

  function joinSides(one: number, other: number): void {
    const isSameWay = places[from[one]!] === places[from[other]!]
    join(from[one]!, isSameWay ? from[other]! : to[other]!)
    join(to[one]!, isSameWay ? to[other]! : from[other]!)
  }
  function pairSides(group: number): void {
    const sides: number[] = []
    for (let side = firsts[group]!; side >= 0; side = next[side]!) sides.push(side)
    if (sides.length > MOST_COMPARED) {
      for (let at = 0; at + 1 < sides.length; at += 2) joinSides(sides[at]!, sides[at + 1]!)
      return
    }
    const open = new Set(sides)
    const pairs: { one: number; other: number; rank: number }[] = []
    sides.forEach((one, at) => {
      for (const other of sides.slice(at + 1)) {
        if (marks[face[one]!] === marks[face[other]!]) continue
        const isSameWay = places[from[one]!] === places[from[other]!]
        const [there, here] = isSameWay ? [from[other]!, to[other]!] : [to[other]!, from[other]!]
        // the file itself says that these are one
        const isOne = from[one] === there && to[one] === here
        const hangsTogether = find(from[one]!) === find(there) || find(to[one]!) === find(here)
        pairs.push({
          one,
          other,
          rank:
            (isSameWay ? 8e12 : 0) +
            (isOne ? 0 : hangsTogether ? 2e12 : 4e12) +
            Math.abs(face[one]! - face[other]!),
        })
      }
    })
    pairs.sort((a, b) => a.rank - b.rank)
    for (const { one, other } of pairs) {
      if (!open.has(one) || !open.has(other)) continue
      open.delete(one)
      open.delete(other)
      joinSides(one, other)
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
