/** Polygons and lines of one element of a mesh. Source: COLLADA 1.4.1, “polylist” and its like. */
import { bridgeHole } from './bridge-hole.ts'
import type { ColladaDocument } from './document.ts'
import type { Source } from './read-source.ts'
import { childOf, childrenOf, type XmlElement } from './xml.ts'

export interface Input {
  readonly semantic: string
  readonly offset: number
  readonly set: number
  readonly source: Source
}

/** One channel of values with an index a corner, through all elements of a mesh. */
export interface Channel {
  readonly width: number
  readonly values: Float64Array
  readonly indices: number[]
}

const RESTART_KINDS: Readonly<Record<string, 'strip' | 'fan' | 'line'>> = {
  tristrips: 'strip',
  trifans: 'fan',
  linestrips: 'line',
}

/** What polygons of a mesh are put together from. */
export interface Gathering {
  readonly sizes: number[]
  readonly vertices: number[]
  readonly materials: number[]
  readonly channels: Map<string, Channel>
  readonly lines: number[][]
  holes: number
}

export interface PrimitiveFacts {
  readonly name: string
  readonly stride: number
  readonly vertexOffset: number
  readonly inputs: readonly Input[]
  readonly material: number
  readonly pointCount: number
  readonly positions: Float64Array
}

/** Corners of polygons by their places in a list of indices, and the material of all. */
export function readPrimitive(
  document: ColladaDocument,
  element: XmlElement,
  facts: PrimitiveFacts,
  gathering: Gathering,
): void {
  const { stride } = facts
  const polygon = (list: Float64Array, corners: readonly number[]): void =>
    addPolygon(document, list, corners, facts, gathering)
  const lists = childrenOf(element, 'p').map((p) => document.numbers(p))
  const cornersOf = (list: Float64Array): number => Math.floor(list.length / stride)
  if (element.name === 'triangles')
    for (const list of lists)
      for (let corner = 0; corner + 2 < cornersOf(list); corner += 3)
        polygon(list, [corner, corner + 1, corner + 2])
  else if (element.name === 'polylist') {
    const counts = document.numbers(childOf(element, 'vcount'))
    const [list] = lists
    let corner = 0
    for (const count of list ? counts : []) {
      if (!Number.isInteger(count) || count < 0 || corner + count > cornersOf(list!)) {
        document.messages.add('collada.part', {
          place: `The rest of a list of polygons of “${facts.name}”`,
          why: 'it has fewer corners than it says',
        })
        break
      }
      polygon(
        list!,
        Array.from({ length: count }, (_none, k) => corner + k),
      )
      corner += count
    }
  } else if (element.name === 'polygons') {
    for (const list of lists) polygon(list, [...Array(cornersOf(list)).keys()])
    for (const ph of childrenOf(element, 'ph')) {
      const border = document.numbers(childOf(ph, 'p'))
      const holes = childrenOf(ph, 'h').map((hole) => document.numbers(hole))
      if (holes.length) gathering.holes++
      addPolygonWithHoles(document, border, holes, facts, gathering)
    }
  } else {
    const kind = RESTART_KINDS[element.name]
    for (const list of lists) {
      const count = cornersOf(list)
      if (element.name === 'lines')
        for (let corner = 0; corner + 1 < count; corner += 2)
          addLine(list, [corner, corner + 1], facts, gathering)
      else if (kind === 'line') addLine(list, [...Array(count).keys()], facts, gathering)
      else
        for (let corner = 0; corner + 2 < count; corner++)
          polygon(
            list,
            kind === 'fan'
              ? [0, corner + 1, corner + 2]
              : corner % 2
                ? [corner + 1, corner, corner + 2]
                : [corner, corner + 1, corner + 2],
          )
    }
  }
}

function addLine(
  list: Float64Array,
  corners: readonly number[],
  { stride, vertexOffset, pointCount }: PrimitiveFacts,
  { lines }: Gathering,
): void {
  const points = corners.map((corner) => list[corner * stride + vertexOffset]!)
  if (points.every((point) => point >= 0 && point < pointCount)) lines.push(points)
}

function addPolygon(
  { messages }: ColladaDocument,
  list: Float64Array,
  corners: readonly number[],
  { name, stride, vertexOffset, inputs, material, pointCount }: PrimitiveFacts,
  gathering: Gathering,
): void {
  if (corners.length < 3) {
    messages.add('collada.short-face', { name, corners: corners.length })
    return
  }
  for (const corner of corners) {
    const point = list[corner * stride + vertexOffset]!
    if (!(point >= 0 && point < pointCount)) {
      messages.add('collada.index-out-of-range', { name, kind: 'point', value: point, available: pointCount })
      return
    }
  }
  const start = gathering.vertices.length
  gathering.sizes.push(corners.length)
  gathering.materials.push(material)
  for (const corner of corners) gathering.vertices.push(list[corner * stride + vertexOffset]!)
  for (const { semantic, offset, set, source } of inputs) {
    const key = `${semantic} ${set}`
    let channel = gathering.channels.get(key)
    // lists of several elements may lie in sources of their own: they are put behind each other
    if (!channel) {
      channel = { width: source.width, values: source.values, indices: [] }
      gathering.channels.set(key, channel)
    } else if (channel.values !== source.values && !basesOf(channel).has(source.values)) {
      const base = channel.values.length / channel.width
      const values = new Float64Array(channel.values.length + channel.width * source.count)
      values.set(channel.values)
      for (let at = 0; at < source.count; at++)
        for (let k = 0; k < channel.width; k++)
          values[channel.width * (base + at) + k] = source.values[source.width * at + k] ?? 1
      const bases = basesOf(channel)
      bases.set(source.values, base)
      channel = { ...channel, values }
      BASES.set(channel, bases)
      gathering.channels.set(key, channel)
    }
    const base = basesOf(channel).get(source.values) ?? 0
    while (channel.indices.length < start) channel.indices.push(-1)
    for (const corner of corners) {
      const index = list[corner * stride + offset]!
      const isThere = index >= 0 && index < source.count
      if (!isThere)
        messages.add('collada.index-out-of-range', {
          name,
          kind: semantic,
          value: index,
          available: source.count,
        })
      channel.indices.push(isThere ? base + index : -1)
    }
  }
}

/** Where the values of further sources begin in a channel's. */
const BASES = new WeakMap<Channel, Map<Float64Array, number>>()
function basesOf(channel: Channel): Map<Float64Array, number> {
  const known = BASES.get(channel)
  if (known) return known
  const bases = new Map<Float64Array, number>()
  BASES.set(channel, bases)
  return bases
}

/** A polygon with holes as one: each hole is joined with the border along a cut. */
function addPolygonWithHoles(
  document: ColladaDocument,
  border: Float64Array,
  holes: readonly Float64Array[],
  facts: PrimitiveFacts,
  gathering: Gathering,
): void {
  const { stride } = facts
  const whole = new Float64Array(border.length + holes.reduce((sum, hole) => sum + hole.length, 0))
  whole.set(border)
  let at = border.length
  let corners = [...Array(Math.floor(border.length / stride)).keys()]
  const pointOf = (corner: number): readonly number[] => {
    const point = 3 * whole[corner * stride + facts.vertexOffset]!
    return [facts.positions[point] ?? 0, facts.positions[point + 1] ?? 0, facts.positions[point + 2] ?? 0]
  }
  for (const hole of holes) {
    whole.set(hole, at)
    const first = Math.floor(at / stride)
    const ring = Array.from({ length: Math.floor(hole.length / stride) }, (_none, k) => first + k)
    corners = bridgeHole(corners, ring, pointOf)
    at += hole.length
  }
  addPolygon(document, whole, corners, facts, gathering)
}
