/** A tree as the bytes of an Ogawa file. Source: as in archive-tree.ts. */
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { PODS, type AbcArchive, type AbcObject, type AbcProperty } from './archive-tree.ts'

const DATA = 0x80000000

/** A file that is written from its leaves up: what is written has a place. */
class ArchiveWriter {
  private blocks: Uint8Array[] = []
  private length = 16
  private readonly known = new Map<string, readonly [number, number]>()

  private append(bytes: Uint8Array): number {
    const at = this.length
    this.blocks.push(bytes)
    this.length += bytes.length
    return at
  }
  /** @returns low and high word of the place, with the bit of data. */
  data(parts: readonly Uint8Array[], key?: string): readonly [number, number] {
    const size = parts.reduce((sum, part) => sum + part.length, 0)
    if (size === 0) return [0, DATA]
    const before = key === undefined ? undefined : this.known.get(`${key} ${size}`)
    if (before) return before
    const head = new Uint8Array(8)
    new DataView(head.buffer).setBigUint64(0, BigInt(size), true)
    const at = this.append(head)
    for (const part of parts) this.append(part)
    const place = [at >>> 0, (Math.floor(at / 2 ** 32) | DATA) >>> 0] as const
    if (key !== undefined) this.known.set(`${key} ${size}`, place)
    return place
  }
  group(children: readonly (readonly [number, number])[]): readonly [number, number] {
    if (children.length === 0) return [0, 0]
    const bytes = new Uint8Array(8 + 8 * children.length)
    const view = new DataView(bytes.buffer)
    view.setBigUint64(0, BigInt(children.length), true)
    children.forEach(([low, high], index) => {
      view.setUint32(8 + 8 * index, low, true)
      view.setUint32(12 + 8 * index, high, true)
    })
    const at = this.append(bytes)
    return [at >>> 0, Math.floor(at / 2 ** 32)]
  }
  finish(root: readonly [number, number]): Uint8Array {
    const out = new Uint8Array(this.length)
    for (let at = 0; at < 5; at++) out[at] = 'Ogawa'.charCodeAt(at)
    out[5] = 0xff
    out[7] = 1
    const view = new DataView(out.buffer)
    view.setUint32(8, root[0], true)
    view.setUint32(12, root[1], true)
    let at = 16
    for (const block of this.blocks) {
      out.set(block, at)
      at += block.length
    }
    return out
  }
}

/** Sixteen bytes by what a sample holds, so that readers who keep samples by their keys never mistake one for another. */
export function keyOf(bytes: Uint8Array, kind: number): Uint8Array {
  // four lanes of FNV-1a over words, with seeds of their own (Fowler, Noll, Vo)
  let [a, b, c, d] = [0x811c9dc5 ^ kind, 0x01000193 ^ bytes.length, 0x9e3779b9, 0x85ebca6b]
  const whole = bytes.length >>> 2
  const words = bytes.byteOffset % 4 === 0 ? new Uint32Array(bytes.buffer, bytes.byteOffset, whole) : null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const take = (word: number, at: number): void => {
    a = Math.imul(a ^ word, 0x01000193)
    b = Math.imul(b ^ (word + at), 0x5bd1e995)
    c = Math.imul((c ^ word) + (c << 7), 0x27d4eb2f)
    d = Math.imul((d << 5) ^ (d >>> 27) ^ word, 0x9e3779b1)
  }
  for (let at = 0; at < whole; at++) take(words ? words[at]! : view.getUint32(4 * at, true), at)
  for (let at = 4 * whole; at < bytes.length; at++) take(bytes[at]! + 0x100, at)
  const lanes = [a, b, c, d].map((lane) => Math.imul(lane ^ (lane >>> 15), 0x85ebca6b) ^ (lane >>> 13))
  const key = new Uint8Array(16)
  const told = new DataView(key.buffer)
  lanes.forEach((lane, index) => told.setUint32(4 * index, lane >>> 0, true))
  return key
}

const hex = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('')

/** The same tree gives the same bytes. */
export function writeArchive({ version, metadata, samplings, root }: AbcArchive): Uint8Array {
  const writer = new ArchiveWriter()
  /** Words that many things share stand once, up to 254 of them of at most 255 bytes. */
  const indexed = new Map<string, number>([['', 0]])
  const indexOf = (words: string): number => {
    const known = indexed.get(words)
    if (known !== undefined) return known
    if (indexed.size > 253 || encodeUtf8(words).length > 255) return 0xff
    indexed.set(words, indexed.size)
    return indexed.size - 1
  }
  const u32 = (value: number): Uint8Array => {
    const bytes = new Uint8Array(4)
    new DataView(bytes.buffer).setUint32(0, value, true)
    return bytes
  }

  const writeProperty = (property: AbcProperty): readonly [number, number] => {
    if (property.kind === 'compound') return writeProperties(property.properties)
    const pod = PODS.indexOf(property.pod)
    const children: (readonly [number, number])[] = []
    for (const { bytes, dimensions } of property.samples) {
      const key = keyOf(bytes, 256 * pod + property.extent)
      children.push(writer.data([key, bytes], hex(key)))
      if (property.kind === 'scalar') continue
      const lengths = new Uint8Array(8 * dimensions.length)
      const view = new DataView(lengths.buffer)
      dimensions.forEach((length, index) => view.setBigUint64(8 * index, BigInt(length), true))
      children.push(writer.data([lengths]))
    }
    return writer.group(children)
  }
  const writeProperties = (properties: readonly AbcProperty[]): readonly [number, number] => {
    if (properties.length === 0) return [0, 0]
    const children = properties.map(writeProperty)
    const headers: Uint8Array[] = []
    for (const property of properties) {
      const name = encodeUtf8(property.name)
      const words = encodeUtf8(property.metadata)
      const number = indexOf(property.metadata)
      const isCompound = property.kind === 'compound'
      const counts = isCompound ? [] : [property.count, property.firstChanged, property.lastChanged, property.timeSampling] // prettier-ignore
      const largest = Math.max(name.length, words.length, ...counts)
      const hint = largest < 256 ? 0 : largest < 65536 ? 1 : 2
      const values: number[] = []
      let info = (hint << 2) | (number << 20)
      if (!isCompound) {
        const isConstant = property.firstChanged === 0 && property.lastChanged === 0
        const isPlain = property.firstChanged === 1 && property.lastChanged === property.count - 1
        info |= property.kind === 'scalar' ? 1 : 2
        info |= PODS.indexOf(property.pod) << 4
        info |= property.extent << 12
        // the same number of elements in each sample
        if (new Set(property.samples.map(({ bytes }) => bytes.length)).size <= 1) info |= 0x400
        values.push(property.count)
        if (isConstant) info |= 0x800
        else if (!isPlain) {
          info |= 0x200
          values.push(property.firstChanged, property.lastChanged)
        }
        if (property.timeSampling !== 0) {
          info |= 0x100
          values.push(property.timeSampling)
        }
      }
      const hinted = (value: number): Uint8Array => u32(value).slice(0, [1, 2, 4][hint])
      headers.push(u32(info), ...values.map(hinted), hinted(name.length), name)
      if (number === 0xff) headers.push(hinted(words.length), words)
    }
    return writer.group([...children, writer.data(headers)])
  }
  const writeObject = ({ properties, children }: AbcObject): readonly [number, number] => {
    const own = writeProperties(properties)
    const below = children.map(writeObject)
    const headers: Uint8Array[] = []
    for (const child of children) {
      const name = encodeUtf8(child.name)
      const words = encodeUtf8(child.metadata)
      const number = indexOf(child.metadata)
      headers.push(u32(name.length), name, Uint8Array.of(number))
      if (number === 0xff) headers.push(u32(words.length), words)
    }
    // hashes of what is beneath: by the places, which no two contents share
    const beneath = new Uint8Array(8 * (below.length + 1))
    const view = new DataView(beneath.buffer)
    ;[own, ...below].forEach(([low, high], index) => {
      view.setUint32(8 * index, low, true)
      view.setUint32(8 * index + 4, high, true)
    })
    headers.push(keyOf(beneath.subarray(0, 8), 1), keyOf(beneath, 2))
    return writer.group([own, ...below, writer.data(headers)])
  }
  const top = writeObject(root)
  const times = samplings.flatMap(({ maxSample, perCycle, times: own }) => {
    const bytes = new Uint8Array(16 + 8 * own.length)
    const view = new DataView(bytes.buffer)
    view.setUint32(0, maxSample, true)
    view.setFloat64(4, perCycle, true)
    view.setUint32(12, own.length, true)
    own.forEach((time, index) => view.setFloat64(16 + 8 * index, time, true))
    return [bytes]
  })
  const words = [...indexed.keys()].slice(1).map((text) => {
    const bytes = encodeUtf8(text)
    return Uint8Array.from([bytes.length, ...bytes])
  })
  return writer.finish(
    writer.group([
      writer.data([u32(0)]),
      writer.data([u32(version)]),
      top,
      writer.data([encodeUtf8(metadata)]),
      writer.data(times),
      writer.data(words),
    ]),
  )
}
