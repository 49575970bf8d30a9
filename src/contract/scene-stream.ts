/**
 * A scene on its way to the page as one stream, in the order in which its parts are looked at: the document first, then
 * array after array, so that parts are drawn while others are still on the way.
 *
 * Layout, all numbers little-endian: the letters KSS1; the length of the head in bytes (32 bits); the head, JSON in
 * UTF-8 (`StreamHead`); then each array: its number (32 bits), its length in bytes (32 bits, at most 2^31), its bytes.
 */
import { decodeUtf8, encodeUtf8 } from '../core/base/bytes/text.ts'
import type { Box } from '../core/base/math/box.ts'
import type { ArrayType } from '../core/scene/pack-scene.ts'

export const STREAM_MARK = 'KSS1'

export interface StreamHead {
  readonly document: unknown
  /** Bounds of all that is drawn, in world space, the scene's unit; null where there is nothing. */
  readonly bounds: Box | null
  /** One an array, by its number. */
  readonly arrays: readonly { readonly type: ArrayType; readonly length: number }[]
}

export interface StreamedArray {
  readonly index: number
  readonly bytes: Uint8Array
}

const WORD = 4

/** The beginning of a stream. */
export function encodeHead(head: StreamHead): Uint8Array {
  const json = encodeUtf8(JSON.stringify(head))
  const bytes = new Uint8Array(2 * WORD + json.length)
  for (let at = 0; at < WORD; at++) bytes[at] = STREAM_MARK.charCodeAt(at)
  new DataView(bytes.buffer).setUint32(WORD, json.length, true)
  bytes.set(json, 2 * WORD)
  return bytes
}

/** What stands before an array's bytes. */
export function encodeArrayHead(index: number, byteLength: number): Uint8Array {
  const bytes = new Uint8Array(2 * WORD)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, index, true)
  view.setUint32(WORD, byteLength, true)
  return bytes
}

/** Takes a stream's pieces as they come, however they are cut. */
export interface StreamDecoder {
  /** @throws Error where the stream is none. */
  readonly push: (piece: Uint8Array) => void
  readonly head: () => StreamHead | null
  /** Arrays that have come whole since the last call, in memory of their own. */
  readonly take: () => StreamedArray[]
  /** Nothing is half there. */
  readonly isAtEnd: () => boolean
}

export function createStreamDecoder(): StreamDecoder {
  let head: StreamHead | null = null
  /** Pieces that have not been used up, and what of the first has been. */
  const pieces: Uint8Array[] = []
  let offset = 0
  let held = 0
  /** The array that is being filled. */
  let open: { index: number; bytes: Uint8Array; filled: number } | null = null
  let headLength = -1
  const done: StreamedArray[] = []

  const fill = (into: Uint8Array, from: number): number => {
    let at = from
    while (at < into.length && pieces.length) {
      const piece = pieces[0]!
      const take = Math.min(into.length - at, piece.length - offset)
      into.set(piece.subarray(offset, offset + take), at)
      at += take
      offset += take
      held -= take
      if (offset === piece.length) {
        pieces.shift()
        offset = 0
      }
    }
    return at
  }
  const read = (length: number): Uint8Array => {
    const bytes = new Uint8Array(length)
    fill(bytes, 0)
    return bytes
  }

  return {
    push(piece) {
      if (piece.length === 0) return
      pieces.push(piece)
      held += piece.length
      if (headLength < 0) {
        if (held < 2 * WORD) return
        const start = read(2 * WORD)
        if (String.fromCharCode(...start.subarray(0, WORD)) !== STREAM_MARK)
          throw new Error('this is no scene')
        headLength = new DataView(start.buffer).getUint32(WORD, true)
      }
      if (!head) {
        if (held < headLength) return
        head = JSON.parse(decodeUtf8(read(headLength)) ?? 'null') as StreamHead
      }
      for (;;) {
        if (!open) {
          if (held < 2 * WORD) return
          const view = new DataView(read(2 * WORD).buffer)
          open = {
            index: view.getUint32(0, true),
            bytes: new Uint8Array(view.getUint32(WORD, true)),
            filled: 0,
          }
        }
        open.filled = fill(open.bytes, open.filled)
        if (open.filled < open.bytes.length) return
        done.push({ index: open.index, bytes: open.bytes })
        open = null
      }
    },
    head: () => head,
    take: () => done.splice(0),
    isAtEnd: () => head !== null && open === null && held === 0,
  }
}
