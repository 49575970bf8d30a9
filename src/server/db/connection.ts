import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import { createLog, writeLog, type Log } from '../plugins/logging.ts'
import * as schema from './schema.ts'

export type Db = NodePgDatabase<typeof schema>
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0]

export interface Database {
  readonly db: Db
  readonly pool: pg.Pool
  readonly url: string
  close(): Promise<void>
}

export function openDatabase(url: string, connections = 10, log: Log = createLog('database')): Database {
  const pool = new pg.Pool({ connectionString: url, max: connections })
  // an idle connection that the server ends is replaced by the pool; without a listener it would end us too
  pool.on('error', (error) => writeLog(log, 'connection', { err: error }))
  // nor may one that ends while it is in use: whoever uses it is told by the query's own error
  pool.on('connect', (client) => {
    client.on('error', (error) => writeLog(log, 'connection-in-use', { err: error }))
  })
  return { db: drizzle(pool, { schema }), pool, url, close: () => pool.end() }
}
