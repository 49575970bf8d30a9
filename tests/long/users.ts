/** People who work at random, who note what they asked for, and what has to be true of it afterwards. */
import type { AssetDocument, JobDocument, TripDocument } from '../../src/contract/api.ts'
import type { Database } from '../../src/server/db/connection.ts'

export interface Asked {
  readonly kind: 'import' | 'prepare' | 'send' | 'practise' | 'reconcile' | 'archive'
  /** Stands in the name or the note of what it makes; null where nothing does. */
  readonly tag: string | null
  /** null: no answer came, so that it may have been taken on or not. */
  readonly jobId: string | null
}

/** Refusals that are right: somebody else was there first, or there is nothing to work on. */
const RIGHT_STATUSES = new Set([404, 409, 422])
/** A job may end so without its maker's fault, and says so. */
const RIGHT_ENDS = new Set(['job.lost', 'job.no-database', 'version.moved-on', 'trip.other-return'])

function grid(side: number, chance: () => number): string {
  const lines = ['o grid']
  for (let j = 0; j <= side; j++)
    for (let i = 0; i <= side; i++) lines.push(`v ${i} ${chance().toFixed(4)} ${j}`)
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const a = j * (side + 1) + i + 1
      lines.push(`f ${a} ${a + side + 1} ${a + side + 2} ${a + 1}`)
    }
  return `${lines.join('\n')}\n`
}

/**
 * @param name in every tag.
 * @param address where Kelbo answers at the moment.
 */
export function createUser(name: string, chance: () => number, address: () => string) {
  const asked: Asked[] = []
  /** Answers that are neither done nor a right refusal. */
  let count = 0

  const ask = async <Result>(method: string, path: string, body?: unknown): Promise<Result | null> => {
    const form = body instanceof FormData
    const answer = await fetch(`${address()}/api${path}`, {
      method,
      signal: AbortSignal.timeout(20_000),
      ...(body === undefined
        ? {}
        : form
          ? { body }
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    })
    if (answer.ok) return (answer.status === 204 ? null : await answer.json()) as Result
    if (answer.status === 500) throw new Error(`${method} ${path} was answered 500: ${await answer.text()}`)
    if (RIGHT_STATUSES.has(answer.status)) return null
    throw new TypeError(`answered ${answer.status}`)
  }
  /** Asks for a job; notes it whether or not an answer comes. */
  async function order(kind: Asked['kind'], tag: string | null, path: string, body: unknown): Promise<void> {
    try {
      const answer = await ask<{ jobId: string }>('POST', path, body)
      if (answer) asked.push({ kind, tag, jobId: answer.jobId })
    } catch (error) {
      asked.push({ kind, tag, jobId: null })
      throw error
    }
  }
  const any = <Item>(items: readonly Item[]): Item | undefined => items[Math.floor(chance() * items.length)]

  async function importOne(): Promise<void> {
    const tag = `K${name}-${++count}.`
    const form = new FormData()
    form.append('name', tag)
    form.append('options', '{}')
    form.append('file', new Blob([grid(chance() < 0.3 ? 120 : 4, chance)]), 'grid.obj')
    await order('import', tag, '/assets', form)
  }
  async function workOn(asset: AssetDocument): Promise<void> {
    const newest = asset.versions.at(-1)!
    const trip = (state: TripDocument['state']): TripDocument | undefined =>
      any(asset.trips.filter((entry) => entry.state === state))
    const what = chance()
    const back = trip('back')
    const out = trip('out')
    if (back && what < 0.5)
      return order('reconcile', null, `/trips/${back.id}/reconcile`, {
        take: ['points'],
        from: back.returnedSceneId,
        beside: newest.id,
      })
    if (out && what < 0.6)
      return order('practise', null, `/trips/${out.id}/practise`, {
        standIn: 'sculptor',
        options: {},
        from: out.returnedSceneId,
      })
    if (what < 0.8)
      return order('send', null, `/assets/${asset.id}/trips`, {
        versionId: newest.id,
        destination: 'sculpting',
        options: {},
      })
    const tag = `R${name}-${++count}.`
    return order('prepare', tag, `/assets/${asset.id}/prepare`, {
      versionId: newest.id,
      recipe: {
        name: tag,
        steps: [{ step: newest.polygons < 3000 && chance() < 0.5 ? 'subdivide' : 'to-floor', params: {} }],
      },
      beside: null,
    })
  }
  async function archive(id: string): Promise<void> {
    const answer = await fetch(`${address()}/api/assets/${id}/archive`, {
      signal: AbortSignal.timeout(20_000),
    })
    if (!answer.ok) return
    const bytes = await answer.arrayBuffer()
    const form = new FormData()
    form.append('file', new Blob([bytes]), 'asset.kelbo-asset')
    asked.push({ kind: 'archive', tag: null, jobId: null })
    await ask('POST', '/assets/archive', form)
  }

  async function work(isOver: () => boolean): Promise<void> {
    while (!isOver()) {
      try {
        const listed = (await ask<{ assets: { id: string; name: string }[] }>('GET', '/assets'))!.assets
        const asset = any(listed.slice(0, 12))
        if (!asset || listed.length < 6 || chance() < 0.12) await importOne()
        else if (chance() < 0.05) await archive(asset.id)
        else await workOn((await ask<AssetDocument>('GET', `/assets/${asset.id}`))!)
      } catch (error) {
        // no answer, or one that says that the database is away: it is tried later
        if (!(error instanceof TypeError) && !(error instanceof DOMException)) throw error
        await new Promise((resolve) => setTimeout(resolve, 200))
      }
      await new Promise((resolve) => setTimeout(resolve, chance() * 300))
    }
  }
  return { asked, work }
}

/** Waits until all jobs are over, and holds what was asked for against what there is. */
export async function accountFor(
  { pool }: Database,
  asked: readonly Asked[],
): Promise<{ problems: string[]; summary: string }> {
  const problems: string[] = []
  const numberOf = async (query: string, values: unknown[] = []): Promise<number> =>
    Number((await pool.query<{ count: string }>(query, values)).rows[0]!.count)
  for (let second = 0; ; second++) {
    const open = await numberOf(`select count(*) from jobs where state in ('queued', 'running')`)
    if (open === 0) break
    if (second > 300) {
      problems.push(`${open} jobs are still not over after five minutes`)
      break
    }
    await new Promise((resolve) => setTimeout(resolve, 1000))
  }
  const { rows: jobs } = await pool.query<{
    id: string
    kind: JobDocument['kind']
    state: JobDocument['state']
    title: string
    asset_id: string | null
    trip_id: string | null
    result: Record<string, string> | null
    error: { code: string } | null
  }>('select id, kind, state, title, asset_id, trip_id, result, error from jobs')
  const jobOf = new Map(jobs.map((job) => [job.id, job]))

  // none lost: what was answered is there and is over
  for (const { kind, jobId } of asked) {
    if (jobId === null) continue
    const job = jobOf.get(jobId)
    if (!job) problems.push(`${kind}: the job ${jobId} was taken on and is gone`)
    else if (job.state !== 'done' && !(job.state === 'failed' && RIGHT_ENDS.has(job.error?.code ?? '')))
      problems.push(`${kind}: the job ${jobId} is ${job.state} (${job.error?.code})`)
  }
  // none doubled: a tag stands in one thing where a job of it is done, and in none otherwise
  for (const { kind, tag } of asked) {
    if (tag === null) continue
    const done = jobs.filter((job) => job.state === 'done' && job.title.endsWith(` ${tag}`)).length
    const made =
      kind === 'import'
        ? await numberOf(
            `select count(*) from assets where name = $1 and (select count(*) from jobs where asset_id = assets.id and kind = 'import') > 0`,
            [tag],
          )
        : await numberOf(
            `select count(*) from versions where note like $1 and asset_id in (select asset_id from jobs where kind = 'prepare' and title = $2)`,
            [`${tag}:%`, `Prepare: ${tag}`],
          )
    if (done > 1 || made !== done) problems.push(`${kind} ${tag}: ${done} jobs done, ${made} made`)
  }
  // of assets that came in as files: as many versions and trips as jobs that made them
  const { rows: counted } = await pool.query<{
    name: string
    versions: string
    highest: string
    made: string
    trips: string
    sent: string
    settled: string
    reconciled: string
  }>(`select name,
      (select count(*) from versions where asset_id = assets.id) as versions,
      (select max(number)::bigint from versions where asset_id = assets.id) as highest,
      (select count(*) from jobs where asset_id = assets.id and state = 'done' and kind in ('import', 'prepare', 'reconcile')) as made,
      (select count(*) from trips where asset_id = assets.id) as trips,
      (select count(*) from jobs where asset_id = assets.id and state = 'done' and kind = 'send') as sent,
      (select count(*) from trips where asset_id = assets.id and state = 'settled') as settled,
      (select count(distinct trip_id) from jobs where asset_id = assets.id and state = 'done' and kind = 'reconcile') as reconciled
    from assets where exists (select from jobs where asset_id = assets.id and kind = 'import')`)
  for (const asset of counted) {
    if (asset.versions !== asset.made || asset.versions !== asset.highest)
      problems.push(
        `${asset.name} has ${asset.versions} versions up to number ${asset.highest}, and ${asset.made} jobs made one`,
      )
    if (asset.trips !== asset.sent)
      problems.push(`${asset.name} has ${asset.trips} trips, and ${asset.sent} were sent`)
    if (Number(asset.settled) > Number(asset.reconciled))
      problems.push(
        `${asset.name} has ${asset.settled} settled trips, and ${asset.reconciled} were reconciled`,
      )
  }
  const archives = await numberOf(
    `select count(*) from assets where not exists (select from jobs where asset_id = assets.id and kind = 'import')`,
  )
  const tried = asked.filter((entry) => entry.kind === 'archive').length
  if (archives > tried) problems.push(`${archives} assets came as archives, of ${tried}`)
  const ends = new Map<string, number>()
  for (const { state, error } of jobs) {
    const end = error ? `${state}, ${error.code}` : state
    ends.set(end, (ends.get(end) ?? 0) + 1)
  }
  return {
    problems,
    summary: `${asked.length} asked for, ${asked.filter((entry) => entry.jobId === null).length} without an answer; jobs: ${[
      ...ends,
    ]
      .map(([end, count]) => `${count} ${end}`)
      .join(', ')}`,
  }
}
