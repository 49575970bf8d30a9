/**
 * A long run of damaged files: `./kelbo fuzz [--count N] [--seed N] [--again]`. It goes on where the last run ended, in
 * two processes that are watched: one that is silent for two seconds hangs at a seed, which is printed and passed over.
 */
import { fork, type ChildProcess } from 'node:child_process'
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { dirname, resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { attempt, fuzzSources, mutationOf } from './mutations.ts'

/** Milliseconds that one file may take. */
const MOST_TIME = 2000
/** Milliseconds without a word after which a process is given up, whether it works or not. */
const MOST_WAIT = 600_000
/** Starting a process takes longer than reading a file. */
const START_TIME = 60000
const SLICE = 5000
const STATE = resolve(import.meta.dirname, '../../build/fuzz/state.json')

interface State {
  /** All seeds below this were tried. */
  next: number
  outcomes: Record<string, number>
  faults: { seed: number; fault: string }[]
}
type Report = { ready: true } | { at: number } | { seed: number; outcome: string }

const { values } = parseArgs({
  options: {
    count: { type: 'string', default: '1000000' },
    seed: { type: 'string' },
    again: { type: 'boolean', default: false },
  },
})

for (const [name, text] of Object.entries({ count: values.count, seed: values.seed ?? '0' }))
  if (!/^\d+$/.test(text)) {
    console.error(`--${name} takes a whole number; “${text}” is none.`)
    process.exit(2)
  }

if (values.seed !== undefined) {
  const sources = fuzzSources()
  const { source, files } = mutationOf(sources, Number(values.seed))
  console.log(`seed ${values.seed}: ${source}`)
  const folder = resolve(dirname(STATE), `seed-${values.seed}`)
  mkdirSync(folder, { recursive: true })
  for (const file of files) writeFileSync(resolve(folder, file.name), file.bytes)
  console.log(`written to ${folder}`)
  const outcome = attempt(files)
  console.log(outcome)
  process.exit(outcome.startsWith('fault') ? 1 : 0)
}

function loadState(): State {
  if (!values.again)
    try {
      return JSON.parse(readFileSync(STATE, 'utf8')) as State
    } catch {
      // the first run
    }
  return { next: 0, outcomes: {}, faults: [] }
}
const state = loadState()
function saveState(): void {
  mkdirSync(dirname(STATE), { recursive: true })
  writeFileSync(`${STATE}.new`, JSON.stringify(state, null, 1))
  renameSync(`${STATE}.new`, STATE)
}

const end = state.next + Number(values.count)
const before = state.faults.length
console.log(`seeds ${state.next} to ${end - 1}`)
let given = state.next
/** Slices that are done, until all before them are. */
const finished = new Map<number, number>()

function note(seed: number, fault: string): void {
  state.faults.push({ seed, fault })
  console.log(`seed ${seed}: ${fault}`)
}
function finish(from: number, to: number): void {
  finished.set(from, to)
  for (let next = finished.get(state.next); next !== undefined; next = finished.get(state.next)) {
    finished.delete(state.next)
    state.next = next
  }
  saveState()
  if (state.next % (SLICE * 10) === 0) console.log(`${state.next} tried, ${state.faults.length} faults`)
}

/** Milliseconds of work in the clock's ticks of Linux: a hundred a second. */
const TICK = 10

/** Milliseconds that a process has worked; where the system doesn't say, those that have passed. */
function workedBy({ pid }: ChildProcess): number {
  try {
    // behind the name, which may hold anything, in brackets
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)!.split(' ')
    return (Number(fields[11]) + Number(fields[12])) * TICK
  } catch {
    return Date.now()
  }
}

/** One slice of seeds; after a hang or a crash it goes on behind the seed. */
async function runSlice(from: number, to: number): Promise<void> {
  let start = from
  while (start < to) {
    let at = start
    let heard = Date.now()
    let patience = START_TIME
    const child: ChildProcess = fork(
      resolve(import.meta.dirname, 'run-seeds.ts'),
      [String(start), String(to)],
      {
        execArgv: [...process.execArgv, '--max-old-space-size=700'],
        stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
      },
    )
    let said = ''
    child.stderr?.on('data', (text: Buffer) => (said = `${said}${String(text)}`.slice(-400)))
    child.on('message', (report: Report) => {
      heard = Date.now()
      if ('ready' in report) patience = MOST_TIME
      if ('at' in report) at = report.at
      if (!('outcome' in report)) return
      const outcome = report.outcome.startsWith('fault') ? 'fault' : report.outcome
      state.outcomes[outcome] = (state.outcomes[outcome] ?? 0) + 1
      if (outcome === 'fault') note(report.seed, report.outcome)
    })
    let hung = false
    /** What it had worked when it was last heard. */
    let worked = 0
    let last = 0
    const timer = setInterval(() => {
      if (heard !== last) {
        last = heard
        worked = workedBy(child)
      }
      if (Date.now() - heard < patience) return
      // on a busy machine it waits for its turn, which is not its fault, but not for ever
      const waits = workedBy(child) - worked < MOST_TIME && Date.now() - heard < MOST_WAIT
      if (waits) return
      hung = true
      child.kill('SIGKILL')
    }, 200)
    const code = await new Promise<number | null>((done) => child.on('exit', done))
    clearInterval(timer)
    if (code === 0) return
    note(
      at,
      hung ? `hangs: nothing for ${MOST_TIME / 1000} s` : `the process ended (${code}): ${said.trim()}`,
    )
    start = at + 1
  }
}

await Promise.all(
  Array.from({ length: Math.max(1, availableParallelism()) }, async () => {
    while (given < end) {
      const from = given
      const to = Math.min(end, from + SLICE)
      given = to
      await runSlice(from, to)
      finish(from, to)
    }
  }),
)
const outcomes = Object.entries(state.outcomes).sort((a, b) => b[1] - a[1])
console.log(
  outcomes.map(([outcome, count]) => `${String(count).padStart(9)} ${outcome.split('\n')[0]}`).join('\n'),
)
const faults = state.faults.slice(before)
console.log(faults.length ? `${faults.length} faults; ./kelbo fuzz --seed N repeats one.` : 'No fault.')
process.exitCode = faults.length ? 1 : 0
