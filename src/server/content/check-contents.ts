/** Whether all that the tables name is there and is what it should be. */
import { createHash } from 'node:crypto'
import type { Database } from '../db/connection.ts'
import { decodeManifest } from './manifest.ts'
import { unpackForeign, type PackedChunk } from './packing.ts'

export interface ContentCheck {
  readonly assets: number
  readonly versions: number
  readonly trips: number
  readonly contents: number
  /** Sentences; empty where all is sound. */
  readonly problems: readonly string[]
}

/** Looks at every content, by its hash, and at every array that a scene, a ledger or a matching names. */
export async function checkContents({ pool }: Database): Promise<ContentCheck> {
  const problems: string[] = []
  const sound = new Map<string, number>()
  const { rows: blobs } = await pool.query<{ hash: string; byte_length: string; chunk_count: number }>(
    'select hash, byte_length, chunk_count from blobs order by hash',
  )
  for (const { hash, byte_length: byteLength, chunk_count: chunkCount } of blobs) {
    const digest = createHash('sha256')
    let length = 0
    let place = 0
    for (; place < chunkCount; place++) {
      const { rows } = await pool.query<PackedChunk>(
        'select packing, bytes from blob_chunks where hash = $1 and place = $2',
        [hash, place],
      )
      const [chunk] = rows
      if (!chunk) break
      try {
        const plain = unpackForeign(chunk)
        digest.update(plain)
        length += plain.length
      } catch {
        // told below: it is not what it should be
        length = -1
        place = chunkCount
        break
      }
    }
    if (place < chunkCount) problems.push(`content ${hash} lacks chunk ${place}`)
    else if (length !== Number(byteLength) || digest.digest('hex') !== hash)
      problems.push(`content ${hash} is not what it should be`)
    else sound.set(hash, length)
  }
  const named = async (what: string, query: string): Promise<void> => {
    const { rows } = await pool.query<{ id: string; manifest: Buffer }>(query)
    for (const { id, manifest } of rows)
      for (const { hash } of decodeManifest(manifest))
        if (!sound.has(hash)) problems.push(`${what} ${id} lacks the array ${hash}`)
  }
  await named('the scene', 'select id, manifest from scenes')
  for (const column of ['forecast_manifest', 'ledger_manifest', 'matching_manifest'])
    await named('the trip', `select id, ${column} as manifest from trips where ${column} is not null`)
  const count = async (query: string): Promise<number> =>
    Number((await pool.query<{ count: string }>(query)).rows[0]!.count)
  const bare = await count(
    'select count(*) from assets where not exists (select from versions where versions.asset_id = assets.id)',
  )
  if (bare > 0) problems.push(`${bare} assets have no version`)
  return {
    assets: await count('select count(*) from assets'),
    versions: await count('select count(*) from versions'),
    trips: await count('select count(*) from trips'),
    contents: blobs.length,
    problems,
  }
}
