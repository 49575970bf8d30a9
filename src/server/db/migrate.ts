import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { carryOver } from './carry-over.ts'
import type { Database } from './connection.ts'

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
    await carryOver(database)
  } finally {
    await client.query('select pg_advisory_unlock(5127301)')
    client.release()
  }
}
