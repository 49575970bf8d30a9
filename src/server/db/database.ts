import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import * as schema from './schema.ts'

export type Db = NodePgDatabase<typeof schema>
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0]

export interface Database {
  readonly db: Db
  readonly pool: pg.Pool
  readonly url: string
  close(): Promise<void>
}

export function openDatabase(url: string, connections = 10): Database {
  const pool = new pg.Pool({ connectionString: url, max: connections })
  // an idle connection that the server ends is replaced by the pool; without a listener it would end us too
  pool.on('error', (error) => console.error(`database connection: ${error.message}`))
  return { db: drizzle(pool, { schema }), pool, url, close: () => pool.end() }
}

/** The committed migrations: beside the sources, or beside the built server. */
function migrationsFolder(): string {
  const here = dirname(fileURLToPath(import.meta.url))
  const folders = [join(here, 'migrations'), join(here, '..', '..', 'src', 'server', 'db', 'migrations')]
  const found = folders.find((folder) => existsSync(folder))
  if (!found) throw new Error(`no migrations in ${folders.join(' or ')}`)
  return found
}

/** Brings the tables up to date; several processes may do so at once. */
export async function migrateDatabase(database: Database): Promise<void> {
  const client = await database.pool.connect()
  try {
    await client.query('select pg_advisory_lock(5127301)')
    await migrate(database.db, { migrationsFolder: migrationsFolder() })
  } finally {
    await client.query('select pg_advisory_unlock(5127301)')
    client.release()
  }
}
