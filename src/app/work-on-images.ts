/** An operation on images, one at a time where each is taken by itself. */
import type { OptionValues } from '../core/base/options/option.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { ImageRefusal, type ImageOperation, type NamedPixels } from '../core/image/operations/operation.ts'
import { readColorSpace } from '../core/image/read-color-space.ts'
import type { ImageHost, Progress } from './host.ts'

export interface ImageWork {
  readonly files: readonly PackageFile[]
  /** What was not done, and why. */
  readonly refused: readonly { readonly file: string; readonly why: string }[]
}

const bare = (name: string): string => name.replace(/\.[^./\\]*$/, '')

export async function workOnImages(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly PackageFile[],
  progress: Progress,
  images: ImageHost,
): Promise<ImageWork> {
  const files: PackageFile[] = []
  const refused: { file: string; why: string }[] = []
  const take = async (some: readonly PackageFile[]): Promise<void> => {
    const read: NamedPixels[] = []
    for (const { name, bytes } of some) {
      const answer = await images.pixels(bytes)
      if ('why' in answer) refused.push({ file: name, why: answer.why })
      else read.push({ name, pixels: answer })
    }
    if (read.length < some.length) return
    // what said of itself that it is a colour still does, where it still is one
    const space = spaceAfter(
      operation,
      options,
      some.map(({ bytes }) => readColorSpace(bytes)),
    )
    try {
      for (const { name, pixels } of operation.run(read, options)) {
        const isFloat = pixels.bits === 32
        files.push({
          name: `${bare(name)}${isFloat ? '.exr' : '.png'}`,
          bytes: isFloat ? await images.packFloats(pixels) : await images.pack(pixels, space),
        })
      }
    } catch (error) {
      if (!(error instanceof ImageRefusal)) throw error
      refused.push({ file: some[0]?.name ?? '', why: error.message })
    }
  }
  if (operation.takes === 'all') await take(given)
  else
    for (const [at, file] of given.entries()) {
      progress(at / given.length, operation.title)
      await take([file])
    }
  return { files, refused }
}

function spaceAfter(
  { id }: ImageOperation,
  options: OptionValues,
  said: readonly ('sRGB' | 'linear' | null)[],
): 'sRGB' | 'linear' {
  if (id === 'change-space') return options['to'] as 'sRGB' | 'linear'
  const isColor = said.length > 0 && said.every((one) => one === 'sRGB')
  return isColor && KEEPS_SPACE.has(id) ? 'sRGB' : 'linear'
}

/** Operations after which colours are still colours. */
const KEEPS_SPACE: ReadonlySet<string> = new Set(['change-bits', 'resize', 'join-tiles', 'cut-tiles'])
