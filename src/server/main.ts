/** Listens. The application's own process; workers are processes beside it. */
import { mkdir } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { accessOf, AccessRefused, type Access } from './accounts/access.ts'
import { hasAccounts } from './accounts/account-store.ts'
import { buildApp } from './app.ts'
import { sweepUploads } from './content/uploads.ts'
import { openDatabase } from './db/connection.ts'
import { handOffOf } from './hand-off/folders.ts'
import { watchFolders } from './hand-off/watch-folders.ts'
import { createLog } from './plugins/logging.ts'
import { migrateDatabase } from './db/migrate.ts'
import { loadDemo } from './demo.ts'
import { endPolitely } from '../host/stopping.ts'

const url = process.env.KELBO_DATABASE_URL
if (!url) {
  console.error('KELBO_DATABASE_URL is not set: the server needs the address of the database.')
  process.exit(2)
}
let access: Access
try {
  access = accessOf(process.env)
} catch (error) {
  if (!(error instanceof AccessRefused)) throw error
  console.error(error.message)
  process.exit(2)
}
const handOff = handOffOf(process.env)
if (handOff)
  try {
    await mkdir(handOff.root, { recursive: true })
  } catch (error) {
    console.error(
      `The hand-off folder ${handOff.root} can’t be made: ${(error as NodeJS.ErrnoException).code}. Name another one with KELBO_HANDOFF.`,
    )
    process.exit(2)
  }
const { port, host } = access
const database = openDatabase(url)
await migrateDatabase(database)
if (process.env.KELBO_DEMO !== 'off' && (await loadDemo(database))) console.log('The demo is loaded.')
await sweepUploads()
const page = join(dirname(fileURLToPath(import.meta.url)), '..', 'web')
const app = await buildApp(database, page, access, handOff)
try {
  await app.server.listen({ port, host })
} catch (error) {
  if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE')
    console.error(`Port ${port} is in use. Start with another one: KELBO_PORT=${port + 1} ./kelbo start`)
  else console.error((error as Error).message)
  process.exit(3)
}
if (access.accounts && !(await hasAccounts(database.db)))
  console.log('Nobody can sign in yet. Give someone an account: ./kelbo accounts add NAME')
const watch = handOff && watchFolders(database, handOff, createLog('hand-off'))
if (handOff) console.log(`Files are handed over in ${handOff.root}.`)
console.log(`server ready on ${port}`)
endPolitely(async () => {
  await watch?.close()
  await app.close()
  await database.close()
})
