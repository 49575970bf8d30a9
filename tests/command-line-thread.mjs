/** Runs the built command line, one call after the other, for the thread that waits for each. */
import { workerData } from 'node:worker_threads'

const { program, port, done } = workerData
port.on('message', async (words) => {
  let out = ''
  let err = ''
  let status
  try {
    const { runCommandLine } = await import(program)
    status = await runCommandLine(words, {
      out: (text) => (out += `${text}\n`),
      say: (text) => (err += `${text}\n`),
    })
  } catch (error) {
    // as a process of its own would end
    status = 1
    err += `${error.stack}\n`
  }
  port.postMessage({ status, out, err })
  Atomics.store(done, 0, 1)
  Atomics.notify(done, 0)
})
