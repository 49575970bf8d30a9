import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import type { MessageCode } from '../../core/messages/catalogue.ts'
import { KelboError } from '../../core/messages/collector.ts'
import {
  transferList,
  type Progress,
  type TaskName,
  type TaskRequest,
  type TaskResult,
} from '../../tasks/tasks.ts'
import type { ThreadMessage } from './task-thread.ts'

/** The built thread: beside the built server, or in dist where the sources run. */
function threadFile(): string {
  const here = dirname(fileURLToPath(import.meta.url))
  const places = [
    join(here, 'task-thread.js'),
    join(here, '..', '..', '..', 'dist', 'server', 'task-thread.js'),
  ]
  const found = places.find((place) => existsSync(place))
  if (!found) throw new Error('the task thread is not built; run ./kelbo build')
  return found
}

/**
 * Runs a task in a thread of its own; the request's arrays move there.
 * @throws KelboError for what is wrong with the user's file; the signal's reason when aborted.
 */
export function runTask<Name extends TaskName>(
  task: Name,
  request: TaskRequest<Name>,
  progress: Progress,
  signal: AbortSignal,
): Promise<TaskResult<Name>> {
  return new Promise((resolve, reject) => {
    if (signal.aborted) return reject(signal.reason as Error)
    const thread = new Worker(threadFile())
    let settled = false
    const settle = (act: () => void): void => {
      if (settled) return
      settled = true
      signal.removeEventListener('abort', abort)
      act()
    }
    const abort = (): void => {
      void thread.terminate()
      settle(() => reject(signal.reason as Error))
    }
    signal.addEventListener('abort', abort)
    thread.on('message', (message: ThreadMessage) => {
      if (message.kind === 'progress') progress(message.share, message.stage)
      else if (message.kind === 'done') settle(() => resolve(message.result as TaskResult<Name>))
      else if (message.kind === 'impossible')
        settle(() => reject(new KelboError(message.code as MessageCode, message.parameters, message.file)))
      else settle(() => reject(new Error(message.text)))
    })
    thread.on('error', (error) => settle(() => reject(error)))
    thread.on('exit', (code) => settle(() => reject(new Error(`the task thread ended with ${code}`))))
    thread.postMessage({ task, request }, transferList(request))
  })
}
