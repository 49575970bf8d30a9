/** Threads read the pieces of a large file; what they read is the file. */
import { availableParallelism } from 'node:os'
import { isDeepStrictEqual } from 'node:util'
import { expect, test } from 'vitest'
import { encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { readObj } from '../../src/core/formats/obj/read-obj.ts'
import { builtFile } from '../../src/host/built-file.ts'
import { NODE_PIECES } from '../../src/host/node-pieces.ts'

function largeObj(): Uint8Array {
  const lines: string[] = []
  const side = 520
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      lines.push(`v ${x * 0.125} ${y * 0.25} ${((x * y) % 97) * 0.001953125}`)
      lines.push(`vt ${x / side} ${y / side}`)
    }
  for (let y = 0; y + 1 < side; y++) {
    lines.push(`g row_${y % 7}`, `usemtl paint_${y % 5}`, `s ${y % 3}`)
    for (let x = 0; x + 1 < side; x++) {
      const at = y * side + x + 1
      lines.push(
        `f ${[at, at + 1, at + side + 1, at + side].map((corner) => `${corner}/${corner}`).join(' ')}`,
      )
    }
  }
  return encodeUtf8(lines.join('\n') + '\n')
}

test('a file of more than 24 MB is the same, read by one thread and by several', () => {
  expect(builtFile('piece-thread.js')).not.toBeNull()
  const bytes = largeObj()
  expect(bytes.length).toBeGreaterThan(24 * 2 ** 20)
  let fromThreads = 0
  const counted: typeof NODE_PIECES = {
    ...NODE_PIECES,
    begin(format, pieces) {
      const others = NODE_PIECES.begin(format, pieces)
      // a start for the others, however quick this thread is
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1000)
      return {
        ...others,
        take(piece) {
          const taken = others.take(piece)
          if (taken) fromThreads++
          return taken
        },
      }
    },
  }
  const file = { name: 'rows.obj', bytes }
  const inPieces = readObj(file, [], {}, counted)
  expect(isDeepStrictEqual(inPieces, readObj(file, []))).toBe(true)
  if (availableParallelism() > 1) expect(fromThreads).toBeGreaterThan(0)
})

test('a thread reads the lists of a COLLADA', () => {
  const texts = ['1 2 3 ', '0.5 -1e-3 7 ', '4 x ']
  const others = NODE_PIECES.begin('collada', [encodeUtf8('0 '), ...texts.map((text) => encodeUtf8(text))])
  // the first ones are this thread's own; the last ones have been read, or are being read
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 2000)
  const found = [1, 2, 3].map((piece) => others.take(piece))
  others.end()
  expect(found[1] === null || isDeepStrictEqual(found[1], Float64Array.of(0.5, -1e-3, 7))).toBe(true)
  expect(found[2]).toBeNull()
  if (availableParallelism() > 1) expect(found.some((list) => list !== null)).toBe(true)
})
