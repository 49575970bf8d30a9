import { sql } from 'drizzle-orm'
import type { Tx } from './connection.ts'

/** Holds an asset until the transaction ends, so that numbers of its versions and trips have no gaps and no doubles. */
export const lockAsset = (tx: Tx, assetId: string): Promise<unknown> =>
  tx.execute(sql`select id from assets where id = ${assetId} for update`)
