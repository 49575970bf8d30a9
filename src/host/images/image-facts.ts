/** What a folder of images says, before a map of it is used. */
import { readColorSpace } from '../../core/image/read-color-space.ts'
import { parseMapName } from '../../core/image/map-sets/parse-map-name.ts'
import { normalFacts } from '../../core/image/operations/normal-direction.ts'
import type { PackageFile } from '../../core/formats/package/package-file.ts'
import type { ImageFacts } from '../../core/surfaces/remap/remap-scene.ts'
import { ImageRefused, readHeader, readPixels } from './read-pixels.ts'

/** Pixels on a side that normals are looked at with: a crop in the middle would miss islands, leaving out keeps slopes apart. */
const LOOK_AT = 1024

/** Headers of all, pixels only where a name says nothing or says normals. */
export async function imageFacts(
  files: readonly PackageFile[],
  told: (share: number) => void = () => undefined,
): Promise<ImageFacts[]> {
  const facts: ImageFacts[] = []
  for (const [at, file] of files.entries()) {
    told(at / files.length)
    facts.push(await factsOf(file))
  }
  return facts
}

async function factsOf(file: PackageFile): Promise<ImageFacts> {
  const nothing = { looksLikeNormals: null, direction: null } as const
  try {
    const header = await readHeader(file.bytes, file.name)
    const known = {
      file: file.name,
      width: header.width,
      height: header.height,
      bits: header.bits,
      says: readColorSpace(file.bytes),
      problem: null,
    }
    const { meaning, packed } = parseMapName(file.name)
    const asks = (!meaning && !packed) || meaning?.slot === 'normal' || meaning?.slot === 'clearcoatNormal'
    if (!asks || header.channels === null) return { ...known, ...nothing }
    const found = normalFacts(await readPixels(file.bytes, LOOK_AT))
    return {
      ...known,
      looksLikeNormals: found.looksLikeNormals,
      direction: found.looksLikeNormals ? found.direction : null,
    }
  } catch (error) {
    if (!(error instanceof ImageRefused)) throw error
    return {
      file: file.name,
      width: null,
      height: null,
      bits: null,
      says: null,
      problem: error.message,
      ...nothing,
    }
  }
}
