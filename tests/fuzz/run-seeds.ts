/** Reads the files of seeds one after the other and says each before it does, for whoever watches: see watch.ts. */
import { attempt, fuzzSources, mutationOf } from './mutations.ts'

const [from, to] = process.argv.slice(2).map(Number) as [number, number]
const sources = fuzzSources()
/** Messages leave between two turns: after so many seeds there is one. */
const BUNDLE = 20
process.send?.({ ready: true })
for (let seed = from; seed < to; seed++) {
  process.send?.({ at: seed })
  process.send?.({ seed, outcome: attempt(mutationOf(sources, seed).files) })
  // the first ones take longest, since nothing is warm yet
  if (seed % BUNDLE === 0 || seed < from + BUNDLE) await new Promise((resolve) => setImmediate(resolve))
}
process.disconnect?.()
