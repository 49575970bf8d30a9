/** What Node offers to readers of large files: other threads that read pieces of one. */
import { availableParallelism } from 'node:os'
import { MessageChannel, receiveMessageOnPort, Worker, type MessagePort } from 'node:worker_threads'
import type { PieceReader } from '../core/formats/descriptor.ts'
import { builtFile } from './built-file.ts'

/** Bytes below which a second thread takes longer to start than it saves. */
const LEAST_BYTES = 24 * 2 ** 20
const MOST_THREADS = 4
/** Pieces for each thread; one that started late takes fewer. */
const PIECES_EACH = 4
/** A thread that says nothing for so long never will; its piece is read here instead. */
const PATIENCE_MILLISECONDS = 60_000

/** States of a piece. */
export const FREE = 0
export const TAKEN = 1
export const ANSWERED = 2

export interface PieceWork {
  readonly format: string
  /** Each with its bytes alone; null for one that is not for other threads. */
  readonly pieces: readonly (SharedArrayBuffer | null)[]
  /** A state each, in 32 bits. */
  readonly states: SharedArrayBuffer
  readonly port: MessagePort
}

const threadsAtMost = (): number => Math.min(MOST_THREADS, availableParallelism())

const shared = (bytes: Uint8Array): SharedArrayBuffer => {
  const copy = new SharedArrayBuffer(bytes.length)
  new Uint8Array(copy).set(bytes)
  return copy
}

export const NODE_PIECES: PieceReader = {
  piecesFor: (byteLength) => (byteLength < LEAST_BYTES ? 1 : PIECES_EACH * threadsAtMost()),
  begin(format, pieces) {
    const file = builtFile('piece-thread.js')
    const threadCount = file ? threadsAtMost() - 1 : 0
    const states = new SharedArrayBuffer(4 * pieces.length)
    const state = new Int32Array(states)
    // the first ones are read here in any case: they need no copy
    const ownPieces = Math.max(1, Math.floor(pieces.length / (threadCount + 1)) - 1)
    const sharedPieces = pieces.map((piece, at) =>
      threadCount > 0 && at >= ownPieces ? shared(piece) : null,
    )
    const threads = Array.from({ length: threadCount }, () => {
      const { port1, port2 } = new MessageChannel()
      const thread = new Worker(file!, {
        workerData: { format, pieces: sharedPieces, states, port: port2 } satisfies PieceWork,
        transferList: [port2],
      })
      thread.unref()
      // a fault in a thread shows as a piece that is never answered
      thread.on('error', () => undefined)
      return { thread, port: port1 }
    })
    const answers = new Map<number, unknown>()
    const collect = (): void => {
      for (const { port } of threads)
        for (let got; (got = receiveMessageOnPort(port));) {
          const { at, piece } = got.message as { at: number; piece: unknown }
          answers.set(at, piece)
        }
    }
    return {
      take(at) {
        if (Atomics.compareExchange(state, at, FREE, TAKEN) === FREE) return null
        Atomics.wait(state, at, TAKEN, PATIENCE_MILLISECONDS)
        collect()
        const answer = answers.get(at) ?? null
        answers.delete(at)
        return answer
      },
      end() {
        for (const { thread, port } of threads) {
          port.close()
          void thread.terminate()
        }
      },
    }
  },
}
