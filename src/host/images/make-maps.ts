/** Copies and makes the images of a plan, tile by tile. */
import sharp from 'sharp'
import { tilePattern } from '../../core/scene/image-tiles.ts'
import type { SceneImage } from '../../core/scene/scene.ts'
import type { ChannelSource } from '../../core/surfaces/remap/map-use.ts'
import { forTile, sourceFiles, type PlannedMap } from '../../core/surfaces/remap/plan-maps.ts'
import { asKnown } from './as-known.ts'
import { ImageRefused, readHeader, readPixels, refusal } from './read-pixels.ts'
import { heightToNormal } from '../../core/image/operations/height-to-normal.ts'
import { tagPng } from '../../core/image/codecs/tag-png.ts'
import { readColorSpace } from '../../core/image/read-color-space.ts'
import { decodeSrgb, encodeSrgb } from '../../core/image/transfer.ts'

/** As an image host makes them. */
export interface MadeMaps {
  readonly images: readonly SceneImage[]
  readonly failed: readonly { readonly path: string; readonly why: string }[]
}

/** @param bytesOf a file's bytes by its path; null where there is none. */
export async function makeMaps(
  plan: readonly PlannedMap[],
  names: readonly string[],
  bytesOf: (file: string) => Uint8Array | null,
  told: (share: number) => void = () => undefined,
): Promise<MadeMaps> {
  const images: SceneImage[] = []
  const failed: { path: string; why: string }[] = []
  for (const [at, map] of plan.entries()) {
    told(at / plan.length)
    const tiles = tilesOf(map, names)
    const parts: { label: string; entry: string; bytes: Uint8Array }[] = []
    for (const tile of tiles)
      try {
        const bytes = await makeOne(map, tile, bytesOf)
        if (bytes) parts.push({ label: tile ?? '', entry: forTile(map.path, tile), bytes })
      } catch (error) {
        if (!(error instanceof ImageRefused)) throw error
        failed.push({ path: forTile(map.path, tile), why: error.message })
      }
    const [first] = parts
    images.push({
      file: map.path,
      entry: first?.entry ?? null,
      bytes: first?.bytes ?? null,
      ...(first && tilePattern(map.path) ? { tiles: parts } : {}),
    })
  }
  return { images, failed }
}

/** Tiles that lie there of any of the plan's sources; one of null where it has none. */
function tilesOf(map: PlannedMap, names: readonly string[]): (string | null)[] {
  const pattern = tilePattern(map.path)
  if (!pattern) return [null]
  const labels = new Set<string>()
  for (const source of sourceFiles(map)) {
    const own = tilePattern(source)
    if (!own) continue
    const escaped = source
      .replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')
      .replace(/<(?:UDIM|UVTILE)>/, `(${own.source})`)
    const found = new RegExp(`^${escaped}$`, 'i')
    for (const name of names) {
      const label = found.exec(name)?.[1]
      if (label) labels.add(label.toLowerCase())
    }
  }
  return [...labels].sort()
}

async function makeOne(
  map: PlannedMap,
  tile: string | null,
  bytesOf: (file: string) => Uint8Array | null,
): Promise<Uint8Array | null> {
  const sourceOf = (file: string): Uint8Array => {
    const bytes = bytesOf(forTile(file, tile))
    if (!bytes) throw new ImageRefused(`“${forTile(file, tile)}” is missing`)
    return bytes
  }
  if (map.copies) {
    const bytes = bytesOf(forTile(map.copies, tile))
    // numbers that say they are colours are bent by whoever believes it; a colour that says it is linear may well be
    const isMistagged = bytes && map.colorSpace === 'linear' && readColorSpace(bytes) === 'sRGB'
    return isMistagged ? tagPng(bytes, 'linear') : bytes
  }
  if (map.heights) return normalsOf(map.heights, sourceOf(map.heights.file))
  const headers = await Promise.all(sourceFiles(map).map((file) => readHeader(sourceOf(file), file)))
  const width = Math.max(...headers.map((header) => header.width))
  const height = Math.max(...headers.map((header) => header.height))
  const isDeep = headers.some(({ bits }) => (bits ?? 8) > 8)
  const bands = await Promise.all(
    map.channels.map((channel, at) =>
      // opacity is no colour
      bandOf(channel, sourceOf, width, height, isDeep, at < 3 ? map.colorSpace : 'linear'),
    ),
  )
  const [first, ...rest] = bands
  try {
    const raw = { width, height, channels: 1 } as const
    let image = sharp(first!, { raw, limitInputPixels: false })
    if (rest.length) image = image.joinChannel(rest as never, { raw })
    image = image.toColourspace(isDeep ? (rest.length ? 'rgb16' : 'grey16') : rest.length ? 'srgb' : 'b-w')
    return new Uint8Array(await image.png({ compressionLevel: 6 }).toBuffer())
  } catch (error) {
    throw refusal(error)
  }
}

/** Heights as a map of normals, PNG of as many bits. */
async function normalsOf(
  { inverted, share, green }: NonNullable<PlannedMap['heights']>,
  bytes: Uint8Array,
): Promise<Uint8Array> {
  const heights = await readPixels(bytes)
  const { width, height, channels, values, bits } = heightToNormal(
    heights,
    share * heights.width * (inverted ? -1 : 1),
    green,
  )
  let image = sharp(values as Uint8Array, { raw: { width, height, channels }, limitInputPixels: false })
  if (bits !== 8) image = image.toColourspace('rgb16')
  return new Uint8Array(await image.png({ compressionLevel: 6 }).toBuffer())
}

/** One channel's numbers at the size of the whole, as whole steps. */
async function bandOf(
  channel: ChannelSource,
  sourceOf: (file: string) => Uint8Array,
  width: number,
  height: number,
  isDeep: boolean,
  space: 'sRGB' | 'linear',
): Promise<Uint8Array | Uint16Array> {
  const full = isDeep ? 65535 : 255
  const count = width * height
  if (typeof channel === 'number') {
    const value = Math.round(channel * full)
    return isDeep ? new Uint16Array(count).fill(value) : new Uint8Array(count).fill(value)
  }
  try {
    const source = await asKnown(sourceOf(channel.file))
    const { channels, depth } = await sharp(source, { limitInputPixels: false }).metadata()
    const at = 'rgba'.indexOf(channel.channel)
    // grey images have one value for all three; what has no opacity is opaque
    if (channel.channel === 'a' && channels !== 4 && channels !== 2)
      return isDeep ? new Uint16Array(count).fill(full) : new Uint8Array(count).fill(full)
    const index = (channels < 3 ? (channel.channel === 'a' ? 1 : 0) : at) as 0 | 1 | 2 | 3
    let image = sharp(source, { limitInputPixels: false })
    const sourceIsDeep = depth === 'ushort'
    if (sourceIsDeep) image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
    // take a channel out before it is resized, so that opacity never mixes into another
    const own = await image
      .extractChannel(index)
      .raw({ depth: sourceIsDeep ? 'ushort' : 'uchar' })
      .toBuffer({
        resolveWithObject: true,
      })
    const plain = own.data.buffer.slice(
      own.data.byteOffset,
      own.data.byteOffset + own.data.byteLength,
    ) as ArrayBuffer
    let values: Uint8Array | Uint16Array = sourceIsDeep ? new Uint16Array(plain) : new Uint8Array(plain)
    if (own.info.width !== width || own.info.height !== height) {
      const resized = await sharp(values, {
        raw: { width: own.info.width, height: own.info.height, channels: 1 },
      })
        .toColourspace(sourceIsDeep ? 'grey16' : 'b-w')
        .resize(width, height, { fit: 'fill', kernel: 'cubic' })
        .raw({ depth: sourceIsDeep ? 'ushort' : 'uchar' })
        .toBuffer()
      const bytes = resized.buffer.slice(
        resized.byteOffset,
        resized.byteOffset + resized.byteLength,
      ) as ArrayBuffer
      values = sourceIsDeep ? new Uint16Array(bytes) : new Uint8Array(bytes)
    }
    // 8 bits in 16: 257 times, so that white stays white
    if (isDeep && !sourceIsDeep) values = Uint16Array.from(values, (value) => value * 257)
    if (channel.inverted) for (let pixel = 0; pixel < count; pixel++) values[pixel] = full - values[pixel]!
    if (channel.mix) mixIn(values, channel.mix, full, space)
    return values
  } catch (error) {
    if (error instanceof ImageRefused) throw error
    throw refusal(error)
  }
}

/** Only a share of values that are steps, over a ground that is a value; mixed as light where they are colours. */
function mixIn(
  values: Uint8Array | Uint16Array,
  { share, ground }: { readonly share: number; readonly ground: number },
  full: number,
  space: 'sRGB' | 'linear',
): void {
  const table = Float32Array.from({ length: full + 1 }, (_, step) => {
    const own = space === 'sRGB' ? decodeSrgb(step / full) : step / full
    const mixed = ground * (1 - share) + own * share
    return Math.round(full * (space === 'sRGB' ? encodeSrgb(mixed) : mixed))
  })
  for (let at = 0; at < values.length; at++) values[at] = table[values[at]!]!
}
