/** Maps of materials that have to be computed pixel by pixel before any can be used, tile by tile. */
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { Pixels } from '../core/image/pixels.ts'
import { convertPixels } from '../core/surfaces/remap/convert-pixels.ts'
import { forTile } from '../core/surfaces/remap/plan-maps.ts'
import type { ReflectanceMaps } from '../core/surfaces/remap/reflectance-maps.ts'
import type { RemappedMaterial } from '../core/surfaces/remap/remapped-material.ts'
import type { ImageHost } from './host.ts'
import type { SourceImage, SourceList } from './source-images.ts'

export interface ConvertedMaps {
  readonly files: readonly PackageFile[]
  /** Paths as rows have them that could not be computed. */
  readonly failed: readonly { readonly path: string; readonly why: string }[]
}

export async function convertMaps(
  materials: readonly RemappedMaterial[],
  sources: SourceList,
  images: ImageHost,
  told: (share: number) => void,
): Promise<ConvertedMaps> {
  const files: PackageFile[] = []
  const failed: { path: string; why: string }[] = []
  const work = materials.flatMap(({ reflectance }) => reflectance ?? [])
  for (const [at, maps] of work.entries()) {
    told(at / work.length)
    const given = maps.inputs.map(({ use }) => ({ use, found: sources(use.file) }))
    const missing = given.find(({ found }) => found.length === 0)
    const fail = (why: string): void =>
      void failed.push(...maps.outputs.map(({ file }) => ({ path: file, why })))
    if (missing) {
      fail(`“${missing.use.file}” is missing`)
      continue
    }
    try {
      const tiled = given.find(({ found }) => found[0]!.label !== null) ?? given[0]!
      for (const label of labelsOf(tiled.found))
        files.push(
          ...(await convertTile(
            maps,
            given.map(({ found }) => tileOf(found, label)),
            label,
            images,
          )),
        )
    } catch (error) {
      if (!(error instanceof NotReadable)) throw error
      fail(error.message)
    }
  }
  return { files, failed }
}

class NotReadable extends Error {}

const labelsOf = (found: readonly SourceImage[]): (string | null)[] => found.map(({ label }) => label)

function tileOf(found: readonly SourceImage[], label: string | null): SourceImage {
  const [first] = found
  // one without tiles is the same in each
  const own = first?.label === null ? first : found.find((one) => one.label === label)
  if (!own) throw new NotReadable(`“${found[0]!.path}” has no tile ${label ?? ''} beside it`)
  return own
}

async function convertTile(
  maps: ReflectanceMaps,
  sources: readonly SourceImage[],
  label: string | null,
  images: ImageHost,
): Promise<PackageFile[]> {
  const pixels: Pixels[] = []
  for (const { bytes, path } of sources) {
    const answer = await images.pixels(bytes)
    if ('why' in answer) throw new NotReadable(`“${path}”: ${answer.why}`)
    pixels.push(answer)
  }
  const made = convertPixels(maps, pixels)
  return Promise.all(
    made.map(async (image, at) => {
      const { file, colorSpace } = maps.outputs[at]!
      return { name: forTile(file, label), bytes: await images.pack(image, colorSpace) }
    }),
  )
}
