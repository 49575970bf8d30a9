/** What Node offers to the core: its own zlib, several times as fast as one in JavaScript, on several cores. */
import { availableParallelism } from 'node:os'
import { constants, deflateSync, inflateSync } from 'node:zlib'
import { Worker } from 'node:worker_threads'
import { PURE_CODEC, type ZlibCodec } from '../core/base/bytes/zlib.ts'

/** Quick rather than small; the larger table costs nothing and finds a little more. */
const PACKING = { level: 1, memLevel: 9 }

/** Below this a second thread takes longer to start than it saves. */
const LEAST_SHARED_BYTES = 16 * 2 ** 20
const MOST_THREADS = 4
/** A thread that has not answered by then never will; its share is packed here instead. */
const PATIENCE_MILLISECONDS = 60000

const RUNS_ONLY = { ...PACKING, strategy: constants.Z_RLE }

function packHere(bytes: Uint8Array, runsOnly = false): Uint8Array {
  const { buffer, byteOffset, length } = deflateSync(bytes, {
    ...(runsOnly ? RUNS_ONLY : PACKING),
    chunkSize: 1 << 20,
  })
  return new Uint8Array(buffer, byteOffset, length)
}

/** Places in the shared state: the next job to be taken, jobs done, then the packed length of each job. */
const NEXT = 0
const DONE = 1
const LENGTHS = 2

/** A thread's work: it takes one job after the other until there is none. */
const THREAD = `
const { workerData } = require('node:worker_threads')
const { deflateSync } = require('node:zlib')
const { jobs, state } = workerData
const flags = new Int32Array(state)
for (let at; (at = Atomics.add(flags, ${NEXT}, 1)) < jobs.length; ) {
  const packed = deflateSync(new Uint8Array(jobs[at].raw), jobs[at].packing)
  new Uint8Array(jobs[at].out).set(packed)
  Atomics.store(flags, ${LENGTHS} + at, packed.length)
  Atomics.add(flags, ${DONE}, 1)
  Atomics.notify(flags, ${DONE})
}
`

/** Packs on all cores: this thread and others take from one list, the largest first. */
function packTogether(arrays: readonly Uint8Array[], runsOnly: readonly boolean[]): Uint8Array[] {
  const order = arrays.map((_array, place) => place).sort((a, b) => arrays[b]!.length - arrays[a]!.length)
  const jobs = order.map((place) => {
    const source = arrays[place]!
    const raw = new SharedArrayBuffer(source.length)
    new Uint8Array(raw).set(source)
    // zlib's own bound for what can't be packed
    const out = new SharedArrayBuffer(source.length + (source.length >> 10) + 1024)
    return { raw, out, packing: runsOnly[place] ? RUNS_ONLY : PACKING }
  })
  const state = new SharedArrayBuffer(4 * (LENGTHS + jobs.length))
  const flags = new Int32Array(state)
  const threadCount = Math.min(MOST_THREADS, availableParallelism(), jobs.length) - 1
  const threads = Array.from({ length: threadCount }, () => {
    const thread = new Worker(THREAD, { eval: true, workerData: { jobs, state } })
    thread.unref()
    // a fault in a thread shows as a job that is never done
    thread.on('error', () => undefined)
    return thread
  })
  const packed = new Array<Uint8Array>(arrays.length)
  for (let at = 0; (at = Atomics.add(flags, NEXT, 1)) < jobs.length;) {
    packed[order[at]!] = packHere(arrays[order[at]!]!, runsOnly[order[at]!])
    Atomics.add(flags, DONE, 1)
  }
  const end = Date.now() + PATIENCE_MILLISECONDS
  for (let done; (done = Atomics.load(flags, DONE)) < jobs.length && Date.now() < end;)
    Atomics.wait(flags, DONE, done, PATIENCE_MILLISECONDS)
  for (const thread of threads) void thread.terminate()
  order.forEach((place, at) => {
    const length = flags[LENGTHS + at]!
    packed[place] ??=
      length > 0 ? new Uint8Array(jobs[at]!.out, 0, length) : packHere(arrays[place]!, runsOnly[place])
  })
  return packed
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
  deflate: (bytes) => packHere(bytes),
  deflateAll(arrays, runsOnly) {
    const total = arrays.reduce((sum, array) => sum + array.length, 0)
    if (total < LEAST_SHARED_BYTES) return arrays.map((array, at) => packHere(array, runsOnly[at]))
    return packTogether(arrays, runsOnly)
  },
}
