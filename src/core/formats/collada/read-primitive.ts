/** Polygons and lines of one element of a mesh. Source: COLLADA 1.4.1, “polylist” and its like. */
import { growingInt32, pushInt32, reserveInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import { bridgeHole } from './bridge-hole.ts'
import type { ColladaDocument } from './document.ts'
import type { Source } from './read-source.ts'
import type { NumberList } from './list-reader.ts'
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
  readonly indices: GrowingInt32
}

const RESTART_KINDS: Readonly<Record<string, 'strip' | 'fan' | 'line'>> = {
  tristrips: 'strip',
  trifans: 'fan',
  linestrips: 'line',
}

/** What polygons of a mesh are put together from. */
export interface Gathering {
  readonly sizes: GrowingInt32
  readonly vertices: GrowingInt32
  readonly materials: GrowingInt32
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
  const polygon = (list: NumberList, corners: readonly number[]): void =>
    addPolygon(document, list, corners, facts, gathering)
  const lists = childrenOf(element, 'p').map((p) => document.indices(p))
  const cornersOf = (list: NumberList): number => Math.floor(list.length / stride)
  if (element.name === 'triangles')
    for (const list of lists) {
      const sizes = new Int32Array(Math.floor(cornersOf(list) / 3)).fill(3)
      if (addSound(list, sizes, facts, gathering)) continue
      for (let corner = 0; corner + 2 < cornersOf(list); corner += 3)
        polygon(list, [corner, corner + 1, corner + 2])
    }
  else if (element.name === 'polylist') {
    const counts = document.indices(childOf(element, 'vcount'))
    const [list] = lists
    if (list && addSound(list, counts, facts, gathering)) return
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
      const border = document.indices(childOf(ph, 'p'))
      const holes = childrenOf(ph, 'h').map((hole) => document.indices(hole))
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
  list: NumberList,
  corners: readonly number[],
  { stride, vertexOffset, pointCount }: PrimitiveFacts,
  { lines }: Gathering,
): void {
  const points = corners.map((corner) => list[corner * stride + vertexOffset]!)
  if (points.every((point) => point >= 0 && point < pointCount)) lines.push(points)
}

function addPolygon(
  { messages }: ColladaDocument,
  list: NumberList,
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
  pushInt32(gathering.sizes, corners.length)
  pushInt32(gathering.materials, material)
  for (const corner of corners) pushInt32(gathering.vertices, list[corner * stride + vertexOffset]!)
  for (const input of inputs) {
    const { indices, base } = channelOf(gathering, input, start)
    for (const corner of corners) {
      const index = list[corner * stride + input.offset]!
      const isThere = index >= 0 && index < input.source.count
      if (!isThere)
        messages.add('collada.index-out-of-range', {
          name,
          kind: input.semantic,
          value: index,
          available: input.source.count,
        })
      pushInt32(indices, isThere ? base + index : -1)
    }
  }
}

/**
 * Polygons one behind the other, all at once, which is how nearly all are.
 * @returns false, with nothing added, where one of them is not sound: they are then taken one by one, and it is told.
 */
function addSound(
  list: NumberList,
  sizes: NumberList,
  { stride, vertexOffset, inputs, material, pointCount }: PrimitiveFacts,
  gathering: Gathering,
): boolean {
  let cornerCount = 0
  for (let polygon = 0; polygon < sizes.length; polygon++) {
    const size = sizes[polygon]!
    if (!(size >= 3 && Number.isInteger(size))) return false
    cornerCount += size
  }
  if (cornerCount * stride > list.length) return false
  const start = gathering.vertices.length
  /** False where one of the indices is none. */
  const put = (into: GrowingInt32, offset: number, base: number, count: number): boolean => {
    const room = reserveInt32(into, cornerCount)
    let to = into.length
    for (let corner = 0, at = offset; corner < cornerCount; corner++, at += stride) {
      const index = list[at]!
      if (!(index >= 0 && index < count)) return false
      room[to++] = base + index
    }
    into.length = to
    return true
  }
  const isSound =
    put(gathering.vertices, vertexOffset, 0, pointCount) &&
    inputs.every((input) => {
      const { indices, base } = channelOf(gathering, input, start)
      return put(indices, input.offset, base, input.source.count)
    })
  if (!isSound) {
    gathering.vertices.length = start
    for (const { indices } of gathering.channels.values()) indices.length = Math.min(indices.length, start)
    return false
  }
  reserveInt32(gathering.sizes, sizes.length).set(sizes, gathering.sizes.length)
  gathering.sizes.length += sizes.length
  const { materials } = gathering
  reserveInt32(materials, sizes.length).fill(material, materials.length, materials.length + sizes.length)
  materials.length += sizes.length
  return true
}

/** Where an input's indices go, filled up to a corner, and where its values begin among those of its channel. */
function channelOf(
  { channels }: Gathering,
  { semantic, set, source }: Input,
  start: number,
): { readonly indices: GrowingInt32; readonly base: number } {
  const key = `${semantic} ${set}`
  let channel = channels.get(key)
  // lists of several elements may lie in sources of their own: they are put behind each other
  if (!channel) {
    channel = { width: source.width, values: source.values, indices: growingInt32() }
    channels.set(key, channel)
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
    channels.set(key, channel)
  }
  const { indices } = channel
  const missing = start - indices.length
  if (missing > 0) {
    reserveInt32(indices, missing).fill(-1, indices.length, start)
    indices.length = start
  }
  return { indices, base: basesOf(channel).get(source.values) ?? 0 }
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
  border: NumberList,
  holes: readonly NumberList[],
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
