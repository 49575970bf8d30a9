/** Ten people work at once: every job that was taken on is accounted for, and everything that was made is whole. */
import { afterAll, beforeAll, expect, test } from 'vitest'
import { checkContents } from '../../src/server/content/check-contents.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { accountFor, createUser } from '../long/users.ts'
import { HOST, PORT, startHarness, type Harness } from './harness.ts'

let harness: Harness
let second: Awaited<ReturnType<typeof startWorker>>
beforeAll(async () => {
  harness = await startHarness()
  second = await startWorker(harness.database, { onlyShort: true })
  await harness.app.server.listen({ port: PORT, host: '127.0.0.1' })
})
afterAll(async () => {
  await second.close()
  await harness.close()
})

const users = Array.from({ length: 10 }, (_user, at) =>
  createUser(`T${at}`, chanceOf(100 + at), () => `http://${HOST}`),
)
const asked = () => users.flatMap((user) => user.asked)
const kinds = () => new Set(asked().map((entry) => entry.kind)).size
/** On a busy machine what was asked for first takes long, and what follows from it is asked for late. */
const isEnough = (): boolean => asked().length >= 60 && kinds() >= 4

test('ten users and fifty jobs and more: none is lost, none is done twice', async () => {
  await Promise.all(users.map((user) => user.work(isEnough)))
  expect(asked().filter((entry) => entry.jobId !== null).length).toBeGreaterThanOrEqual(50)
  expect(kinds()).toBeGreaterThanOrEqual(4)
  const { problems, summary } = await accountFor(harness.database, asked())
  expect([problems, (await checkContents(harness.database)).problems], summary).toEqual([[], []])
})

test('what is lost or doubled is noticed', async () => {
  const { pool } = harness.database
  const { rows } = await pool.query<{ id: string; title: string; asset_id: string }>(
    `select id, title, asset_id from jobs where kind = 'import' and state = 'done' limit 1`,
  )
  const [job] = rows
  const name = job!.title.replace('Import ', '')
  const noticed = async (change: string, back: string): Promise<string> => {
    await pool.query(change)
    const { problems } = await accountFor(harness.database, asked())
    await pool.query(back)
    return problems.join('\n')
  }
  expect((await accountFor(harness.database, asked())).problems).toEqual([])
  expect(
    await noticed(
      `update jobs set id = '00000000-0000-4000-8000-00000000000a' where id = '${job!.id}'`,
      `update jobs set id = '${job!.id}' where id = '00000000-0000-4000-8000-00000000000a'`,
    ),
  ).toContain('was taken on and is gone')
  expect(
    await noticed(
      `insert into versions (asset_id, number, scene_id, note) select asset_id, 99, scene_id, 'twice' from versions where asset_id = '${job!.asset_id}' limit 1`,
      `delete from versions where number = 99`,
    ),
  ).toContain('jobs made one')
  expect(
    await noticed(
      `update assets set name = 'Another' where id = '${job!.asset_id}'`,
      `update assets set name = '${name}' where id = '${job!.asset_id}'`,
    ),
  ).toContain('1 jobs done, 0 made')
})
