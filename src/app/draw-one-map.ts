/** Several materials of a remapped model drawn into one, image by image: one source is held at a time. */
import { collectMessages } from '../core/base/messages/collector.ts'
import { KelboError } from '../core/base/messages/collector.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { safePart } from '../core/image/map-sets/path-names.ts'
import { fitsPattern } from '../core/scene/name-pattern.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import type { TileDrawing } from '../core/surfaces/one-map/draw-tile.ts'
import {
  drawnSurface,
  MOST_TILES,
  tileSurface,
  type DrawnSurface,
} from '../core/surfaces/one-map/drawn-surface.ts'
import { mergeScene } from '../core/surfaces/one-map/merge-scene.ts'
import type { OneMapOptions } from '../core/surfaces/one-map/options.ts'
import { planOneMap, type Drawing, type OneMapPlan } from '../core/surfaces/one-map/plan-one-map.ts'
import { forTile } from '../core/surfaces/remap/plan-maps.ts'
import { remapMaterial } from '../core/surfaces/remap/remap-material.ts'
import type { RemappedMaterial, RemappedParameter } from '../core/surfaces/remap/remapped-material.ts'
import { padTexels } from '../core/uv/texels/pad-texels.ts'
import type { ImageHost, Progress } from './host.ts'
import { sourceList } from './source-images.ts'

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
  const set = surface.set || 'without a name'
  if (scene.meshes.every(({ uvSets }) => uvSets.length === 0)) throw new KelboError('one-map.no-uvs', {})
  if (surface.materials.length === 0) throw new KelboError('one-map.nothing', { set })
  if (surface.tiles.length > MOST_TILES)
    throw new KelboError('one-map.many-tiles', {
      set,
      tiles: surface.tiles.length,
      most: MOST_TILES,
    })
  for (const part of surface.withoutSet) messages.add('one-map.without-set', { part, set })
  if (surface.leftOut) messages.add('one-map.left-out', { count: surface.leftOut, set })
  const own = new Map<number, RemappedMaterial>()
  for (const material of surface.materials)
    if (!own.has(material)) own.set(material, materials[material] ?? bareMaterial(target))
  const plan = planOneMap(own, weightsOf(surface))
  for (const one of plan.differing) messages.add('one-map.differs', { ...one })
  const [first] = [...own.values()]
  // else it stays beside the one that is drawn of it
  const isWhole = surface.withoutSet.length === 0 && surface.leftOut === 0
  const name = options.name ?? (own.size === 1 && isWhole ? first!.name || 'all' : freeName('all', materials))
  const isTiled = surface.tiles.length > 1 || surface.tiles[0]!.label !== '1001'
  const pathOf = (drawing: Drawing): string =>
    `drawn/${safePart(name)}_${safePart(drawing.parameter)}${isTiled ? '.<UDIM>' : ''}.png`
  /** Where a target reads several parameters out of one image, each is drawn to be packed into it. */
  const isPassing = (name: string): boolean => {
    const shares = target.parameters.find((one) => (one.name ?? one.mapName) === name)?.mapName
    return target.parameters.some(
      (one) =>
        (one.name ?? one.mapName) !== name &&
        one.mapName === shares &&
        plan.drawings.some(({ parameter }) => parameter === (one.name ?? one.mapName)),
    )
  }
  const drawn: PackageFile[] = []
  const failed = new Map<string, string>()
  const bright = new Set<string>()
  const blends = new Map<string, number>()
  if (makes) {
    const sources = sourceList(files, scene)
    let shared = 0
    let used = 0
    for (const [at, tile] of surface.tiles.entries()) {
      const part = tileSurface(surface, tile, options.size)
      shared += part.cover.sharedCount
      const { owners } = part.cover
      for (let at = 0; at < owners.length; at++) if (owners[at]! > 0) used++
      // the pixels that a border only touches are the first ring past it
      const padding = padTexels(part.cover.owners, options.size, Math.max(0, options.padding - 1))
      const work = plan.drawings.map((drawing): TileDrawing => ({
        surface: part,
        padding,
        meshes: scene.meshes,
        drawing,
        size: options.size,
        set: surface.set,
        images: drawing.strokes.map(({ use }) => sources(use.file)),
        isPassing: isPassing(drawing.parameter),
      }))
      const answers = await images.draw(work, (share) =>
        progress((at + share) / surface.tiles.length, 'Drawing one map for all'),
      )
      answers.forEach((answer, index) => {
        for (const { file, why } of answer.failed) failed.set(file, why)
        for (const file of answer.bright) bright.add(file)
        for (const { file, blend } of answer.blends) blends.set(file, blend)
        const path = forTile(pathOf(plan.drawings[index]!), isTiled ? tile.label : null)
        drawn.push({ name: path, bytes: answer.bytes })
      })
    }
    for (const [file, why] of failed) messages.add('one-map.not-drawn', { file, why })
    for (const file of bright) messages.add('one-map.light', { file })
    for (const [file, blend] of blends) messages.add('one-map.blend', { file, blend })
    if (shared)
      messages.add('one-map.shared', {
        set,
        share: Number(((100 * shared) / used).toPrecision(2)),
      })
  }
  const merged = mergeScene(scene, surface, name)
  const one: RemappedMaterial = {
    ...mergedMaterial(
      name,
      target,
      [...own.values()],
      plan,
      { pathOf, uvSet: merged.isFirst ? '' : surface.set },
      [...failed.keys()],
    ),
    drawnInto: { set: surface.set, tileCount: surface.tiles.length },
  }
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

/** Whether it is known of all maps of normals which way their green points. */
const isKnownWay = ({ strokes }: Drawing): boolean =>
  strokes.every(({ use }) => use.direction !== null || use.slot === 'bump' || use.slot === 'displacement')

function mergedMaterial(
  name: string,
  target: SurfaceModel,
  materials: readonly RemappedMaterial[],
  { parameters, drawings }: OneMapPlan,
  { pathOf, uvSet }: { pathOf: (drawing: Drawing) => string; uvSet: string },
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
          uvSet,
        },
      }
    }),
  }
}
