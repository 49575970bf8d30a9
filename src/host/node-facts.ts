/** What lists show of a large scene, worked out on another thread beside what is worked out here. */
import { MessageChannel, receiveMessageOnPort, Worker, type MessagePort } from 'node:worker_threads'
import type { PackedScene } from '../core/scene/pack-scene.ts'
import type { ListedFacts } from '../core/view/listed-facts.ts'
import { builtFile } from './built-file.ts'

/** Bytes of arrays below which a thread takes longer to start than it saves. */
const LEAST_BYTES = 24 * 2 ** 20
/** Bytes from which on a second copy of them costs more than it saves. */
const MOST_BYTES = 2 ** 30
/** A thread that says nothing for so long never will; its work is done here instead. */
const PATIENCE_MILLISECONDS = 60_000

export interface FactsWork {
  readonly scene: PackedScene
  readonly isPictured: boolean
  /** One state of 32 bits: 1 when the answer lies at the port. */
  readonly state: SharedArrayBuffer
  readonly port: MessagePort
}

/**
 * Begins to work a scene's facts out.
 * @returns null for one that is too small or too large for it; else what waits for them, with null where the thread failed.
 */
export function beginFacts(scene: PackedScene, isPictured: boolean): (() => ListedFacts | null) | null {
  const byteLength = scene.arrays.reduce((sum, array) => sum + array.byteLength, 0)
  const file = byteLength < LEAST_BYTES || byteLength > MOST_BYTES ? null : builtFile('facts-thread.js')
  if (!file) return null
  const state = new Int32Array(new SharedArrayBuffer(4))
  const { port1, port2 } = new MessageChannel()
  const thread = new Worker(file, {
    workerData: { scene, isPictured, state: state.buffer, port: port2 } satisfies FactsWork,
    transferList: [port2],
  })
  thread.unref()
  // a fault shows as an answer that never comes
  thread.on('error', () => undefined)
  return () => {
    Atomics.wait(state, 0, 0, PATIENCE_MILLISECONDS)
    const got = receiveMessageOnPort(port1)
    port1.close()
    void thread.terminate()
    return (got?.message as ListedFacts | undefined) ?? null
  }
}
