/** What Node offers to the core: its own zlib, several times as fast as one in JavaScript, on several cores. */
import { availableParallelism } from 'node:os'
import { deflateSync, inflateSync } from 'node:zlib'
import { Worker } from 'node:worker_threads'
import { PURE_CODEC, type ZlibCodec } from '../core/bytes/zlib.ts'

/** Quick rather than small; the larger table costs nothing and finds a little more. */
const PACKING = { level: 1, memLevel: 9 }

/** Below this a second thread takes longer to start than it saves. */
const LEAST_SHARED_BYTES = 16 * 2 ** 20
const MOST_THREADS = 4
/** A thread that has not answered by then never will; its share is packed here instead. */
const PATIENCE_MILLISECONDS = 60000

function packHere(bytes: Uint8Array): Uint8Array {
  const { buffer, byteOffset, length } = deflateSync(bytes, { ...PACKING, chunkSize: 1 << 20 })
  return new Uint8Array(buffer, byteOffset, length)
}

/** A thread's work: what is shared with it is packed into memory that is shared as well. */
const THREAD = `
const { workerData } = require('node:worker_threads')
const { deflateSync } = require('node:zlib')
const { jobs, state, packing } = workerData
const flags = new Int32Array(state)
for (const [at, { raw, out }] of jobs.entries()) {
  const packed = deflateSync(new Uint8Array(raw), packing)
  new Uint8Array(out).set(packed)
  flags[at + 1] = packed.length
}
Atomics.store(flags, 0, 1)
Atomics.notify(flags, 0)
`

interface Share {
  readonly places: number[]
  bytes: number
}

/** What a thread was given, and how to have it back. */
function startThread(arrays: readonly Uint8Array[], places: readonly number[]) {
  const state = new SharedArrayBuffer(4 * (places.length + 1))
  const jobs = places.map((place) => {
    const source = arrays[place]!
    const raw = new SharedArrayBuffer(source.length)
    new Uint8Array(raw).set(source)
    // zlib's own bound for data that can't be packed
    return { raw, out: new SharedArrayBuffer(source.length + (source.length >> 10) + 1024) }
  })
  const worker = new Worker(THREAD, { eval: true, workerData: { jobs, state, packing: PACKING } })
  worker.unref()
  // a fault in the thread shows as no answer
  worker.on('error', () => undefined)
  return (): Uint8Array[] | null => {
    const flags = new Int32Array(state)
    const answered =
      Atomics.load(flags, 0) === 1 || Atomics.wait(flags, 0, 0, PATIENCE_MILLISECONDS) !== 'timed-out'
    void worker.terminate()
    return answered ? jobs.map(({ out }, at) => new Uint8Array(out, 0, flags[at + 1])) : null
  }
}

/** Largest first, each to whoever has least; this thread is the first. */
function shareOut(arrays: readonly Uint8Array[]): Share[] {
  const threads = Math.max(1, Math.min(MOST_THREADS, availableParallelism(), arrays.length))
  const shares = Array.from({ length: threads }, (): Share => ({ places: [], bytes: 0 }))
  const order = arrays.map((_array, place) => place).sort((a, b) => arrays[b]!.length - arrays[a]!.length)
  for (const place of order) {
    const least = shares.reduce((best, share) => (share.bytes < best.bytes ? share : best))
    least.places.push(place)
    least.bytes += arrays[place]!.length
  }
  return shares
}

/** Streams that Node refuses, for their checksum or otherwise, go to the patient one. */
export const NODE_CODEC: ZlibCodec = {
  inflate(packed, byteLength) {
    try {
      // one piece of memory for all of it: joining many costs as much again as unpacking
      const { buffer, byteOffset, length } = inflateSync(packed, {
        maxOutputLength: Math.max(1, byteLength),
        chunkSize: byteLength + 64,
      })
      return { bytes: new Uint8Array(buffer, byteOffset, length), sound: true }
    } catch {
      return PURE_CODEC.inflate(packed, byteLength)
    }
  },
  deflate: packHere,
  deflateAll(arrays) {
    const total = arrays.reduce((sum, array) => sum + array.length, 0)
    if (total < LEAST_SHARED_BYTES) return arrays.map(packHere)
    const [own, ...others] = shareOut(arrays)
    const threads = others
      .filter((share) => share.places.length > 0)
      .map((share) => ({ share, finish: startThread(arrays, share.places) }))
    const packed = new Array<Uint8Array>(arrays.length)
    for (const place of own!.places) packed[place] = packHere(arrays[place]!)
    for (const { share, finish } of threads) {
      const results = finish()
      share.places.forEach((place, at) => (packed[place] = results?.[at] ?? packHere(arrays[place]!)))
    }
    return packed
  },
}
