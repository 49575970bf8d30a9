/** What vertices carry, as values of corners: vertices of one point that say the same share a value. */
import { signed } from '../../base/bytes/signed.ts'
import type { ColorSet, UvSet } from '../../scene/mesh.ts'
import type { Gathered } from './gather-primitives.ts'

export interface Corners {
  /** cornerCount; the file's vertex of each corner. */
  readonly vertices: Uint32Array
  readonly vertexPoints: Uint32Array
  readonly pointCount: number
  /** cornerCount; the primitive that each corner is in. Null: there is one. */
  readonly isIn: Uint32Array | null
  /** Every vertex is a point of its own. */
  readonly isUnsplit: boolean
  /** What `metInOrder` gives, once it was asked for. */
  met?: VerticesMet
}

export interface CornerValues {
  readonly values: Float64Array
  /** cornerCount, -1 where a corner has none. */
  readonly indices: Int32Array
}

/** Values of an attribute by corners; null where no polygon has it. */
export function readCornerValues(
  gathered: Gathered,
  corners: Corners,
  semantic: string,
): CornerValues | null {
  const attribute = gathered.attributes.get(semantic)
  if (!attribute) return null
  const { values, width } = attribute
  const { vertices, vertexPoints, pointCount, isIn } = corners
  const has = gathered.primitives.map((primitive) => primitive.has(semantic))
  if (!has.some(Boolean)) return null
  const isWhole = !isIn || has.every(Boolean)
  if (corners.isUnsplit && isWhole) {
    // no two vertices can share a value, and all attributes are numbered alike: as points are, where each has a corner
    const { order, indices } = (corners.met ??= metInOrder(vertices, gathered))
    if (!order) return { values, indices }
    return order.length ? { values: pick(values, width, order), indices } : null
  }
  const cornerCount = vertices.length
  const indices = new Int32Array(cornerCount).fill(-1)
  const valueOf = new Int32Array(gathered.vertexCount).fill(-1)
  const heads = new Int32Array(pointCount).fill(-1)
  const next = new Int32Array(gathered.vertexCount)
  const chosen = new Uint32Array(gathered.vertexCount)
  let count = 0
  const isSame = (a: number, b: number): boolean => {
    for (let k = 0; k < width; k++) if (values[a * width + k] !== values[b * width + k]) return false
    return true
  }
  for (let corner = 0; corner < cornerCount; corner++) {
    if (!isWhole && !has[isIn[corner]!]) continue
    const vertex = vertices[corner]!
    if (valueOf[vertex]! < 0) {
      const point = vertexPoints[vertex]!
      let found = heads[point]!
      while (found >= 0 && !isSame(chosen[found]!, vertex)) found = next[found]!
      if (found < 0) {
        found = count++
        chosen[found] = vertex
        next[found] = heads[point]!
        heads[point] = found
      }
      valueOf[vertex] = found
    }
    indices[corner] = valueOf[vertex]!
  }
  if (count === 0) return null
  return { values: pick(values, width, chosen.subarray(0, count)), indices }
}

/** Vertices that corners come to, and of each corner the place of its own among them. */
interface VerticesMet {
  /** Null: all of them, as they are numbered. */
  readonly order: Uint32Array | null
  readonly indices: Int32Array
}

function metInOrder(vertices: Uint32Array, { vertexCount, isFull }: Gathered): VerticesMet {
  if (isFull) return { order: null, indices: signed(vertices) }
  const placeOf = new Int32Array(vertexCount).fill(-1)
  const order = new Uint32Array(vertexCount)
  const indices = new Int32Array(vertices.length)
  let count = 0
  for (let corner = 0; corner < vertices.length; corner++) {
    const vertex = vertices[corner]!
    if (placeOf[vertex]! < 0) {
      placeOf[vertex] = count
      order[count++] = vertex
    }
    indices[corner] = placeOf[vertex]!
  }
  return { order: order.subarray(0, count), indices }
}

function pick(values: Float64Array, width: number, order: Uint32Array): Float64Array {
  const own = new Float64Array(width * order.length)
  for (let at = 0, to = 0; at < order.length; at++) {
    const from = order[at]! * width
    for (let k = 0; k < width; k++) own[to++] = values[from + k]!
  }
  return own
}

/** An attribute's values, those of the first vertex of each point. */
export function ofPoints({ attributes }: Gathered, semantic: string, firsts: Int32Array): Float64Array {
  const { values, width } = attributes.get(semantic)!
  const own = new Float64Array(width * firsts.length)
  for (let point = 0; point < firsts.length; point++)
    for (let k = 0; k < width; k++)
      own[width * point + k] = firsts[point]! < 0 ? 0 : values[width * firsts[point]! + k]!
  return own
}

/** Attributes of a kind that are numbered, in the order of their numbers. */
const numbered = ({ attributes }: Gathered, kind: string): { semantic: string; number: number }[] =>
  [...attributes.keys()]
    .flatMap((semantic) => {
      const found = new RegExp(`^${kind}_(\\d{1,3})$`).exec(semantic)
      return found ? [{ semantic, number: Number(found[1]) }] : []
    })
    .sort((a, b) => a.number - b.number)

/** What a UV set is called where a file can't say it. */
export const uvSetName = (number: number): string => (number === 0 ? 'uv' : `uv${number + 1}`)

/** @param names by the numbers of sets; empty or absent: as a set of that number is called. */
export function readUvSets(gathered: Gathered, corners: Corners, names: readonly string[]): UvSet[] {
  return numbered(gathered, 'TEXCOORD').flatMap(({ semantic, number }) => {
    const read = readCornerValues(gathered, corners, semantic)
    if (!read) return []
    // V runs down in the file
    const values = new Float64Array(read.values.length)
    for (let at = 0; at < values.length; at += 2) {
      values[at] = read.values[at]!
      values[at + 1] = 1 - read.values[at + 1]!
    }
    return [{ name: names[number] || uvSetName(number), values, indices: read.indices, depths: null }]
  })
}

/**
 * Colours by points where all corners of each say the same, else by corners.
 * @param firsts the first vertex of each point: without polygons it has the colour.
 */
export function readColors(
  gathered: Gathered,
  corners: Corners,
  names: readonly string[],
  firsts: Int32Array,
): ColorSet[] {
  return numbered(gathered, 'COLOR').flatMap(({ semantic, number }): ColorSet[] => {
    const components = gathered.attributes.get(semantic)!.width === 4 ? 4 : 3
    const name = names[number] || (number === 0 ? 'colour' : `colour${number + 1}`)
    if (gathered.sizes.length === 0) {
      const values = ofPoints(gathered, semantic, firsts)
      return [{ name, components, values, per: 'points', indices: new Int32Array(0) }]
    }
    const read = readCornerValues(gathered, corners, semantic)
    if (!read) return []
    const { vertices, vertexPoints, pointCount } = corners
    const ofPoint = new Int32Array(pointCount).fill(-1)
    const isByPoint = read.indices.every((value, corner) => {
      const point = vertexPoints[vertices[corner]!]!
      if (value < 0 || (ofPoint[point]! >= 0 && ofPoint[point] !== value)) return false
      ofPoint[point] = value
      return true
    })
    if (!isByPoint || ofPoint.some((value) => value < 0))
      return [{ name, components, values: read.values, per: 'corners', indices: read.indices }]
    const values = new Float64Array(components * pointCount)
    ofPoint.forEach((value, point) =>
      values.set(read.values.subarray(components * value, components * (value + 1)), components * point),
    )
    return [{ name, components, values, per: 'points', indices: new Int32Array(0) }]
  })
}
