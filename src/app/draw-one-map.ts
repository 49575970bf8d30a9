/** Several materials of a remapped model drawn into one, image by image: one source is held at a time. */
import { collectMessages } from '../core/base/messages/collector.ts'
import { KelboError } from '../core/base/messages/collector.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { heightToNormal } from '../core/image/operations/height-to-normal.ts'
import { safePart } from '../core/image/map-sets/path-names.ts'
import type { Pixels } from '../core/image/pixels.ts'
import { fitsPattern } from '../core/scene/name-pattern.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import {
  canvasPixels,
  createCanvas,
  fillCanvas,
  padCanvas,
  type Canvas,
} from '../core/surfaces/one-map/canvas.ts'
import {
  drawStroke,
  isKnownBlend,
  strokeSource,
  type StrokeSource,
} from '../core/surfaces/one-map/draw-stroke.ts'
import {
  drawnSurface,
  MOST_TILES,
  tileSurface,
  type DrawnSurface,
  type TileSurface,
} from '../core/surfaces/one-map/drawn-surface.ts'
import { mergeScene } from '../core/surfaces/one-map/merge-scene.ts'
import type { OneMapOptions } from '../core/surfaces/one-map/options.ts'
import {
  planOneMap,
  type Drawing,
  type OneMapPlan,
  type Stroke,
} from '../core/surfaces/one-map/plan-one-map.ts'
import { createFrames, type MeshFrames } from '../core/surfaces/one-map/turn-normals.ts'
import { forTile, HEIGHT_SHARE } from '../core/surfaces/remap/plan-maps.ts'
import {
  remapMaterial,
  type RemappedMaterial,
  type RemappedParameter,
} from '../core/surfaces/remap/remap-material.ts'
import { padTexels, type TexelPadding } from '../core/uv/texels/pad-texels.ts'
import type { ImageHost, Progress } from './host.ts'
import { sourceList, type SourceImage, type SourceList } from './source-images.ts'

export interface OneMapRequest {
  readonly options: OneMapOptions
  readonly target: SurfaceModel
  /** One for each of the scene's. */
  readonly materials: readonly RemappedMaterial[]
  readonly files: readonly PackageFile[]
  /** Whether images are drawn; without, only what they would be. */
  readonly makes: boolean
}

export interface OneMap {
  readonly scene: Scene
  /** For each of the new scene's materials. */
  readonly materials: readonly RemappedMaterial[]
  /** Images as they were drawn; empty where none are made. */
  readonly drawn: readonly PackageFile[]
  readonly findings: readonly Finding[]
}

/** Slots whose images keep 16 bits where any source has them. */
const DEEP_KINDS: ReadonlySet<string> = new Set(['normal', 'height'])

/** @throws KelboError one-map.nothing, one-map.many-tiles. */
export async function drawOneMap(
  scene: Scene,
  { options, target, materials, files, makes }: OneMapRequest,
  progress: Progress,
  images: ImageHost,
): Promise<OneMap> {
  const messages = collectMessages(null)
  const takes = (material: number): boolean => fitsPattern(materials[material]?.name ?? '', options.materials)
  const surface = drawnSurface(scene, options.set, takes)
  if (surface.materials.length === 0) throw new KelboError('one-map.nothing', { set: surface.set })
  if (surface.tiles.length > MOST_TILES)
    throw new KelboError('one-map.many-tiles', {
      set: surface.set,
      tiles: surface.tiles.length,
      most: MOST_TILES,
    })
  for (const part of surface.withoutSet) messages.add('one-map.without-set', { part, set: surface.set })
  if (surface.leftOut) messages.add('one-map.left-out', { polygons: surface.leftOut, set: surface.set })
  const own = new Map<number, RemappedMaterial>()
  for (const material of surface.materials)
    if (!own.has(material)) own.set(material, materials[material] ?? bareMaterial(target))
  const plan = planOneMap(own, weightsOf(surface))
  for (const one of plan.differing) messages.add('one-map.differs', { ...one })
  const [first] = [...own.values()]
  const name = options.name ?? (own.size === 1 ? first!.name || 'all' : freeName('all', materials))
  const isTiled = surface.tiles.length > 1 || surface.tiles[0]!.label !== '1001'
  const pathOf = (drawing: Drawing): string =>
    `drawn/${safePart(name)}_${safePart(drawing.parameter)}${isTiled ? '.<UDIM>' : ''}.png`
  const drawn: PackageFile[] = []
  const failed = new Set<string>()
  if (makes) {
    const sources = sourceList(files, scene)
    const ways = createFrames(scene.meshes)
    let shared = 0
    let used = 0
    for (const [at, tile] of surface.tiles.entries()) {
      const part = tileSurface(surface, tile, options.size)
      shared += part.cover.sharedCount
      for (const owner of part.cover.owners) if (owner > 0) used++
      // the pixels that a border only touches are the first ring past it
      const padding = padTexels(part.cover.owners, options.size, Math.max(0, options.padding - 1))
      const images16 = await drawTile(part, padding, {
        scene,
        plan,
        size: options.size,
        sources,
        images,
        frames: (stroke) => ways(stroke.use.uvSet, surface.set),
        messages,
        failed,
        told: (share) => progress((at + share) / surface.tiles.length, 'Drawing one map for all'),
      })
      for (const { drawing, bytes } of images16)
        drawn.push({ name: forTile(pathOf(drawing), isTiled ? tile.label : null), bytes })
    }
    if (shared)
      messages.add('one-map.shared', {
        set: surface.set,
        share: Number(((100 * shared) / used).toPrecision(2)),
      })
  }
  const one = mergedMaterial(name, target, [...own.values()], plan, pathOf, [...failed])
  const merged = mergeScene(scene, surface, name)
  return {
    scene: merged.scene,
    materials: [one, ...merged.kept.map((material) => materials[material]!)],
    drawn,
    findings: messages.list(),
  }
}

const bareMaterial = (target: SurfaceModel): RemappedMaterial =>
  remapMaterial(
    { id: '', name: '', model: target.materialModel, properties: [], maps: [], kept: [] },
    target,
    [],
    [],
  )

function freeName(wish: string, materials: readonly RemappedMaterial[]): string {
  let name = wish
  for (let number = 2; materials.some((one) => one.name === name); number++) name = `${wish}_${number}`
  return name
}

/** By material the area of its UVs in the drawn set. */
function weightsOf({ uvs, materials }: DrawnSurface): Map<number, number> {
  const weights = new Map<number, number>()
  for (let triangle = 0; triangle < materials.length; triangle++) {
    const [au, av, bu, bv, cu, cv] = uvs.subarray(6 * triangle, 6 * triangle + 6) as unknown as number[]
    const area = Math.abs((bu! - au!) * (cv! - av!) - (bv! - av!) * (cu! - au!)) / 2
    const material = materials[triangle]!
    weights.set(material, (weights.get(material) ?? 0) + (Number.isFinite(area) ? area : 0))
  }
  return weights
}

interface TileWork {
  readonly scene: Scene
  readonly plan: OneMapPlan
  readonly size: number
  readonly sources: SourceList
  readonly images: ImageHost
  readonly frames: (stroke: Stroke) => MeshFrames | null
  readonly messages: ReturnType<typeof collectMessages>
  readonly failed: Set<string>
  readonly told: (share: number) => void
}

/** The drawings of one tile; while one is packed the next is drawn. */
async function drawTile(
  surface: TileSurface,
  padding: TexelPadding,
  work: TileWork,
): Promise<{ drawing: Drawing; bytes: Uint8Array }[]> {
  const { plan, size, images, told } = work
  const packed: Promise<{ drawing: Drawing; bytes: Uint8Array }>[] = []
  for (const [at, drawing] of plan.drawings.entries()) {
    told(at / plan.drawings.length)
    const canvas = createCanvas(size, drawing.channels, drawing.colorSpace)
    groundCanvas(canvas, surface, drawing)
    const isDeep = await drawAll(canvas, surface, drawing, work)
    padCanvas(canvas, padding)
    const pixels = canvasPixels(canvas, isDeep ? 16 : 8)
    // two at most are held beside the one that is drawn
    if (packed.length >= 2) await packed[packed.length - 2]
    packed.push(images.pack(pixels, drawing.colorSpace).then((bytes) => ({ drawing, bytes })))
  }
  return Promise.all(packed)
}

/** Each material's own value on its polygons, and past them that of the first. */
function groundCanvas(canvas: Canvas, surface: TileSurface, drawing: Drawing): void {
  fillCanvas(canvas, [...drawing.grounds.values()][0]!)
  const { values, channels } = canvas
  for (const [material, texels] of surface.texels) {
    const steps = drawing.grounds.get(material)!.map(canvas.encode)
    for (const at of texels)
      for (let channel = 0; channel < channels; channel++) values[at * channels + channel] = steps[channel]!
  }
}

/** A stroke and one of the images of its map. */
interface Look {
  readonly stroke: Stroke
  readonly source: SourceImage
}

/** @returns whether a source has more than 8 bits that are worth keeping. */
async function drawAll(
  canvas: Canvas,
  surface: TileSurface,
  drawing: Drawing,
  { scene, sources, images, frames, messages, failed }: TileWork,
): Promise<boolean> {
  let isDeep = false
  const present = new Set(Array.from(surface.materials))
  const refuse = (file: string, why: string): void => {
    if (!failed.has(file)) messages.add('one-map.not-drawn', { file, why })
    failed.add(file)
  }
  const looks: Look[] = []
  for (const stroke of drawing.strokes) {
    if (!present.has(stroke.material)) continue
    const { file } = stroke.use
    const found = sources(file)
    if (found.length === 0) refuse(file, 'it is missing')
    if (stroke.layer && !isKnownBlend(stroke.layer.blend))
      messages.add('one-map.blend', { file, blend: stroke.layer.blend })
    looks.push(...found.map((source) => ({ stroke, source })))
  }
  // materials that share an image follow each other, layers keep their order over their own material
  looks.sort((a, b) => Number(a.stroke.layer !== null) - Number(b.stroke.layer !== null))
  const wanted = bySource(looks)
  let read = wanted.length ? readLook(wanted[0]!, images) : null
  for (const [at, group] of wanted.entries()) {
    const answer = await read!
    // the next image is unpacked while this one is drawn
    read = wanted[at + 1] ? readLook(wanted[at + 1]!, images) : null
    const [{ source }] = group as [Look]
    if ('why' in answer) {
      refuse(source.path, answer.why)
      continue
    }
    if (answer.bits === 32 && isBright(answer)) messages.add('one-map.light', { file: source.path })
    isDeep ||= answer.bits !== 8 && (DEEP_KINDS.has(drawing.kind) || answer.bits === 16)
    let ready: StrokeSource | null = null
    let pixels: Pixels | null = null
    for (const { stroke } of group) {
      const own = asNormals(drawing, stroke)
      if (own !== stroke || !pixels) pixels = prepared(answer, drawing, stroke)
      ready = strokeSource(own, drawing, pixels, source.tile, ready)
      const done = drawStroke(
        canvas,
        surface,
        scene.meshes,
        drawing,
        own,
        ready,
        source.tile,
        drawing.kind === 'normal' ? frames(stroke) : null,
      )
      if (done === null)
        refuse(source.path, 'it is a decal without an opacity of its own, and would cover everything')
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

const readLook = (group: readonly Look[], images: ImageHost): ReturnType<ImageHost['pixels']> =>
  images.pixels(group[0]!.source.bytes)

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

/** Whether it is known of all maps of normals which way their green points. */
const isKnownWay = ({ strokes }: Drawing): boolean =>
  strokes.every(({ use }) => use.direction !== null || use.slot === 'bump' || use.slot === 'displacement')

function mergedMaterial(
  name: string,
  target: SurfaceModel,
  materials: readonly RemappedMaterial[],
  { parameters, drawings }: OneMapPlan,
  pathOf: (drawing: Drawing) => string,
  failed: readonly string[],
): RemappedMaterial {
  const [first] = materials
  const lost = materials.flatMap((material) =>
    material.lost
      .filter(({ what, isLayer }) => !isLayer || failed.some((file) => what.endsWith(file)))
      .map(({ what, note }) => ({ what: `${material.name}: ${what}`, note })),
  )
  return {
    name,
    recognised: first!.recognised,
    target,
    lost,
    drawnFrom: materials.map((material) => material.name),
    parameters: parameters.map((row): RemappedParameter => {
      const drawing = drawings.find(({ parameter }) => parameter === row.parameter)
      if (!drawing) return row
      return {
        ...row,
        how: 'exact',
        note: `drawn from ${materials.length} ${materials.length === 1 ? 'material' : 'materials'}`,
        map: {
          file: pathOf(drawing),
          slot: row.slot!,
          channel: drawing.channels === 1 ? 'r' : 'rgb',
          isPart: false,
          inverted: false,
          amount: 1,
          colorSpace: drawing.colorSpace,
          direction: drawing.kind === 'normal' && isKnownWay(drawing) ? 'up' : null,
          from: 'material',
          isTimesValue: true,
          uvSet: '',
        },
      }
    }),
  }
}
