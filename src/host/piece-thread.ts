/** A thread that reads pieces of a file from the last to the first, each that nobody has taken yet. */
import { workerData } from 'node:worker_threads'
import { buffersOf } from '../core/base/bytes/buffers-of.ts'
import { formatNamed } from '../core/formats/registry.ts'
import { ANSWERED, FREE, TAKEN, type PieceWork } from './node-pieces.ts'

const { format, pieces, states, port } = workerData as PieceWork
const state = new Int32Array(states)
const readPiece = formatNamed(format).readPiece!
for (let at = pieces.length - 1; at >= 0; at--) {
  const bytes = pieces[at]
  if (!bytes || Atomics.compareExchange(state, at, FREE, TAKEN) !== FREE) continue
  const piece = readPiece(new Uint8Array(bytes))
  port.postMessage({ at, piece }, buffersOf(piece))
  Atomics.store(state, at, ANSWERED)
  Atomics.notify(state, at)
}
port.close()
