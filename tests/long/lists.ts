/** How long lists take while ten people work; asked over HTTP of the Kelbo at the address that is given. */
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { createUser } from './users.ts'

const [address] = process.argv.slice(2)
if (!address) throw new Error('lists.ts ADDRESS')
const JOBS = 50
const users = Array.from({ length: 10 }, (_user, at) => createUser(`L${at}`, chanceOf(at), () => address))
const taken = (): number => users.flatMap((user) => user.asked).filter((entry) => entry.jobId !== null).length
const isOver = (): boolean => taken() >= JOBS
const work = users.map((user) => user.work(isOver))
const times = new Map<string, number[]>()
while (!isOver())
  for (const list of ['assets', 'jobs']) {
    const start = performance.now()
    await (await fetch(`${address}/api/${list}`)).json()
    times.set(list, [...(times.get(list) ?? []), performance.now() - start])
  }
await Promise.all(work)
for (const [list, all] of times) {
  all.sort((a, b) => a - b)
  console.log(
    `  ${list.padEnd(7)} ${all[all.length >> 1]!.toFixed(0)} ms in the median of ${all.length}, ${all[Math.floor(all.length * 0.95)]!.toFixed(0)} ms at 95 % (target below 200 in the median)`,
  )
}
