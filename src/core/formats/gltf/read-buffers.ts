/** Bytes of buffers and their views. Source: glTF 2.0, section 3.6; EXT_meshopt_compression. */
import { decodeBase64 } from '../../base/bytes/base64.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { GeometryDecoders } from '../descriptor.ts'
import { findInPackage, type PackageFile } from '../package/package-file.ts'
import { decompressView } from './decompress-view.ts'
import { extensionOf, listOf, objectOf, textOf, wholeOf, type Json } from '../notes/json.ts'

/** What reading of one file shares. */
export interface GltfReading {
  readonly document: Json
  readonly chunk: Uint8Array | null
  readonly beside: readonly PackageFile[]
  readonly fileName: string
  readonly messages: MessageCollector
  readonly decoders: GeometryDecoders
}

export interface GltfBuffers {
  /** Bytes of a buffer view; null where it is not there, which is told once. */
  readonly view: (index: number) => BufferView | null
}

export interface BufferView {
  readonly bytes: Uint8Array
  /** Bytes from one element to the next; null: they lie closely. */
  readonly stride: number | null
}

/** The bytes of a `data:` address, and what it says they are; null where it is none or damaged. */
export function dataOf(uri: string): { bytes: Uint8Array; mime: string } | null {
  const head = /^data:([^,;]*)((?:;[^,]*)?),/.exec(uri)
  if (!head || !/;base64$/i.test(head[2]!)) return null
  const bytes = decodeBase64(uri.slice(head[0].length))
  return bytes && { bytes, mime: head[1]!.toLowerCase() }
}

/** A path as it stands in a file, with its percent signs undone where they are whole. */
export function pathOf(uri: string): string {
  try {
    return decodeURIComponent(uri)
  } catch {
    return uri
  }
}

export function readBuffers(reading: GltfReading): GltfBuffers {
  const { document, chunk, beside, fileName, messages, decoders } = reading
  const buffers = listOf(document.buffers)
  const views = listOf(document.bufferViews)
  const known = new Map<number, Uint8Array | null>()
  const knownViews = new Map<number, BufferView | null>()
  const left = (place: string, why: string): null => {
    messages.add('gltf.part', { place, why })
    return null
  }

  const readBuffer = (index: number): Uint8Array | null => {
    const buffer = objectOf(buffers[index])
    if (!buffer) return left(`Buffer ${index}`, 'the file doesn’t have it')
    const uri = textOf(buffer.uri)
    // the chunk belongs to the first buffer alone
    let bytes = index === 0 && !uri ? chunk : null
    if (uri.startsWith('data:')) bytes = dataOf(uri)?.bytes ?? null
    else if (uri) {
      const { file } = findInPackage(beside, fileName, pathOf(uri))
      if (!file) {
        messages.add('gltf.buffer-missing', { file: pathOf(uri).slice(0, 200) })
        return null
      }
      bytes = file.bytes
    }
    if (!bytes) return left(`Buffer ${index}`, 'its bytes are not in the file')
    return bytes
  }
  const bufferOf = (index: number): Uint8Array | null => {
    if (!known.has(index)) known.set(index, readBuffer(index))
    return known.get(index)!
  }

  const readView = (index: number): BufferView | null => {
    const place = `Buffer view ${index}`
    const view = objectOf(views[index])
    if (!view) return left(place, 'the file doesn’t have it')
    const packed =
      extensionOf(view, 'EXT_meshopt_compression') ?? extensionOf(view, 'KHR_meshopt_compression')
    const source = packed ?? view
    const number = wholeOf(source.buffer)
    const start = wholeOf(source.byteOffset ?? 0)
    const length = wholeOf(source.byteLength)
    if (number === null || start === null || length === null)
      return left(place, 'it doesn’t say which bytes it has')
    const bytes = bufferOf(number)
    if (!bytes) return null
    if (start + length > bytes.length)
      return left(place, `it asks for bytes up to ${start + length}, and there are ${bytes.length}`)
    const own = bytes.subarray(start, start + length)
    if (packed) {
      const result = decompressView(packed, own, decoders.meshopt)
      return typeof result === 'string' ? left(place, result) : result
    }
    const stride = wholeOf(view.byteStride)
    return { bytes: own, stride: stride === 0 ? null : stride }
  }
  return {
    view: (index) => {
      if (!knownViews.has(index)) knownViews.set(index, readView(index))
      return knownViews.get(index)!
    },
  }
}
