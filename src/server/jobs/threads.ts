import { Worker } from 'node:worker_threads'
import { builtFile } from '../../host/built-file.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { Progress } from '../../app/host.ts'
import { buffersOf } from '../../core/base/bytes/buffers-of.ts'
import { type TaskName, type TaskRequest, type TaskResult } from '../../app/tasks.ts'
import type { ThreadMessage } from './task-thread.ts'

/** The built thread of tasks. */
function threadFile(): string {
  const found = builtFile('task-thread.js')
  if (!found) throw new Error('the task thread is not built; run ./kelbo build')
  return found
}

/** Runs a task in a thread. */
export type RunTask = <Name extends TaskName>(
  task: Name,
  request: TaskRequest<Name>,
  progress: Progress,
  signal: AbortSignal,
) => Promise<TaskResult<Name>>

export interface Threads {
  /**
   * Runs a task in a thread; the request's arrays move there.
   * @throws KelboError for what is wrong with the user's file; the signal's reason when aborted.
   */
  readonly run: RunTask
  close(): Promise<void>
}

/**
 * Milliseconds after which a thread that has worked and has nothing to do gives back its memory: another takes its
 * place, with the program in it and no more. What comes next begins half a second sooner than in a new one.
 */
const KEPT_WARM = 30_000

/** Threads for the tasks of one worker. One that has ended its task waits for the next; an aborted one is ended. */
export function openThreads(): Threads {
  let warm: Worker | null = null
  let coolsDown: NodeJS.Timeout | undefined
  let isClosed = false
  const coolDown = (): void => {
    clearTimeout(coolsDown)
    void warm?.terminate()
    warm = null
  }
  const keepWarm = (thread: Worker): void => {
    coolDown()
    if (isClosed) return void thread.terminate()
    thread.removeAllListeners()
    // one that fails while it has no work is not missed
    thread.on('error', () => (warm = warm === thread ? null : warm))
    thread.unref()
    warm = thread
  }
  const keepFresh = (): void => keepWarm(new Worker(threadFile()))
  const next = (): Worker => {
    const thread = warm ?? new Worker(threadFile())
    clearTimeout(coolsDown)
    warm = null
    thread.removeAllListeners()
    thread.ref()
    return thread
  }
  const run: RunTask = (task, request, progress, signal) =>
    new Promise((resolve, reject) => {
      if (signal.aborted) return reject(signal.reason as Error)
      const thread = next()
      const settle = (act: () => void, isWhole: boolean): void => {
        signal.removeEventListener('abort', abort)
        if (isWhole) {
          keepWarm(thread)
          if (!isClosed) coolsDown = setTimeout(keepFresh, KEPT_WARM).unref()
        } else {
          thread.removeAllListeners()
          thread.on('error', () => undefined)
          void thread.terminate()
        }
        act()
      }
      const abort = (): void => settle(() => reject(signal.reason as Error), false)
      signal.addEventListener('abort', abort)
      thread.on('message', (message: ThreadMessage) => {
        if (message.kind === 'progress') progress(message.share, message.stage)
        else if (message.kind === 'done')
          settle(() => resolve(message.result as TaskResult<typeof task>), true)
        else if (message.kind === 'impossible')
          settle(() => reject(new KelboError(message.code, message.parameters, message.file)), true)
        else settle(() => reject(new Error(message.text)), false)
      })
      thread.on('error', (error) => settle(() => reject(error), false))
      thread.on('exit', (code) =>
        settle(() => reject(new Error(`the task thread ended with ${code}`)), false),
      )
      thread.postMessage({ task, request }, buffersOf(request))
    })
  keepFresh()
  return {
    run,
    async close() {
      isClosed = true
      const thread = warm
      coolDown()
      await thread?.terminate()
    },
  }
}
