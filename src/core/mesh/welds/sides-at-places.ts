/**
 * Sides of polygons by the two places that they run between. A side is known by its first corner. A model of which nothing
 * is joined has millions, so that there is one number a side: the next one at the same place.
 */
import type { Places } from './places.ts'

export interface Sides {
  readonly faceOf: (side: number) => number
  /** The vertex that a side begins at, and the one that it ends at. */
  readonly from: (side: number) => number
  readonly to: (side: number) => number
  /** Calls with the sides between two places, in the file's order, where there are several; the list is used again. */
  readonly eachGroup: (call: (sides: Uint32Array) => void) => void
}

/** Sides at a place up to which each is held against each other; more are sorted. */
const FEW = 16

/** Sides both of whose ends lie where others do; what can't be anywhere else's is left out: most of a mesh is. */
export function sidesAtPlaces(
  sizes: ArrayLike<number>,
  vertices: Uint32Array,
  { places, placeCount, isShared }: Places,
): Sides {
  const cornerCount = vertices.length
  const { length: faceCount } = sizes
  const even = sizes[0] ?? 0
  let isEven = true
  for (let face = 0; isEven && face < faceCount; face++) isEven = sizes[face] === even
  const starts = isEven ? null : new Uint32Array(faceCount + 1)
  const faces = isEven ? null : new Uint32Array(cornerCount)
  if (starts && faces)
    for (let face = 0; face < faceCount; face++) {
      starts[face + 1] = starts[face]! + sizes[face]!
      faces.fill(face, starts[face], starts[face + 1])
    }
  const faceOf = (side: number): number => (faces ? faces[side]! : Math.floor(side / even))
  const to = (side: number): number => {
    if (!faces || !starts) return vertices[(side + 1) % even === 0 ? side + 1 - even : side + 1]!
    const face = faces[side]!
    return vertices[side + 1 === starts[face + 1] ? starts[face]! : side + 1]!
  }

  // from the last to the first, so that each list is in the file's order
  const heads = new Int32Array(placeCount).fill(-1)
  const next = new Int32Array(cornerCount)
  for (let side = cornerCount - 1; side >= 0; side--) {
    const a = places[vertices[side]!]!
    if (!isShared[a]) continue
    const b = places[to(side)]!
    if (a === b || !isShared[b]) continue
    const place = a < b ? a : b
    next[side] = heads[place]!
    heads[place] = side
  }

  const otherOf = (side: number, place: number): number => {
    const a = places[vertices[side]!]!
    return a === place ? places[to(side)]! : a
  }
  return {
    faceOf,
    from: (side) => vertices[side]!,
    to,
    eachGroup(call) {
      let found = new Uint32Array(FEW)
      let others = new Uint32Array(FEW)
      let group = new Uint32Array(FEW)
      for (let place = 0; place < placeCount; place++) {
        let count = 0
        for (let side = heads[place]!; side >= 0; side = next[side]!) {
          if (count === found.length) {
            const old = [found, others] as const
            found = new Uint32Array(2 * count)
            others = new Uint32Array(2 * count)
            found.set(old[0])
            others.set(old[1])
            group = new Uint32Array(2 * count)
          }
          found[count] = side
          others[count++] = otherOf(side, place)
        }
        if (count > FEW) {
          // sides of one other place stand behind each other and in their order: sorting keeps it
          const order = Uint32Array.from({ length: count }, (_none, at) => at).sort(
            (a, b) => others[a]! - others[b]! || a - b,
          )
          for (let first = 0; first < count;) {
            let size = 0
            const other = others[order[first]!]!
            while (first + size < count && others[order[first + size]!] === other)
              group[size] = found[order[first + size++]!]!
            if (size > 1) call(group.subarray(0, size))
            first += size
          }
          continue
        }
        for (let first = 0; first < count; first++) {
          const other = others[first]!
          if (other === NOWHERE) continue
          let size = 0
          for (let at = first; at < count; at++)
            if (others[at] === other) {
              group[size++] = found[at]!
              others[at] = NOWHERE
            }
          if (size > 1) call(group.subarray(0, size))
        }
      }
    },
  }
}

/** No place has this number. */
const NOWHERE = 0xffffffff
