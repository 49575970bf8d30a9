import { onBeforeUnmount, shallowRef } from 'vue'
import BenchWorker from '../../workers/bench.worker.ts?worker'
import type { BenchRequestName, BenchRequests, FromBench, ToBench } from './bench-messages.ts'

/** Polygons beyond which the checks wait to be asked for. */
export const CHECKED_AT_ONCE = 300000

/** The artist has stopped the work. */
export class Stopped extends Error {}

/** The Bench's worker, for as long as the component lives. */
export function useBench() {
  let worker = new BenchWorker()
  let line: (() => MessagePort) | null = null
  const progress = shallowRef<{ share: number; stage: string } | null>(null)
  const waiting = new Map<number, { resolve: (answer: unknown) => void; reject: (error: Error) => void }>()
  let nextId = 1
  const listen = (): void => {
    worker.onmessage = onMessage
    worker.onerror = (event) => rejectAll(new Error(event.message))
  }
  function rejectAll(error: Error): void {
    for (const held of waiting.values()) held.reject(error)
    waiting.clear()
    progress.value = null
  }
  const onMessage = (event: MessageEvent<FromBench>): void => {
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
  listen()
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
    /** Gives the worker its line to the viewer; `open` makes a new one, as a stopped worker needs again. */
    connect(open: () => MessagePort): void {
      line = open
      const port = open()
      post({ type: 'port', port }, [port])
    },
    /** Ends whatever it is at; what it held is gone and has to be opened again. */
    stop(): void {
      worker.terminate()
      worker = new BenchWorker()
      listen()
      rejectAll(new Stopped())
      const port = line?.()
      if (port) post({ type: 'port', port }, [port])
    },
  }
}
