/** An operation on images, as forms and the command line are made from it; one a file. */
import type { OptionDescriptor, OptionValues } from '../../base/options/option.ts'
import type { FileKind } from '../file-kinds.ts'
import type { ImageForm } from '../image-reader.ts'
import { fullScale, type Pixels } from '../pixels.ts'

/** An image that is asked for rows: which one, and how many follow; the answer has fewer only at its end. */
export interface TakeRows {
  readonly take: number
  readonly rows: number
}

/** Rows of an image that becomes, from its top; none of them where it only begins. */
export interface GiveRows {
  readonly give: string
  readonly form: ImageForm
  readonly rows: Pixels
}

export type RowWork = Generator<TakeRows | GiveRows, void, Pixels>

/**
 * @param rowsAtOnce how many rows of an image of that form may be in memory.
 * @throws ImageRefusal before a row is taken, where these images can't be worked on so.
 */
export type StreamedWork = (
  given: readonly { readonly name: string; readonly form: ImageForm }[],
  options: OptionValues,
  rowsAtOnce: (form: ImageForm) => number,
) => RowWork

export interface NamedPixels {
  /** Path, without what it becomes. */
  readonly name: string
  readonly pixels: Pixels
  /** The kind of file that is asked for; absent: PNG, floats as EXR. */
  readonly as?: { readonly kind: FileKind; readonly quality: number }
}

/**
 * Pixels past the borders of a model's islands, and which each repeats.
 * @param name the image's, which may say a tile. @param size pixels on a side. @param width rings of pixels.
 * @returns null where the model has no islands there.
 */
export type IslandPadding = (
  name: string,
  size: number,
  width: number,
) => { readonly texels: ArrayLike<number>; readonly from: ArrayLike<number> } | null

export interface ImageOperation {
  /** The file's name. */
  readonly id: string
  readonly title: string
  readonly description: string
  /** each: every image by itself; all: several become others. */
  readonly takes: 'each' | 'all'
  readonly options: readonly OptionDescriptor[]
  /** Each row of the result comes of the same row and so many above and below it; absent: it needs the whole. */
  readonly byRows?: { readonly border: number }
  /** It makes images of other rows than it is given, some of them at a time; `run` does the same at once. */
  readonly streamed?: StreamedWork
  /** It asks for the islands of a model. */
  readonly needsIslands?: true
  /** It draws from one UV set of the model into another: by the app, which has the model. */
  readonly carries?: true
  /** What was a colour is one after it. */
  readonly keepsSpace?: true
  /**
   * @param given as large as the image has them; of one image where each is taken by itself; some rows of them where it
   * works by rows.
   * @param first which value of the whole image the first one given is.
   * @throws ImageRefusal where these images can't be worked on so.
   */
  readonly run: (
    given: readonly NamedPixels[],
    options: OptionValues,
    first?: number,
    islands?: IslandPadding,
  ) => NamedPixels[]
}

/** Why an operation can't be done on what it was given, in words. */
export class ImageRefusal extends Error {}

/** A choice that says how pixels are mixed: as light, as plain numbers, as directions, or not at all. */
export const HOW_MIXED: OptionDescriptor = {
  id: 'kind',
  title: 'Its pixels are',
  kind: 'choice',
  default: 'color',
  choices: [
    { value: 'color', title: 'colours' },
    { value: 'data', title: 'plain numbers' },
    { value: 'normals', title: 'normals' },
    { value: 'id', title: 'codes' },
  ],
}

/** Each operation on its own image. */
export const eachImage =
  (work: (pixels: Pixels, options: OptionValues, first: number) => Pixels): ImageOperation['run'] =>
  (given, options, first = 0) =>
    given.map(({ name, pixels }) => ({ name, pixels: work(pixels, options, first) }))

/** Channels of colour; the one behind them, where there is one, is opacity. */
export const colorChannels = ({ channels }: Pick<Pixels, 'channels'>): number =>
  channels === 2 || channels === 4 ? channels - 1 : channels

/** An image of the same form whose values are others. @param work of a value from 0 to 1, and its channel. */
export function mapPixels(pixels: Pixels, work: (value: number, channel: number) => number): Pixels {
  const { channels, values } = pixels
  const full = fullScale(pixels)
  const out = emptyLike(pixels)
  for (let at = 0; at < values.length; at++) out[at] = stepOf(work(values[at]! / full, at % channels), pixels)
  return { ...pixels, values: out }
}

export function emptyLike(like: Pick<Pixels, 'bits' | 'values'>): Pixels['values']
export function emptyLike(like: Pick<Pixels, 'bits'>, length: number): Pixels['values']
export function emptyLike(
  { bits, values }: Pick<Pixels, 'bits'> & Partial<Pick<Pixels, 'values'>>,
  length = values!.length,
): Pixels['values'] {
  return bits === 8
    ? new Uint8Array(length)
    : bits === 16
      ? new Uint16Array(length)
      : new Float32Array(length)
}

/** A value from 0 to 1 as it is stored: cut off at the ends of whole steps, floats as they are. */
export const stepOf = (value: number, { bits }: Pick<Pixels, 'bits'>): number =>
  bits === 32 ? value : Math.round((value > 0 ? (value < 1 ? value : 1) : 0) * (bits === 8 ? 255 : 65535))
