/**
 * Which vertices of a file are one point. A file has one UV, one normal and one colour a vertex, so that points are split
 * wherever polygons differ in one of them; here they are joined again.
 */
import { marksOf, placesOf } from './places.ts'
import { sidesAtPlaces } from './sides-at-places.ts'

/** Points in the order of their first vertices. */
export interface JoinedVertices {
  /** vertexCount; the point of each vertex. */
  readonly vertexPoints: Uint32Array
  readonly pointCount: number
}

/** Sides at one place up to which each is held against each other; more are no model, and are paired as they come. */
const MOST_COMPARED = 64

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
  positions: Float32Array | Float64Array,
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

  const { faceOf, from, to, eachGroup } = sidesAtPlaces(sizes, vertices, known)
  const marks = marksOf(sizes, vertices, places)
  const areOneSheet = (one: number, other: number): boolean => marks[faceOf(one)] === marks[faceOf(other)]
  const crowded: number[][] = []
  eachGroup((sides) => {
    if (sides.length > 2) crowded.push([...sides])
    // the two sides of a sheet that is drawn twice are two sheets
    else if (!areOneSheet(sides[0]!, sides[1]!)) joinSides(sides[0]!, sides[1]!)
  })
  crowded.sort((a, b) => a[0]! - b[0]!)
  for (const sides of crowded) pairSides(sides)

  function isSameWay(one: number, other: number): boolean {
    return places[from(one)] === places[from(other)]
  }
  function joinSides(one: number, other: number): void {
    const turned = isSameWay(one, other)
    join(from(one), turned ? from(other) : to(other))
    join(to(one), turned ? to(other) : from(other))
  }
  function pairSides(sides: readonly number[]): void {
    if (sides.length > MOST_COMPARED) {
      for (let at = 0; at + 1 < sides.length; at += 2) joinSides(sides[at]!, sides[at + 1]!)
      return
    }
    const open = new Set(sides)
    const pairs: { one: number; other: number; rank: number }[] = []
    sides.forEach((one, at) => {
      for (const other of sides.slice(at + 1)) {
        if (areOneSheet(one, other)) continue
        const turned = isSameWay(one, other)
        const [there, here] = turned ? [from(other), to(other)] : [to(other), from(other)]
        // the file itself says that these are one
        const isOne = from(one) === there && to(one) === here
        const hangsTogether = find(from(one)) === find(there) || find(to(one)) === find(here)
        pairs.push({
          one,
          other,
          rank:
            (turned ? 8e12 : 0) +
            (isOne ? 0 : hangsTogether ? 2e12 : 4e12) +
            Math.abs(faceOf(one) - faceOf(other)),
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

  // the root of each is its first vertex, so that it has its number before any other asks for it
  const vertexPoints = new Uint32Array(vertexCount)
  let pointCount = 0
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const root = find(vertex)
    vertexPoints[vertex] = root === vertex ? pointCount++ : vertexPoints[root]!
  }
  return { vertexPoints, pointCount }
}
