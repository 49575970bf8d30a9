/** `./kelbo accounts`: the program of that name on the database that is used here, running or not. */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { clusterFolder, startDatabase } from './database.mjs'
import { node } from './run.mjs'
import { claimRunning, inTheWay } from './running.mjs'

/** @returns the exit status. */
export async function accounts(words) {
  const own = !process.env.KELBO_DATABASE_URL
  if (own && !existsSync(join(clusterFolder(), 'PG_VERSION')))
    throw new Error('There is no database here yet: start Kelbo once, then give out accounts.')
  const other = own ? claimRunning({ doing: 'work on accounts' }) : null
  if (other && !other.address) throw new Error(inTheWay(other))
  const runs = Boolean(other)
  const database = own ? await startDatabase('postgres', { shared: runs }) : null
  try {
    return node('dist/server/accounts-main.js', words, {
      env: { ...process.env, KELBO_DATABASE_URL: database?.url ?? process.env.KELBO_DATABASE_URL },
    })
  } finally {
    if (!runs) database?.stop()
  }
}
