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

/** What is drawn, wherever that is. */
export interface SurfaceDrawing {
  readonly meshes: readonly Mesh[]
  readonly drawing: Drawing
  /** Name of the set that is drawn into. */
  readonly set: string
  /** For each stroke of the drawing the images of its map. */
  readonly images: readonly (readonly StrokeImage[])[]
}

/** Plain data and arrays, for another thread. */
export interface TileDrawing extends SurfaceDrawing {
  readonly surface: TileSurface
  readonly padding: TexelPadding
  readonly size: number
  /** The drawn image is one channel of another, and unpacked again at once. */
  readonly isPassing: boolean
}

/** What a drawing came to, beside its pixels. */
export interface ToldOfDrawing {
  /** Paths that were not drawn, and why. */
  readonly failed: readonly { readonly file: string; readonly why: string }[]
  /** Images brighter than white. */
  readonly bright: readonly string[]
  /** Maps that are laid over others in a way that is not known. */
  readonly blends: readonly { readonly file: string; readonly blend: number }[]
}

export interface DrawnTile extends ToldOfDrawing {
  /** A PNG file. */
  readonly bytes: Uint8Array
}

export interface DrawnRows extends ToldOfDrawing {
  readonly pixels: Pixels
}

/** Kinds whose images keep more than 8 bits where any source has them. */
const DEEP_KINDS: ReadonlySet<string> = new Set(['normal', 'height'])

/** How many bits are kept of an image. */
export const bitsFor = (kind: Drawing['kind'], bits: Pixels['bits']): 8 | 16 =>
  bits === 16 || (bits === 32 && DEEP_KINDS.has(kind)) ? 16 : 8

/** A stroke and one of the images of its map. */
interface Look {
  readonly stroke: Stroke
  readonly source: StrokeImage
}

export async function drawTile(work: TileDrawing, reader: ImageReader): Promise<DrawnTile> {
  const { pixels, ...told } = await createDrawer(work, reader.pixels)(work.surface, work.padding)
  return { bytes: await reader.pack(pixels, work.drawing.colorSpace, work.isPassing), ...told }
}

/**
 * Draws some of a map's rows, or all, one after another; what they share is worked out once.
 * @param unpack asked for each image each time: whoever draws many rows keeps its answers.
 * @param bits of what is drawn; null: as many as the images have that these rows show.
 */
export function createDrawer(
  work: SurfaceDrawing,
  unpack: ImageReader['pixels'],
  bits: 8 | 16 | null = null,
): (surface: TileSurface, padding: TexelPadding) => Promise<DrawnRows> {
  const { drawing } = work
  const frames = createFrames(work.meshes)
  const covered = coveredBy(work)
  const ready = new WeakMap<Pixels, StrokeSource>()
  const isBright = knownOf(hasMoreThanWhite)
  return async (surface, padding) => {
    const { size, owners } = surface.cover
    const canvas = createCanvas(size, owners.length / size, drawing.channels, drawing.colorSpace)
    groundCanvas(canvas, surface, drawing, covered)
    const failed = new Map<string, string>()
    const bright = new Set<string>()
    const blends = new Map<string, number>()
    const shared = { frames, covered, ready, isBright }
    const isDeep = await drawAll(canvas, surface, work, unpack, shared, { failed, bright, blends })
    padCanvas(canvas, padding)
    return {
      pixels: canvasPixels(canvas, bits ?? (isDeep ? 16 : 8)),
      failed: [...failed].map(([file, why]) => ({ file, why })),
      bright: [...bright],
      blends: [...blends].map(([file, blend]) => ({ file, blend })),
    }
  }
}

interface Shared {
  readonly frames: ReturnType<typeof createFrames>
  readonly covered: ReadonlySet<number>
  readonly ready: WeakMap<Pixels, StrokeSource>
  readonly isBright: (pixels: Pixels) => boolean
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
function coveredBy({ drawing, images }: SurfaceDrawing): ReadonlySet<number> {
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
  surface: TileSurface,
  { meshes, drawing, set, images }: SurfaceDrawing,
  unpack: ImageReader['pixels'],
  { frames, covered, ready, isBright }: Shared,
  { failed, bright, blends }: Told,
): Promise<boolean> {
  let isDeep = false
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
    const [
      {
        source: { path, tile },
      },
    ] = group as [Look]
    if ('why' in answer) {
      failed.set(path, answer.why)
      for (const { stroke } of group)
        if (covered.has(stroke.material)) groundMaterial(canvas, surface, drawing, stroke.material)
      continue
    }
    if (answer.bits === 32 && isBright(answer)) bright.add(path)
    isDeep ||= bitsFor(drawing.kind, answer.bits) === 16
    let pixels: Pixels | null = null
    const singles = new Map<number, Pixels>()
    for (const { stroke } of group) {
      const single = singleChannel(answer, drawing, stroke)
      const own = single === null ? asNormals(drawing, stroke) : asSingle(stroke)
      if (single !== null) {
        pixels = singles.get(single) ?? channelAlone(answer, single)
        singles.set(single, pixels)
      } else if (own !== stroke || !pixels) pixels = prepared(answer, drawing, stroke)
      const source = strokeSource(own, drawing, pixels, tile, ready.get(pixels) ?? null)
      ready.set(pixels, source)
      const done = drawStroke(
        canvas,
        surface,
        meshes,
        drawing,
        own,
        source,
        tile,
        drawing.kind === 'normal' ? frames(stroke.use.uvSet, set) : null,
        covered.has(stroke.material),
      )
      if (done === null)
        failed.set(path, 'it is a decal without an opacity of its own, and would cover everything')
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

const hasMoreThanWhite = ({ values }: Pixels): boolean => {
  for (const value of values) if (value > 1) return true
  return false
}

/** Asked once for each image. */
function knownOf(ask: (pixels: Pixels) => boolean): (pixels: Pixels) => boolean {
  const known = new WeakMap<Pixels, boolean>()
  return (pixels) => {
    const before = known.get(pixels)
    if (before !== undefined) return before
    const found = ask(pixels)
    known.set(pixels, found)
    return found
  }
}
