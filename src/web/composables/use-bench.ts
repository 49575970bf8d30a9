import { onBeforeUnmount, shallowRef } from 'vue'
import BenchWorker from '../workers/bench.worker.ts?worker'
import type { BenchRequestName, BenchRequests, FromBench, ToBench } from '../workers/bench-messages.ts'

/** The Bench's worker, for as long as the component lives. */
export function useBench() {
  const worker = new BenchWorker()
  const progress = shallowRef<{ share: number; stage: string } | null>(null)
  const waiting = new Map<number, { resolve: (answer: unknown) => void; reject: (error: Error) => void }>()
  let nextId = 1
  worker.onmessage = (event: MessageEvent<FromBench>) => {
    const message = event.data
    if (message.type === 'progress') {
      progress.value = message
      return
    }
    const held = waiting.get(message.id)
    waiting.delete(message.id)
    if (waiting.size === 0) progress.value = null
    if (message.type === 'answer') held?.resolve(message.answer)
    else held?.reject(new Error(message.text))
  }
  worker.onerror = (event) => {
    for (const held of waiting.values()) held.reject(new Error(event.message))
    waiting.clear()
  }
  const post = (message: ToBench, transfer: Transferable[] = []): void =>
    worker.postMessage(message, transfer)

  function ask<Name extends BenchRequestName>(
    name: Name,
    question: BenchRequests[Name]['ask'],
  ): Promise<BenchRequests[Name]['answer']> {
    const id = nextId++
    return new Promise((resolve, reject) => {
      waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject })
      post({ type: 'ask', id, name, ask: question })
    })
  }
  onBeforeUnmount(() => worker.terminate())
  return {
    ask,
    progress,
    /** Gives the worker its line to the viewer. */
    connect: (port: MessagePort): void => post({ type: 'port', port }, [port]),
  }
}
