import { isWholeExr } from '../../core/image/codecs/is-whole-exr.ts'
import type { Pixels } from '../../core/image/pixels.ts'

/**
 * An OpenEXR image as floats, by three's loader, which reads every usual compression; rows from the top.
 * @returns null for a file that is cut off, of several parts or deep: the loader would go on behind its end.
 */
export async function readExr(bytes: Uint8Array): Promise<Pixels | null> {
  if (!isWholeExr(bytes)) return null
  // the loader takes itself to be in a page
  Object.assign(globalThis, { self: globalThis })
  const [{ EXRLoader }, { FloatType, RedFormat }] = await Promise.all([
    import('three/addons/loaders/EXRLoader.js'),
    import('three'),
  ])
  const loader = new EXRLoader()
  loader.setDataType(FloatType)
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
  const { width, height, data, format } = loader.parse(buffer) as unknown as {
    width: number
    height: number
    data: Float32Array
    format: number
  }
  const channels = format === RedFormat ? 1 : 4
  const values = new Float32Array(width * height * channels)
  const length = width * channels
  for (let row = 0; row < height; row++)
    values.set(data.subarray((height - 1 - row) * length, (height - row) * length), row * length)
  return { width, height, channels, bits: 32, values }
}
