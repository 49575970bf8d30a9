/**
 * The built command line, call by call, as a pipeline uses it: in one thread that stays, so that a call costs what it
 * does and not the start of a process.
 */
import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { MessageChannel, type MessagePort, receiveMessageOnPort, Worker } from 'node:worker_threads'

const built = resolve(import.meta.dirname, '../dist/server')
/** The program for a process of its own. */
export const program = resolve(built, 'cli.js')

export interface Printed {
  readonly status: number
  readonly out: string
  readonly err: string
}

interface Line {
  readonly worker: Worker
  readonly port: MessagePort
  readonly done: Int32Array
}

let line: Line | null = null

function open(): Line {
  const at = resolve(built, 'command-line.js')
  if (!existsSync(at)) throw new Error(`${at} is not there: build first.`)
  const { port1, port2 } = new MessageChannel()
  const done = new Int32Array(new SharedArrayBuffer(4))
  const worker = new Worker(resolve(import.meta.dirname, 'command-line-thread.mjs'), {
    workerData: { program: pathToFileURL(at).href, port: port2, done },
    transferList: [port2],
  })
  worker.unref()
  port1.unref()
  return { worker, port: port1, done }
}

/** @throws Error where a call has not ended after ten minutes. */
export function kelbo(...words: string[]) {
  line ??= open()
  const { port, done } = line
  Atomics.store(done, 0, 0)
  port.postMessage(words)
  if (Atomics.wait(done, 0, 0, 600_000) === 'timed-out') throw new Error(`No answer to ${words.join(' ')}.`)
  const printed = receiveMessageOnPort(port)!.message as Printed
  return { ...printed, json: () => JSON.parse(printed.out) }
}
