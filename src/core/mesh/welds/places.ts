/** Places of vertices: those at the very same coordinates have one. */

export interface Places {
  /** vertexCount; the place of each vertex, numbered as they are met. */
  readonly places: Uint32Array
  readonly placeCount: number
  /** placeCount; 1 where several vertices lie. */
  readonly isShared: Uint8Array
}

/** A number for each place, the same for vertices at the very same coordinates (0 and -0 are the same). */
export function placesOf(positions: Float32Array | Float64Array): Places {
  const vertexCount = positions.length / 3
  const places = new Uint32Array(vertexCount)
  // as large as the places that were met ask for: most vertices lie where others do, and a small table is at hand
  let slots = 1024
  while (slots < vertexCount / 4) slots *= 2
  let table = new Int32Array(slots).fill(-1)
  let firsts = new Uint32Array(slots)
  let isShared = new Uint8Array(slots)
  const bits = new Int32Array(new Float64Array(3).buffer)
  const triple = new Float64Array(bits.buffer)
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
    const [oldFirsts, oldShared] = [firsts, isShared]
    firsts = new Uint32Array(slots)
    firsts.set(oldFirsts)
    isShared = new Uint8Array(slots)
    isShared.set(oldShared)
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
        isShared[held] = 1
        break
      }
      slot = (slot + 1) & (slots - 1)
    }
  }
  return { places, placeCount, isShared: isShared.slice(0, placeCount) }
}

/** A number for each polygon, the same for those over the same places whichever way round. */
export function marksOf(sizes: ArrayLike<number>, vertices: Uint32Array, places: Uint32Array): Float64Array {
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
