/** A thread that does one task after another. Ending it early is how a job is cancelled. */
import { parentPort } from 'node:worker_threads'
import { KelboError } from '../../core/base/messages/collector.ts'
import { NODE_HOST } from '../../host/node-host.ts'
import type { Host, Progress } from '../../app/host.ts'
import { buffersOf } from '../../core/base/bytes/buffers-of.ts'
import { TASKS, type TaskName } from '../../app/tasks.ts'

/** What the thread answers. */
export type ThreadMessage =
  | { readonly kind: 'progress'; readonly share: number; readonly stage: string }
  | { readonly kind: 'done'; readonly result: unknown }
  | {
      readonly kind: 'impossible'
      readonly code: string
      readonly parameters: Record<string, string | number>
      readonly file: string | null
    }
  | { readonly kind: 'fault'; readonly text: string }

const port = parentPort!

port.on('message', ({ task, request }: { task: TaskName; request: unknown }) => {
  let lastTold = 0
  const progress = (share: number, stage: string): void => {
    const now = Date.now()
    if (now - lastTold < 100) return
    lastTold = now
    port.postMessage({ kind: 'progress', share, stage } satisfies ThreadMessage)
  }
  void answer(task, request, progress)
})

async function answer(task: TaskName, request: unknown, progress: Progress): Promise<void> {
  try {
    const run = TASKS[task] as (request: unknown, progress: Progress, host: Host) => unknown
    const result = await run(request, progress, NODE_HOST)
    port.postMessage({ kind: 'done', result } satisfies ThreadMessage, buffersOf(result))
  } catch (error) {
    if (error instanceof KelboError)
      port.postMessage({
        kind: 'impossible',
        code: error.code,
        parameters: error.parameters,
        file: error.file,
      } satisfies ThreadMessage)
    else
      port.postMessage({
        kind: 'fault',
        text: error instanceof Error ? (error.stack ?? error.message) : String(error),
      } satisfies ThreadMessage)
  }
}
