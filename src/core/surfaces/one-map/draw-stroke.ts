/** One map of one material, drawn pixel by pixel through its own UVs into those of another set. */
import type { Pixels } from '../../image/pixels.ts'
import { createSampler, footprintOf, type Footprint, type Sampler } from '../../image/sample-image.ts'
import type { MeshFrames } from './turn-normals.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { UvTile } from '../../scene/image-tiles.ts'
import { nearestOnTriangle, texelCorners } from '../../uv/texels/cover-texels.ts'
import { PLAIN_PLACEMENT } from '../remap/map-use.ts'
import { FULL, type Canvas } from './canvas.ts'
import { setOf, type TileSurface } from './drawn-surface.ts'
import type { Drawing, Stroke } from './plan-one-map.ts'

/** Ways that files have of laying one map over another; what is none of them is laid over by its opacity. */
const ADD = 1
const MULTIPLY = 2
const MULTIPLY_TWICE = 3

/** One number over another; `own` is times its opacity already. */
type Combine = (below: number, own: number, opacity: number) => number
const COMBINES: Readonly<Record<number, Combine>> = {
  [ADD]: (below, own) => below + own,
  [MULTIPLY]: (below, own, opacity) => below * (1 - opacity + own),
  [MULTIPLY_TWICE]: (below, own, opacity) => below * (1 - opacity + 2 * own),
}
const over: Combine = (below, own, opacity) => below * (1 - opacity) + own

/** Blend modes that are drawn as they are meant (FBX `EBlendMode`: translucent 0, over 4, normal 5; from memory). */
export const isKnownBlend = (blend: number): boolean => blend in COMBINES || [0, 4, 5].includes(blend)

/** A map's pixels, ready to be looked up; kept by who draws the same one again. */
export interface StrokeSource {
  readonly pixels: Pixels
  readonly sampler: Sampler
  /** What it was made ready for. */
  readonly key: string
}

/** Pixels that are looked up at once. */
const BLOCK = 4096

/** Whether a decal's image is no picture but says where the map below it shows. */
const isMaskOf = ({ layer }: Stroke, { channels }: Pixels): boolean =>
  layer?.isDecal === true && channels !== 2 && channels !== 4

/** @param before a source of the same image: it is taken where it was made ready for the same. */
export function strokeSource(
  stroke: Stroke,
  { kind }: Drawing,
  pixels: Pixels,
  tile: UvTile | null,
  before: StrokeSource | null,
): StrokeSource {
  const { use, layer } = stroke
  const placement = use.placement ?? PLAIN_PLACEMENT
  const { wrapU, wrapV } = tile ? ({ wrapU: 'clamp', wrapV: 'clamp' } as const) : placement
  const options = {
    space: use.colorSpace === 'sRGB' && !isMaskOf(stroke, pixels) && kind === 'color' ? 'sRGB' : 'linear',
    wrapU,
    wrapV,
    isPremultiplied: layer !== null && use.channel === 'rgb',
  } as const
  const key = JSON.stringify(options)
  return before?.pixels === pixels && before.key === key
    ? before
    : { pixels, key, sampler: createSampler(pixels, options) }
}

/**
 * @param tile the square of the source's UVs that the source shows; null: all of them do.
 * @param leavesGround nothing has drawn the material's own value yet: it is where the map has no UVs.
 * @param frames turns normals from the frame of one set into that of another; null for what is no normals.
 * @returns pixels drawn; null where it can't be: a decal without opacity that is no mask would cover all.
 */
export function drawStroke(
  canvas: Canvas,
  surface: TileSurface,
  meshes: readonly Mesh[],
  drawing: Drawing,
  stroke: Stroke,
  { pixels, sampler }: StrokeSource,
  tile: UvTile | null,
  frames: MeshFrames | null,
  leavesGround: boolean,
): number | null {
  const { use, layer, share, factor } = stroke
  const hasOpacity = pixels.channels === 2 || pixels.channels === 4
  const isMask = isMaskOf(stroke, pixels)
  if (isMask && (pixels.channels !== 1 || use.from !== 'material')) return null
  const placement = use.placement ?? PLAIN_PLACEMENT
  const paths = sourcePaths(surface, meshes, stroke, tile, sampler.width, sampler.height)
  const { owners, size, firstRow } = surface.cover
  const { values, channels, table, encode, curve } = canvas
  const taken = channelsOf(use.channel, pixels.channels, channels)
  const opacityAt = hasOpacity ? pixels.channels - 1 : -1
  const own = new Float64Array(4)
  const laid = new Float64Array(3)
  const ground = drawing.grounds.get(stroke.material)!
  const combine = layer ? (COMBINES[layer.blend] ?? over) : over
  const texels = surface.texels.get(stroke.material) ?? new Uint32Array(0)
  const { footprints, affine } = paths
  const isColor = drawing.kind !== 'normal' && drawing.kind !== 'height'
  const isPlain = isColor && !layer && share === 1 && taken.every((one) => one >= 0)
  const steps = ground.map(encode)
  const isNormal = drawing.kind === 'normal' && !isMask && taken.every((one) => one >= 0)
  const us = new Float64Array(BLOCK)
  const vs = new Float64Array(BLOCK)
  const xs = new Float64Array(BLOCK)
  const ys = new Float64Array(BLOCK)
  const triangles = new Uint32Array(BLOCK)
  const places = new Uint32Array(BLOCK)
  const looked = new Float64Array(BLOCK * sampler.channels)
  let drawn = 0
  // of the triangle that was drawn last
  let path = -1
  let lies = false
  let [u0, uX, uY, v0, vX, vY] = [0, 0, 0, 0, 0, 0]
  for (let from = 0; from < texels.length; from += BLOCK) {
    let count = 0
    const end = Math.min(texels.length, from + BLOCK)
    for (let place = from; place < end; place++) {
      const at = texels[place]!
      const owner = owners[at]!
      const triangle = (owner < 0 ? -owner : owner) - 1
      if (triangle !== path) {
        path = triangle
        lies = footprints[triangle] !== undefined
        u0 = affine[6 * triangle]!
        uX = affine[6 * triangle + 1]!
        uY = affine[6 * triangle + 2]!
        v0 = affine[6 * triangle + 3]!
        vX = affine[6 * triangle + 4]!
        vY = affine[6 * triangle + 5]!
      }
      if (!lies) {
        if (leavesGround)
          for (let channel = 0; channel < channels; channel++)
            values[at * channels + channel] = steps[channel]!
        continue
      }
      const row = (at / size) | 0
      const column = at - row * size
      let x = column + 0.5
      let y = firstRow + row + 0.5
      // a pixel that only touches a triangle shows what is nearest on it
      if (owner < 0) [x, y] = nearestOnTriangle(texelCorners(surface.uvs, triangle, size), x, y)
      us[count] = u0 + uX * x + uY * y
      vs[count] = v0 + vX * x + vY * y
      if (isNormal) {
        xs[count] = x
        ys[count] = y
      }
      triangles[count] = triangle
      places[count++] = at * channels
    }
    sampler.sampleMany(us, vs, triangles, footprints, count, looked)
    drawn += count
    // by far the most pixels are drawn so
    if (isPlain) {
      for (let channel = 0; channel < channels; channel++) {
        // turned round: 1 - value
        const times = FULL * (use.inverted ? -factor[channel]! : factor[channel]!)
        const plus = use.inverted ? FULL * factor[channel]! : 0
        layPlain(
          values,
          places,
          channel,
          looked,
          taken[channel]!,
          sampler.channels,
          count,
          times,
          plus,
          curve,
        )
      }
      continue
    }
    if (isNormal) {
      const [red, green, blue] = taken as [number, number, number]
      for (let at = 0; at < count; at++) {
        const base = at * sampler.channels
        laid[0] = looked[base + red]!
        laid[1] = looked[base + green]!
        laid[2] = looked[base + blue]!
        if (use.inverted) for (let channel = 0; channel < 3; channel++) laid[channel] = 1 - laid[channel]!
        if (use.direction === 'down') laid[1] = 1 - laid[1]
        // a map that runs backwards along an axis leans the other way
        if (placement.scale[0] < 0) laid[0] = 1 - laid[0]
        if (placement.scale[1] < 0) laid[1] = 1 - laid[1]
        shared(laid, share)
        frames?.turn(surface, triangles[at]!, xs[at]!, ys[at]!, laid)
        const target = places[at]!
        values[target] = encode(laid[0])
        values[target + 1] = encode(laid[1])
        values[target + 2] = encode(laid[2])
      }
      continue
    }
    for (let at = 0; at < count; at++) {
      for (let channel = 0; channel < sampler.channels; channel++)
        own[channel] = looked[at * sampler.channels + channel]!
      drawOne(places[at]!)
    }
  }
  return drawn

  /** One pixel, of which the map's values are known. */
  function drawOne(target: number): void {
    if (isColor && !layer) {
      for (let channel = 0; channel < channels; channel++) {
        const from = taken[channel]!
        const sample = from < 0 ? 1 : own[from]!
        const value = (use.inverted ? 1 - sample : sample) * factor[channel]!
        values[target + channel] = encode(
          share === 1 ? value : ground[channel]! * (1 - share) + value * share,
        )
      }
      return
    }
    if (isMask) {
      for (let channel = 0; channel < channels; channel++) {
        const below = table[values[target + channel]!]!
        const where = 1 - share * (1 - (use.inverted ? 1 - own[0]! : own[0]!))
        values[target + channel] = encode(ground[channel]! * (1 - where) + below * where)
      }
      return
    }
    for (let channel = 0; channel < channels; channel++) {
      const sample = taken[channel]! < 0 ? 1 : own[taken[channel]!]!
      laid[channel] = use.inverted ? 1 - sample : sample
    }
    if (drawing.kind === 'height') {
      // heights are about the middle
      values[target] = encode(0.5 + (laid[0]! - 0.5) * share)
      return
    }
    const opacity = (opacityAt < 0 ? 1 : own[opacityAt]!) * share
    for (let channel = 0; channel < channels; channel++)
      values[target + channel] = encode(
        combine(table[values[target + channel]!]!, laid[channel]! * factor[channel]! * share, opacity),
      )
  }
}

/** Looked up values times and plus something (of the full scale) as steps; apart, since this runs for every pixel. */
function layPlain(
  values: Uint16Array,
  places: Uint32Array,
  channel: number,
  looked: Float64Array,
  first: number,
  step: number,
  count: number,
  times: number,
  plus: number,
  curve: Float32Array | null,
): void {
  for (let at = 0, from = first; at < count; at++, from += step) {
    const own = looked[from]! * times + plus
    // also for what is no number
    const value = own > 0 ? (own < FULL ? own : FULL) : 0
    if (!curve) {
      // stored as a whole number: cut off
      values[places[at]! + channel] = value + 0.5
      continue
    }
    const low = value | 0
    const below = curve[low]!
    values[places[at]! + channel] = below + (value - low) * (curve[low + 1]! - below) + 0.5
  }
}

/** Where each channel of a drawing comes from in an image; -1: it is not there, and counts as 1. */
export function channelsOf(wanted: string, has: number, channels: number): number[] {
  const colors = has === 2 || has === 4 ? has - 1 : has
  if (wanted === 'rgb') return [0, 1, 2].slice(0, channels).map((at) => (colors === 1 ? 0 : at))
  if (wanted === 'a') return new Array<number>(channels).fill(colors === has ? -1 : has - 1)
  const at = 'rgb'.indexOf(wanted)
  return new Array<number>(channels).fill(colors === 1 ? 0 : at)
}

/** Normals that lean only so much, of unit length. */
function shared(normal: Float64Array, share: number): void {
  const x = (normal[0]! * 2 - 1) * share
  const y = (normal[1]! * 2 - 1) * share
  const z = normal[2]! * 2 - 1
  const length = Math.sqrt(x * x + y * y + z * z)
  if (!(length > 1e-9)) {
    normal.set([0.5, 0.5, 1])
    return
  }
  normal[0] = (x / length) * 0.5 + 0.5
  normal[1] = (y / length) * 0.5 + 0.5
  normal[2] = (z / length) * 0.5 + 0.5
}

/** For each triangle that the stroke lies on: how pixels of the drawing become UVs of its map. */
function sourcePaths(
  { uvs, meshes: ofMesh, corners, materials, cover }: TileSurface,
  meshes: readonly Mesh[],
  { use, material }: Stroke,
  tile: UvTile | null,
  width: number,
  height: number,
): { affine: Float64Array; footprints: (Footprint | undefined)[] } {
  const triangleCount = materials.length
  const affine = new Float64Array(6 * triangleCount)
  const footprints = new Array<Footprint | undefined>(triangleCount)
  const sets = meshes.map((mesh) => setOf(mesh, use.uvSet) ?? mesh.uvSets[0])
  const { scale, offset } = use.placement ?? PLAIN_PLACEMENT
  for (let triangle = 0; triangle < triangleCount; triangle++) {
    if (materials[triangle] !== material) continue
    const set = sets[ofMesh[triangle]!]
    if (!set) continue
    const [ax, ay, bx, by, cx, cy] = texelCorners(uvs, triangle, cover.size)
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
    const us: number[] = []
    const vs: number[] = []
    for (let k = 0; k < 3; k++) {
      const at = set.indices[corners[3 * triangle + k]!]!
      us.push(at < 0 ? NaN : set.values[2 * at]! * scale[0] + offset[0])
      vs.push(at < 0 ? NaN : set.values[2 * at + 1]! * scale[1] + offset[1])
    }
    const [ua, ub, uc] = us as [number, number, number]
    const [va, vb, vc] = vs as [number, number, number]
    // also where a corner has no UV
    if (!Number.isFinite(ua + ub + uc + va + vb + vc) || !(Math.abs(area) > 0)) continue
    const [middleU, middleV] = [Math.floor((ua + ub + uc) / 3), Math.floor((va + vb + vc) / 3)]
    if (tile && (middleU !== tile.column || middleV !== tile.row)) continue
    const right = (a: number, b: number, c: number): number =>
      ((b - a) * (cy - ay) - (c - a) * (by - ay)) / area
    const down = (a: number, b: number, c: number): number =>
      ((c - a) * (bx - ax) - (b - a) * (cx - ax)) / area
    const along = [right(ua, ub, uc), right(va, vb, vc), down(ua, ub, uc), down(va, vb, vc)] as const
    // from the square's own corner: a map of many squares is one image for each
    const [fromU, fromV] = tile ? [tile.column, tile.row] : [0, 0]
    const place = 6 * triangle
    affine[place] = ua - fromU - along[0] * ax - along[2] * ay
    affine[place + 1] = along[0]
    affine[place + 2] = along[2]
    affine[place + 3] = va - fromV - along[1] * ax - along[3] * ay
    affine[place + 4] = along[1]
    affine[place + 5] = along[3]
    footprints[triangle] = footprintOf(along, width, height)
  }
  return { affine, footprints }
}
