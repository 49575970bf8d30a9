/** The whole application as a user starts it, for tests that end its parts. */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export const kelbo = join(import.meta.dirname, '..', '..', 'kelbo')

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => resolve(port))
    })
  })

export interface Started {
  readonly process: ChildProcess
  readonly address: string
  readonly said: () => string
  readonly ended: Promise<number | null>
}
/** What was made and begun, to be tidied up. */
export const folders: string[] = []
export const running: Started[] = []

export function newState(): string {
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-life-'))
  // the database's own user has to reach it
  execFileSync('chmod', ['755', folder])
  folders.push(folder)
  return folder
}

export async function begin(state: string, demo = 'off'): Promise<Started> {
  const port = await freePort()
  const process_ = spawn(kelbo, ['start'], {
    env: {
      ...process.env,
      KELBO_DATABASE_URL: '',
      KELBO_STATE: state,
      KELBO_PORT: String(port),
      KELBO_DEMO: demo,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  for (const stream of [process_.stdout, process_.stderr]) stream.on('data', (text) => (said += String(text)))
  const started: Started = {
    process: process_,
    address: `http://127.0.0.1:${port}`,
    said: () => said,
    ended: new Promise((resolve) => process_.once('exit', (code) => resolve(code))),
  }
  running.push(started)
  return started
}

export async function until(
  what: string,
  holds: () => boolean | Promise<boolean>,
  seconds = 300,
): Promise<void> {
  const end = Date.now() + seconds * 1000
  while (Date.now() < end) {
    if (await holds()) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error(`not within ${seconds} s: ${what}\n${running.at(-1)?.said() ?? ''}`)
}
export const answers = async ({ address }: Started): Promise<boolean> =>
  fetch(`${address}/api/assets`).then(
    (answer) => answer.ok,
    () => false,
  )
export const isUp = (started: Started): Promise<void> =>
  until('it answers', () => started.said().includes('Kelbo is at') && answers(started))

/** Processes of a start, by what their command lines hold. */
export const processesOf = (state: string, holds: string): number[] =>
  readdirSync('/proc').flatMap((name) => {
    if (!/^\d+$/.test(name)) return []
    try {
      const command = readFileSync(`/proc/${name}/cmdline`, 'utf8')
      const environment = readFileSync(`/proc/${name}/environ`, 'utf8')
      return command.includes(holds) && (environment.includes(state) || command.includes(state))
        ? [Number(name)]
        : []
    } catch {
      return []
    }
  })
export const isAlive = (id: number): boolean =>
  existsSync(`/proc/${id}`) && !readFileSync(`/proc/${id}/stat`, 'utf8').includes(') Z ')

export const clusterOf = (state: string): string => join(state, 'postgres', 'data')
