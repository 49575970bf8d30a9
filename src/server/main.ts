/** Listens. The application's own process; workers are processes beside it. */
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildApp } from './app.ts'
import { sweepUploads } from './content/uploads.ts'
import { openDatabase } from './db/connection.ts'
import { migrateDatabase } from './db/migrate.ts'
import { loadDemo } from './demo.ts'
import { endPolitely } from '../host/stopping.ts'

const url = process.env.KELBO_DATABASE_URL
if (!url) {
  console.error('KELBO_DATABASE_URL is not set: the server needs the address of the database.')
  process.exit(2)
}
const port = Number(process.env.KELBO_PORT ?? 4780)
const host = process.env.KELBO_LISTEN ?? '127.0.0.1'
const database = openDatabase(url)
await migrateDatabase(database)
if (process.env.KELBO_DEMO !== 'off' && (await loadDemo(database))) console.log('The demo is loaded.')
await sweepUploads()
const page = join(dirname(fileURLToPath(import.meta.url)), '..', 'web')
const app = await buildApp(database, page, port)
try {
  await app.server.listen({ port, host })
} catch (error) {
  if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE')
    console.error(`Port ${port} is in use. Start with another one: KELBO_PORT=${port + 1} ./kelbo start`)
  else console.error((error as Error).message)
  process.exit(3)
}
console.log(`server ready on ${port}`)
endPolitely(async () => {
  await app.close()
  await database.close()
})
