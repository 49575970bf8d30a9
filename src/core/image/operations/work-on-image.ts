/** An operation on one image, or on those that become others together: by rows where it can be, else as a whole. */
import type { OptionValues } from '../../base/options/option.ts'
import { BrokenRows, type ImageWorker, type RowReader } from '../image-reader.ts'
import type { Pixels } from '../pixels.ts'
import { readColorSpace } from '../read-color-space.ts'
import { ImageRefusal, type ImageOperation, type IslandPadding, type NamedPixels } from './operation.ts'
import { rowsOf } from './row-work.ts'

export interface ImageFile {
  readonly name: string
  readonly bytes: Uint8Array
}

export interface ImageWork {
  readonly files: readonly ImageFile[]
  /** What was not done, and why. */
  readonly refused: readonly { readonly file: string; readonly why: string }[]
  /** What was measured of it, in words. */
  readonly notes?: readonly string[]
}

/** Values of one strip, about; an image of no more is worked on as a whole. */
const STRIP_VALUES = 2 ** 21

/** Endings of kinds of files that have another than their name. */
const ENDINGS: Readonly<Record<string, string>> = { jpeg: 'jpg', tiff: 'tif' }

/** Without the ending of a kind of image: a tile's number is none. */
const bare = (name: string): string => name.replace(/\.(png|jpe?g|tiff?|webp|exr|hdr|tga|bmp|gif|avif)$/i, '')

export async function workOnImage(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly ImageFile[],
  images: ImageWorker,
  told: (share: number) => void = () => undefined,
  stripValues = STRIP_VALUES,
  islands?: IslandPadding,
): Promise<ImageWork> {
  // what said of itself that it is a colour still does, where it still is one
  const space = spaceAfter(
    operation,
    options,
    given.map(({ bytes }) => readColorSpace(bytes)),
  )
  try {
    return {
      files:
        (await byRows(operation, options, given, images, space, told, stripValues)) ??
        (await streamed(operation, options, given, images, space, told, stripValues)) ??
        (await whole(operation, options, given, images, space, islands)),
      refused: [],
    }
  } catch (error) {
    if (error instanceof NotRead) return { files: [], refused: error.refused }
    if (error instanceof ImageRefusal)
      return { files: [], refused: [{ file: given[0]?.name ?? '', why: error.message }] }
    throw error
  }
}

class NotRead extends Error {
  readonly refused: ImageWork['refused']
  constructor(refused: ImageWork['refused']) {
    super('not read')
    this.refused = refused
  }
}

async function whole(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly ImageFile[],
  images: ImageWorker,
  space: 'sRGB' | 'linear',
  islands?: IslandPadding,
): Promise<ImageFile[]> {
  const read: NamedPixels[] = []
  const refused: { file: string; why: string }[] = []
  for (const { name, bytes } of given) {
    const answer = await images.pixels(bytes)
    if ('why' in answer) refused.push({ file: name, why: answer.why })
    else read.push({ name, pixels: answer })
  }
  if (refused.length) throw new NotRead(refused)
  const files: ImageFile[] = []
  for (const { name, pixels, as } of operation.run(read, options, 0, islands)) {
    if (as) {
      files.push({
        name: `${bare(name)}.${ENDINGS[as.kind] ?? as.kind}`,
        bytes: await images.packAs(pixels, space, as),
      })
      continue
    }
    const isFloat = pixels.bits === 32
    files.push({
      name: `${bare(name)}${isFloat ? '.exr' : '.png'}`,
      bytes: isFloat ? await images.packFloats(pixels) : await images.pack(pixels, space),
    })
  }
  return files
}

/** Rows and those above and below that an operation looks at besides. */
interface Strip {
  readonly pixels: Pixels
  /** Rows of it that stand before and behind its own. */
  readonly before: number
  readonly behind: number
}

/** @returns null where the operation or one of the files needs the whole, or is small enough for it. */
async function byRows(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly ImageFile[],
  images: ImageWorker,
  space: 'sRGB' | 'linear',
  told: (share: number) => void,
  stripValues: number,
): Promise<ImageFile[] | null> {
  const { byRows: by } = operation
  const readers = by ? given.map(({ bytes }) => images.rows(bytes)) : []
  const [first] = readers
  if (!by || !first || readers.some((reader) => reader === null)) return null
  const { width, height, channels } = first.form
  if (width * height * channels <= stripValues) return null
  // of different sizes: the whole says which
  if (readers.some((reader) => reader!.form.width !== width || reader!.form.height !== height)) return null
  const rowCount = Math.max(1, Math.floor(stripValues / (width * channels)))
  const packers: { name: string; packer: ReturnType<ImageWorker['packRows']> }[] = []
  try {
    const sources = readers.map((reader) => stripsOf(reader!, rowCount, by.border))
    for (let row = 0; row < height; row += rowCount) {
      told(row / height)
      const strips: NamedPixels[] = []
      let own: Strip | null = null
      for (const [at, source] of sources.entries()) {
        const strip = await source()
        if (!strip) return null
        own ??= strip
        strips.push({ name: given[at]!.name, pixels: strip.pixels })
      }
      const made = operation.run(strips, options, (row - own!.before) * width * channels)
      for (const [at, { name, pixels }] of made.entries()) {
        if (pixels.bits === 32) return null
        const packer = (packers[at] ??= {
          name: `${bare(name)}.png`,
          packer: images.packRows({ ...pixels, height }, space),
        }).packer
        await packer.add(withoutBorder(pixels, own!))
      }
    }
    const files: ImageFile[] = []
    for (const { name, packer } of packers) files.push({ name, bytes: await packer.end() })
    return files
  } catch (error) {
    // a file that is broken behind its header is said to be so by whoever unpacks it as a whole
    if (error instanceof BrokenRows) return null
    throw error
  }
}

/** @returns null as `byRows` does. */
async function streamed(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly ImageFile[],
  images: ImageWorker,
  space: 'sRGB' | 'linear',
  told: (share: number) => void,
  stripValues: number,
): Promise<ImageFile[] | null> {
  const readers = operation.streamed ? given.map(({ bytes }) => images.rows(bytes)) : []
  if (!operation.streamed || readers.length === 0 || readers.some((reader) => reader === null)) return null
  const forms = readers.map((reader) => reader!.form)
  const sizes = forms.map(({ width, height, channels }) => width * height * channels)
  const total = sizes.reduce((sum, size) => sum + size, 0)
  if (total <= stripValues) return null
  const work = operation.streamed(
    given.map(({ name }, at) => ({ name, form: forms[at]! })),
    options,
    ({ width, channels }) => Math.max(1, Math.floor(stripValues / (width * channels))),
  )
  const packers = new Map<string, ReturnType<ImageWorker['packRows']>>()
  let done = 0
  try {
    for (let step = work.next(); !step.done;) {
      const asked = step.value
      if ('take' in asked) {
        const rows = await readers[asked.take]!.next(asked.rows)
        if (!rows) return null
        done += rows.values.length
        told(done / total)
        step = work.next(rows)
        continue
      }
      let packer = packers.get(asked.give)
      if (!packer) packers.set(asked.give, (packer = images.packRows(asked.form, space)))
      await packer.add(asked.rows)
      step = work.next()
    }
  } catch (error) {
    if (error instanceof BrokenRows) return null
    throw error
  }
  const files: ImageFile[] = []
  for (const [name, packer] of packers) files.push({ name: `${bare(name)}.png`, bytes: await packer.end() })
  return files
}

function withoutBorder(pixels: Pixels, { before, behind }: Strip): Pixels {
  const line = pixels.width * pixels.channels
  return {
    ...pixels,
    height: pixels.height - before - behind,
    values: pixels.values.subarray(before * line, (pixels.height - behind) * line),
  }
}

/** Strips one after another, each with `border` rows of its neighbours; null behind the last. */
function stripsOf(reader: RowReader, rowCount: number, border: number): () => Promise<Strip | null> {
  let held: Pixels | null = null
  let above = 0
  let isOver = false
  return async () => {
    // the rows of this strip, and the border below
    const before: Pixels | null = held
    const has = before ? before.height - above : 0
    const more = isOver ? null : await reader.next(rowCount + border - has)
    if (!more || more.height < rowCount + border - has) isOver = true
    const pixels = joined(before, more)
    if (!pixels || pixels.height === above) return null
    const own = Math.min(rowCount, pixels.height - above)
    const strip: Strip = { pixels, before: above, behind: pixels.height - above - own }
    // what the next one begins with: the border above, and what was read already
    const nextAbove = Math.min(border, above + own)
    held = rowsOf(pixels, above + own - nextAbove, pixels.height)
    above = nextAbove
    return strip
  }
}

function joined(a: Pixels | null, b: Pixels | null): Pixels | null {
  if (!a || a.height === 0) return b
  if (!b) return a
  const values = new (a.values.constructor as new (length: number) => Pixels['values'])(
    a.values.length + b.values.length,
  )
  values.set(a.values)
  values.set(b.values, a.values.length)
  return { ...a, height: a.height + b.height, values }
}

function spaceAfter(
  { id, keepsSpace }: ImageOperation,
  options: OptionValues,
  said: readonly ('sRGB' | 'linear' | null)[],
): 'sRGB' | 'linear' {
  if (id === 'change-space') return options['to'] as 'sRGB' | 'linear'
  return keepsSpace && said.length > 0 && said.every((one) => one === 'sRGB') ? 'sRGB' : 'linear'
}
