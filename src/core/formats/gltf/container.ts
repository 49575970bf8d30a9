/** A file as its JSON document and the bytes that lie in the same file. Source: glTF 2.0, sections 3.2 and 4. */
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { objectOf, partOf, textOf, type Json } from '../notes/json.ts'

export interface GltfContainer {
  readonly document: Json
  /** The binary chunk; null where the file has none. */
  readonly chunk: Uint8Array | null
  readonly form: 'binary' | 'text'
  /** Its text is not UTF-8, as the format asks for, and was read as Latin-1. */
  readonly isLatin1: boolean
}

const MAGIC = 0x46546c67
const CHUNK_JSON = 0x4e4f534a
const CHUNK_BINARY = 0x004e4942
const HEADER_BYTES = 12
const CHUNK_HEADER_BYTES = 8
/** Nothing is deeper in a file that anyone wrote; deeper ones overflow the stacks of readers. */
const DEEPEST = 200

/** How deep the brackets of a text go, outside its strings. */
function depthOf(text: string): number {
  let depth = 0
  let deepest = 0
  let inText = false
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (inText) {
      if (code === 92) at++
      else if (code === 34) inText = false
    } else if (code === 34) inText = true
    else if (code === 123 || code === 91) deepest = Math.max(deepest, ++depth)
    else if (code === 125 || code === 93) depth--
  }
  return deepest
}

function parseDocument(bytes: Uint8Array, fileName: string): { document: Json; isLatin1: boolean } {
  const unreadable = (what: string): KelboError => new KelboError('gltf.unreadable', { what }, fileName)
  const utf8 = decodeUtf8(bytes)
  const text = utf8 ?? decodeLatin1(bytes)
  if (depthOf(text) > DEEPEST) throw unreadable(`its lists lie more than ${DEEPEST} deep in each other`)
  let parsed: unknown
  try {
    parsed = JSON.parse(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text)
  } catch (error) {
    // the place that the parser names is worth more than its words
    const place = /position (\d+)/.exec((error as Error).message)?.[1]
    throw unreadable(`its text breaks off or holds what is no JSON${place ? `, at letter ${place}` : ''}`)
  }
  const document = objectOf(parsed)
  if (!document) throw unreadable('its text is no JSON object')
  return { document, isLatin1: utf8 === null }
}

/**
 * @throws KelboError `file.empty`, `gltf.unreadable`; `gltf.version` for any version but 2.
 */
export function readContainer(bytes: Uint8Array, fileName: string): GltfContainer {
  if (bytes.length === 0) throw new KelboError('file.empty', {}, fileName)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const isBinary = bytes.length >= 4 && view.getUint32(0, true) === MAGIC
  if (!isBinary) {
    const parsed = parseDocument(bytes, fileName)
    checkVersion(parsed.document, fileName)
    return { ...parsed, chunk: null, form: 'text' }
  }
  const unreadable = (what: string): KelboError => new KelboError('gltf.unreadable', { what }, fileName)
  if (bytes.length < HEADER_BYTES + CHUNK_HEADER_BYTES) throw unreadable('it breaks off in its header')
  const version = view.getUint32(4, true)
  if (version !== 2) throw new KelboError('gltf.version', { version: `${version}` }, fileName)
  const stated = view.getUint32(8, true)
  if (stated > bytes.length)
    throw unreadable(`it says that it has ${stated} bytes and breaks off after ${bytes.length}`)
  let parsed: ReturnType<typeof parseDocument> | null = null
  let chunk: Uint8Array | null = null
  let at = HEADER_BYTES
  while (at + CHUNK_HEADER_BYTES <= stated) {
    const length = view.getUint32(at, true)
    const kind = view.getUint32(at + 4, true)
    const start = at + CHUNK_HEADER_BYTES
    if (start + length > stated) throw unreadable(`the piece at byte ${at} goes beyond the end of the file`)
    const piece = bytes.subarray(start, start + length)
    if (kind === CHUNK_JSON && !parsed) parsed = parseDocument(piece, fileName)
    else if (kind === CHUNK_BINARY && !chunk) chunk = piece
    at = start + length
  }
  if (!parsed) throw unreadable('it has no document in it')
  checkVersion(parsed.document, fileName)
  return { ...parsed, chunk, form: 'binary' }
}

function checkVersion(document: Json, fileName: string): void {
  const asset = partOf(document, 'asset')
  const version = textOf(asset?.version)
  const least = textOf(asset?.minVersion) || version
  if (/^2(\.|$)/.test(version) && /^2(\.0*)?$/.test(least)) return
  // files of the first version also say so by what they hold, where they don't say a version
  const isOld = objectOf(document.meshes) !== null && !Array.isArray(document.meshes)
  if (version === '' && !isOld) {
    if (asset || !('meshes' in document || 'nodes' in document || 'scenes' in document))
      throw new KelboError('file.not-a-model', {}, fileName)
    throw new KelboError('gltf.unreadable', { what: 'it doesn’t say of which version it is' }, fileName)
  }
  throw new KelboError('gltf.version', { version: least || '1.0' }, fileName)
}

/** What lies in a file: its length, and how it is put where it is to lie. */
export interface Chunk {
  readonly length: number
  readonly writeTo: (bytes: Uint8Array) => void
}

/** A file's bytes of a document and, where there are any, of what lies in it. Both are padded to four bytes. */
export function binaryContainer(text: Uint8Array, chunk: Chunk | Uint8Array | null): Uint8Array {
  const padded = (length: number): number => (length + 3) & ~3
  const total =
    HEADER_BYTES +
    CHUNK_HEADER_BYTES +
    padded(text.length) +
    (chunk ? CHUNK_HEADER_BYTES + padded(chunk.length) : 0)
  const bytes = new Uint8Array(total)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, MAGIC, true)
  view.setUint32(4, 2, true)
  view.setUint32(8, total, true)
  view.setUint32(12, padded(text.length), true)
  view.setUint32(16, CHUNK_JSON, true)
  bytes.set(text, 20)
  bytes.fill(0x20, 20 + text.length, 20 + padded(text.length))
  if (chunk) {
    const at = 20 + padded(text.length)
    view.setUint32(at, padded(chunk.length), true)
    view.setUint32(at + 4, CHUNK_BINARY, true)
    if (chunk instanceof Uint8Array) bytes.set(chunk, at + 8)
    else chunk.writeTo(bytes.subarray(at + 8, at + 8 + chunk.length))
  }
  return bytes
}
