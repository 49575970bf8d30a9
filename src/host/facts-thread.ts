/** A thread that works out what lists show of one scene, and ends. */
import { workerData } from 'node:worker_threads'
import { listedFacts } from '../core/view/listed-facts.ts'
import { unpackScene } from '../core/scene/pack-scene.ts'
import type { FactsWork } from './node-facts.ts'

const { scene, isPictured, state, port } = workerData as FactsWork
const told = new Int32Array(state)
try {
  port.postMessage(listedFacts(unpackScene(scene), isPictured))
} finally {
  // who waits is let go in any case, and does it itself where nothing came
  Atomics.store(told, 0, 1)
  Atomics.notify(told, 0)
}
port.close()
