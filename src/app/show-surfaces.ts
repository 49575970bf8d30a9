/**
 * A model's materials as they came beside what they become, for drawing both: each converted to glTF, which is the
 * model that the page draws, with its images made as they would be written, but small.
 */
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { ONE_MAP_DEFAULTS } from '../core/surfaces/one-map/options.ts'
import type { Scene, SceneImage } from '../core/scene/scene.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import type { RemappedMaterial } from '../core/surfaces/remap/remapped-material.ts'
import type { ImageFacts } from '../core/surfaces/remap/remap-scene.ts'
import { NO_RULES, type RemapRules } from '../core/surfaces/remap/rules.ts'
import { surfaceModelNamed } from '../core/surfaces/registry.ts'
import type { Host, ImageHost, Progress } from './host.ts'
import { remapFacts, remapModel } from './remap-model.ts'

/** Pixels on the longer side of an image in a look. */
export const LOOK_PIXELS = 1024
/** Images that are unpacked at a time: each holds all its pixels. */
const AT_ONCE = 4

export interface ShownSurfaces {
  /** The model with its materials as they came, in the words of glTF. */
  readonly before: Scene
  /** With what they become; several materials may be one. */
  readonly after: Scene
  /** What glTF has no place for, and so is not to be seen. */
  readonly notDrawn: readonly {
    readonly side: 'before' | 'after'
    readonly material: string
    readonly what: string
    readonly note: string
  }[]
}

export async function showSurfaces(
  scene: Scene,
  request: {
    readonly target: SurfaceModel
    readonly files: readonly PackageFile[]
    readonly rules: RemapRules
  },
  progress: Progress,
  host: Host,
): Promise<ShownSurfaces> {
  const { images } = host
  if (!images) throw new Error('no images here')
  const { target, rules } = request
  // which way green points is found in the pixels as they are, not in a mixture of them
  const facts = await remapFacts(scene, request.files, images, (share) =>
    progress(share * 0.2, 'Looking at the maps'),
  )
  const files = await shrunken(request.files, images, (share) =>
    progress(0.2 + share * 0.3, 'Making the maps small'),
  )
  const small: Scene = { ...scene, images: await shrunkenImages(scene.images, images) }
  const shown = surfaceModelNamed('gltf')
  const step = { naming: { pattern: null, folder: '' }, stem: 'look', makes: true } as const
  progress(0.5, 'Converting the maps')
  const before = await remapModel(
    small,
    { ...step, target: shown, files: [], rules: NO_RULES, facts: { files: [], own: facts.own } },
    () => undefined,
    host,
  )
  progress(0.6, 'Converting the maps')
  const became = await remapModel(
    small,
    { ...step, target, files, rules: smallRules(rules), facts },
    (share) => progress(0.6 + share * 0.3, 'Converting the maps'),
    host,
  )
  const after =
    target.id === shown.id
      ? became
      : await remapModel(
          became.scene,
          {
            ...step,
            target: shown,
            files: [],
            rules: NO_RULES,
            facts: { files: [], own: directions(became.plan.materials) },
            source: target,
          },
          () => undefined,
          host,
        )
  const lost = (side: 'before' | 'after', materials: readonly RemappedMaterial[]) =>
    materials.flatMap((material) =>
      material.lost.map(({ what, note }) => ({ side, material: material.name, what, note })),
    )
  return {
    before: withOwnImages(before.scene),
    after: withOwnImages(after.scene),
    notDrawn: [
      ...lost('before', before.plan.materials),
      // what the target has no place for stands in the table already
      ...(after === became ? [] : lost('after', after.plan.materials)),
    ],
  }
}

const smallRules = (rules: RemapRules): RemapRules => {
  const { oneMap } = rules
  if (!oneMap || oneMap.size <= LOOK_PIXELS) return rules
  const { size = ONE_MAP_DEFAULTS.size, padding } = oneMap
  return {
    ...rules,
    oneMap: { ...oneMap, size: LOOK_PIXELS, padding: Math.ceil((padding * LOOK_PIXELS) / size) },
  }
}

/** What is known of the maps of normals that were just written. */
function directions(materials: readonly RemappedMaterial[]): ImageFacts[] {
  return materials.flatMap(({ parameters }) =>
    parameters.flatMap(({ map }) =>
      map?.direction
        ? [
            {
              file: map.file,
              width: null,
              height: null,
              bits: null,
              says: null,
              problem: null,
              looksLikeNormals: true,
              direction: map.direction,
            },
          ]
        : [],
    ),
  )
}

/** Only the images that a material names. */
function withOwnImages(scene: Scene): Scene {
  const named = new Set(scene.materials.flatMap(({ maps }) => maps.map(({ file }) => file)))
  return { ...scene, images: scene.images.filter(({ file }) => named.has(file)) }
}

/** Images by their paths; what can't be read stays, and is told where it is needed. */
async function shrunken(
  files: readonly PackageFile[],
  images: ImageHost,
  told: (share: number) => void,
): Promise<PackageFile[]> {
  const made: PackageFile[] = []
  for (let from = 0; from < files.length; from += AT_ONCE) {
    told(from / files.length)
    made.push(
      ...(await Promise.all(
        files.slice(from, from + AT_ONCE).map(async ({ name, bytes }) => ({
          name,
          bytes: (await images.shrink(bytes, LOOK_PIXELS)) ?? bytes,
        })),
      )),
    )
  }
  return made
}

async function shrunkenImages(given: readonly SceneImage[], images: ImageHost): Promise<SceneImage[]> {
  const small = async (bytes: Uint8Array): Promise<Uint8Array> =>
    (await images.shrink(bytes, LOOK_PIXELS)) ?? bytes
  const made: SceneImage[] = []
  for (const image of given) {
    const bytes = image.bytes && (await small(image.bytes))
    const tiles: { label: string; entry: string; bytes: Uint8Array }[] = []
    for (const tile of image.tiles ?? []) tiles.push({ ...tile, bytes: await small(tile.bytes) })
    made.push({ ...image, bytes, ...(image.tiles ? { tiles } : {}) })
  }
  return made
}
