/**
 * One tile of one map for all: what each material has at each pixel, through its own UVs, one image of a map at a time.
 * It asks for nothing but pixels and a packer, so that each image can be drawn in a thread of its own.
 */
import { heightToNormal } from '../../image/operations/height-to-normal.ts'
import type { ImageReader } from '../../image/image-reader.ts'
import type { Pixels } from '../../image/pixels.ts'
import type { UvTile } from '../../scene/image-tiles.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { TexelPadding } from '../../uv/texels/pad-texels.ts'
import { HEIGHT_SHARE } from '../remap/plan-maps.ts'
import { canvasPixels, createCanvas, fillCanvas, padCanvas, type Canvas } from './canvas.ts'
import { channelsOf, drawStroke, isKnownBlend, strokeSource, type StrokeSource } from './draw-stroke.ts'
import type { TileSurface } from './drawn-surface.ts'
import type { Drawing, Stroke } from './plan-one-map.ts'
import { createFrames } from './turn-normals.ts'

export interface StrokeImage {
  readonly bytes: Uint8Array
  readonly path: string
  /** Square of the UVs that it shows; null: all. */
  readonly tile: UvTile | null
}

/** Plain data and arrays, for another thread. */
export interface TileDrawing {
  readonly surface: TileSurface
  readonly padding: TexelPadding
  readonly meshes: readonly Mesh[]
  readonly drawing: Drawing
  readonly size: number
  /** Name of the set that is drawn into. */
  readonly set: string
  /** For each stroke of the drawing the images of its map. */
  readonly images: readonly (readonly StrokeImage[])[]
  /** The drawn image is one channel of another, and unpacked again at once. */
  readonly isPassing: boolean
}

export interface DrawnTile {
  /** A PNG file. */
  readonly bytes: Uint8Array
  /** Paths that were not drawn, and why. */
  readonly failed: readonly { readonly file: string; readonly why: string }[]
  /** Images brighter than white. */
  readonly bright: readonly string[]
  /** Maps that are laid over others in a way that is not known. */
  readonly blends: readonly { readonly file: string; readonly blend: number }[]
}

/** Kinds whose images keep more than 8 bits where any source has them. */
const DEEP_KINDS: ReadonlySet<string> = new Set(['normal', 'height'])

/** A stroke and one of the images of its map. */
interface Look {
  readonly stroke: Stroke
  readonly source: StrokeImage
}

export async function drawTile(work: TileDrawing, reader: ImageReader): Promise<DrawnTile> {
  const { surface, padding, drawing, size } = work
  const canvas = createCanvas(size, drawing.channels, drawing.colorSpace)
  groundCanvas(canvas, surface, drawing, coveredBy(work))
  const failed = new Map<string, string>()
  const bright = new Set<string>()
  const blends = new Map<string, number>()
  const isDeep = await drawAll(canvas, work, reader, { failed, bright, blends })
  padCanvas(canvas, padding)
  return {
    bytes: await reader.pack(canvasPixels(canvas, isDeep ? 16 : 8), drawing.colorSpace, work.isPassing),
    failed: [...failed].map(([file, why]) => ({ file, why })),
    bright: [...bright],
    blends: [...blends].map(([file, blend]) => ({ file, blend })),
  }
}

interface Told {
  readonly failed: Map<string, string>
  readonly bright: Set<string>
  readonly blends: Map<string, number>
}

/**
 * Each material's own value on its polygons, and past them that of the first.
 * @param covered materials whose every pixel something else is drawn on.
 */
function groundCanvas(
  canvas: Canvas,
  surface: TileSurface,
  drawing: Drawing,
  covered: ReadonlySet<number>,
): void {
  fillCanvas(canvas, [...drawing.grounds.values()][0]!)
  for (const material of surface.texels.keys())
    if (!covered.has(material)) groundMaterial(canvas, surface, drawing, material)
}

function groundMaterial(canvas: Canvas, surface: TileSurface, drawing: Drawing, material: number): void {
  const { values, channels } = canvas
  const steps = drawing.grounds.get(material)!.map(canvas.encode)
  for (const at of surface.texels.get(material)!)
    for (let channel = 0; channel < channels; channel++) values[at * channels + channel] = steps[channel]!
}

/** Materials with one map that lies over all of it: its stroke leaves the ground where the map has no UVs. */
function coveredBy({ drawing, images }: TileDrawing): ReadonlySet<number> {
  const strokesOf = new Map<number, number[]>()
  drawing.strokes.forEach(({ material }, at) => {
    strokesOf.set(material, [...(strokesOf.get(material) ?? []), at])
  })
  return new Set(
    [...strokesOf].flatMap(([material, [first, ...rest]]) => {
      const [image, ...others] = images[first!]!
      const isAll =
        rest.length === 0 &&
        drawing.strokes[first!]!.layer === null &&
        others.length === 0 &&
        image !== undefined &&
        image.tile === null
      return isAll ? [material] : []
    }),
  )
}

/** @returns whether a source has more than 8 bits that are worth keeping. */
async function drawAll(
  canvas: Canvas,
  work: TileDrawing,
  { pixels: unpack }: ImageReader,
  { failed, bright, blends }: Told,
): Promise<boolean> {
  const { surface, meshes, drawing, set, images } = work
  const covered = coveredBy(work)
  let isDeep = false
  const frames = createFrames(meshes)
  const looks: Look[] = []
  drawing.strokes.forEach((stroke, at) => {
    if (!surface.texels.has(stroke.material)) return
    const { file } = stroke.use
    const found = images[at]!
    if (found.length === 0) failed.set(file, 'it is missing')
    if (stroke.layer && !isKnownBlend(stroke.layer.blend)) blends.set(file, stroke.layer.blend)
    looks.push(...found.map((source) => ({ stroke, source })))
  })
  // materials that share an image follow each other, layers keep their order over their own material
  looks.sort((a, b) => Number(a.stroke.layer !== null) - Number(b.stroke.layer !== null))
  const wanted = bySource(looks)
  let read = wanted.length ? unpack(wanted[0]![0]!.source.bytes) : null
  for (const [at, group] of wanted.entries()) {
    const answer = await read!
    // the next image is unpacked while this one is drawn
    const [next] = wanted[at + 1] ?? []
    read = next ? unpack(next.source.bytes) : null
    const [{ source }] = group as [Look]
    if ('why' in answer) {
      failed.set(source.path, answer.why)
      for (const { stroke } of group)
        if (covered.has(stroke.material)) groundMaterial(canvas, surface, drawing, stroke.material)
      continue
    }
    if (answer.bits === 32 && isBright(answer)) bright.add(source.path)
    isDeep ||= answer.bits !== 8 && (DEEP_KINDS.has(drawing.kind) || answer.bits === 16)
    let ready: StrokeSource | null = null
    let pixels: Pixels | null = null
    const singles = new Map<number, Pixels>()
    for (const { stroke } of group) {
      const single = singleChannel(answer, drawing, stroke)
      const own = single === null ? asNormals(drawing, stroke) : asSingle(stroke)
      if (single !== null) {
        pixels = singles.get(single) ?? channelAlone(answer, single)
        singles.set(single, pixels)
      } else if (own !== stroke || !pixels) pixels = prepared(answer, drawing, stroke)
      ready = strokeSource(own, drawing, pixels, source.tile, ready)
      const done = drawStroke(
        canvas,
        surface,
        meshes,
        drawing,
        own,
        ready,
        source.tile,
        drawing.kind === 'normal' ? frames(stroke.use.uvSet, set) : null,
        covered.has(stroke.material),
      )
      if (done === null)
        failed.set(source.path, 'it is a decal without an opacity of its own, and would cover everything')
    }
  }
  return isDeep
}

/** Looks at one image that follow each other. */
function bySource(looks: readonly Look[]): Look[][] {
  const groups: Look[][] = []
  // what covers its ground can be drawn in any order; layers can't
  const plain = new Map<Uint8Array, Look[]>()
  for (const look of looks) {
    const known = look.stroke.layer ? undefined : plain.get(look.source.bytes)
    if (known) known.push(look)
    else {
      const group = [look]
      groups.push(group)
      if (!look.stroke.layer) plain.set(look.source.bytes, group)
    }
  }
  return groups
}

/** The one channel that a number is drawn of, where an image has others beside it: a third of the looking up. */
function singleChannel({ channels }: Pixels, drawing: Drawing, { layer, use }: Stroke): number | null {
  if (drawing.channels !== 1 || layer || channels < 3) return null
  const [channel] = channelsOf(use.channel, channels, 1)
  return channel! < 0 ? null : channel!
}
const asSingle = (stroke: Stroke): Stroke => ({ ...stroke, use: { ...stroke.use, channel: 'r' } })

function channelAlone(pixels: Pixels, channel: number): Pixels {
  const { width, height, channels, values } = pixels
  const own = new (values.constructor as new (length: number) => Pixels['values'])(width * height)
  for (let at = 0, from = channel; at < own.length; at++, from += channels) own[at] = values[from]!
  return { ...pixels, channels: 1, values: own }
}

/** Heights where normals are drawn. */
const isHeights = ({ kind }: Drawing, { use }: Stroke): boolean =>
  kind === 'normal' && (use.slot === 'bump' || use.slot === 'displacement')

/** A stroke of heights as one of the normals that are made of them. */
const asNormals = (drawing: Drawing, stroke: Stroke): Stroke =>
  isHeights(drawing, stroke)
    ? { ...stroke, share: 1, use: { ...stroke.use, inverted: false, direction: 'up', channel: 'rgb' } }
    : stroke

function prepared(pixels: Pixels, drawing: Drawing, stroke: Stroke): Pixels {
  if (!isHeights(drawing, stroke)) return pixels
  const { inverted } = stroke.use
  return heightToNormal(pixels, HEIGHT_SHARE * stroke.share * pixels.width * (inverted ? -1 : 1))
}

const isBright = ({ values }: Pixels): boolean => {
  for (const value of values) if (value > 1) return true
  return false
}
