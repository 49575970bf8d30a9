/** Starts the application: database, server, workers. */
import { createServer } from 'node:net'
import { start } from './run.mjs'

const portIsFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })

/** @returns the processes, once the server answers. */
export async function startApplication({ databaseUrl, port, workers = 1, environment = {} }) {
  if (!(await portIsFree(port)))
    throw new Error(`Port ${port} is in use. Start with another one: KELBO_PORT=${port + 1} ./kelbo start`)
  const env = { ...process.env, KELBO_DATABASE_URL: databaseUrl, KELBO_PORT: String(port), ...environment }
  const children = []
  const launch = (script, sign) =>
    new Promise((resolve, reject) => {
      const child = start([script], { env, detached: false })
      children.push(child)
      child.stdout.on('data', (text) => {
        if (String(text).includes(sign)) resolve(child)
        else process.stdout.write(text)
      })
      child.once('exit', (code) => reject(new Error(`${script} ended with ${code}`)))
    })
  try {
    await launch('dist/server/main.js', 'server ready')
    await Promise.all(
      Array.from({ length: workers }, () => launch('dist/server/worker-main.js', 'worker ready')),
    )
  } catch (error) {
    for (const child of children) child.kill('SIGTERM')
    throw error
  }
  return {
    address: `http://127.0.0.1:${port}`,
    children,
    /** Ends them politely, then for good. */
    stop: () =>
      Promise.all(
        children.map(
          (child) =>
            new Promise((resolve) => {
              if (child.exitCode !== null || child.signalCode) return resolve()
              child.once('exit', resolve)
              child.kill('SIGTERM')
              setTimeout(() => child.kill('SIGKILL'), 8000).unref()
            }),
        ),
      ),
  }
}
