/** Starts the application: server and workers, each started again when it ends by itself. */
import { createServer } from 'node:net'
import { start } from './run.mjs'

const portIsFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })

/** Where the artist finds it: under the first of the names that it was given, else on this machine. */
export function addressOf(port) {
  const { KELBO_CERTIFICATE: certificate, KELBO_PROXY: proxy, KELBO_HOSTS: hosts } = process.env
  const name = hosts?.split(',')[0]?.trim() || `127.0.0.1:${port}`
  return `${certificate || (proxy && hosts) ? 'https' : 'http'}://${name}`
}

/** Milliseconds before a part that ended is started again: the first time, and at most. */
const FIRST_PAUSE = 250
const LONGEST_PAUSE = 30_000
/** A part that lived for so long is well: the next pause is the first one again. */
const WELL_AFTER = 5_000
/** Times that a part is begun which somebody ends before it is ready. */
const FIRST_TRIES = 5
/** Milliseconds that a part has to end politely. */
const PATIENCE = 8000

const inWords = (milliseconds) =>
  milliseconds < 1000 ? 'at once' : `in ${Math.round(milliseconds / 1000)} s`

/** How a process ended, in words. */
const ending = (code, signal) => (signal ? `was ended by ${signal}` : `ended with ${code}`)

/**
 * Keeps one part running.
 * @param launch starts it; a promise of what has an `ended` promise of words, or a rejection.
 * @returns a function that ends the keeping.
 */
export function keepRunning(name, first, launch, say) {
  let stopped = false
  let current = first
  let since = Date.now()
  let pause = FIRST_PAUSE
  let timer = null
  const again = () => {
    timer = setTimeout(async () => {
      if (stopped) return
      since = Date.now()
      try {
        current = await launch()
        say(`Kelbo’s ${name} is running again.`)
        watch()
      } catch (error) {
        failed(error.message)
      }
    }, pause)
  }
  const failed = (how) => {
    if (stopped) return
    if (Date.now() - since > WELL_AFTER) pause = FIRST_PAUSE
    say(`Kelbo’s ${name} ${how}; it is started again ${inWords(pause)}.`)
    again()
    pause = Math.min(LONGEST_PAUSE, pause * 2)
  }
  const watch = () => void current.ended.then(failed)
  watch()
  return () => {
    stopped = true
    clearTimeout(timer)
  }
}

/** @returns the application, once the server answers and the workers wait for work. */
export async function startApplication({
  databaseUrl,
  port,
  workers = 1,
  environment = {},
  say = console.error,
}) {
  if (!(await portIsFree(port)))
    throw new Error(`Port ${port} is in use. Start with another one: KELBO_PORT=${port + 1} ./kelbo start`)
  const env = {
    ...process.env,
    KELBO_DATABASE_URL: databaseUrl,
    KELBO_PORT: String(port),
    // a part that loses us ends itself
    KELBO_ENDS_WITH_PARENT: 'yes',
    ...environment,
  }
  const children = new Set()
  const launch = (script, sign, own = {}) =>
    new Promise((resolve, reject) => {
      const child = start([script], { env: { ...env, ...own }, stdio: ['pipe', 'pipe', 'inherit'] })
      children.add(child)
      child.stdin.on('error', () => undefined)
      const ended = new Promise((end) =>
        child.once('exit', (code, signal) => {
          children.delete(child)
          end(ending(code, signal))
          reject(Object.assign(new Error(`${ending(code, signal)} before it was ready`), { signal }))
        }),
      )
      child.stdout.on('data', (text) => {
        if (String(text).includes(sign)) resolve({ child, ended })
        else process.stdout.write(text)
      })
    })
  const parts = [
    { name: 'server', launch: () => launch('dist/server/main.js', 'server ready') },
    ...Array.from({ length: workers }, (_worker, at) => ({
      name: workers > 1 ? `worker ${at + 1}` : 'worker',
      // the last of several leaves long work to the others
      launch: () =>
        launch('dist/server/worker-main.js', 'worker ready', {
          KELBO_ONLY_SHORT: workers > 1 && at === workers - 1 ? 'yes' : 'no',
        }),
    })),
  ]
  const endAll = () =>
    Promise.all(
      [...children].map(
        (child) =>
          new Promise((resolve) => {
            child.once('exit', resolve)
            child.kill('SIGTERM')
            setTimeout(() => child.kill('SIGKILL'), PATIENCE).unref()
          }),
      ),
    )
  const keeping = []
  try {
    // the server brings the tables up to date, then the workers start side by side
    const begin = async ({ name, launch: first }) => {
      let begun = null
      for (let attempt = 1; !begun; attempt++)
        try {
          begun = await first()
        } catch (error) {
          // one that ends by itself will do so again; one that somebody ended is worth another try
          if (!error.signal || attempt === FIRST_TRIES) throw new Error(`Kelbo’s ${name} ${error.message}.`)
          say(`Kelbo’s ${name} ${error.message}; it is started again.`)
        }
      keeping.push(keepRunning(name, begun, first, say))
    }
    const [server, ...others] = parts
    await begin(server)
    // all of them are known before any is ended
    const begun = await Promise.allSettled(others.map(begin))
    const failure = begun.find(({ status }) => status === 'rejected')
    if (failure) throw failure.reason
  } catch (error) {
    for (const stop of keeping) stop()
    await endAll()
    throw error
  }
  return {
    address: addressOf(port),
    /** Ends all parts politely, then for good. */
    async stop() {
      for (const stop of keeping) stop()
      await endAll()
    },
  }
}
