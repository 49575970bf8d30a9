/** Checks all contents of a database and prints what it found, as JSON. Ends with 1 where something is wrong. */
import { checkContents } from './content/check-contents.ts'
import { openDatabase } from './db/connection.ts'
import { migrateDatabase } from './db/migrate.ts'

const database = openDatabase(process.env.KELBO_DATABASE_URL!, 2)
await migrateDatabase(database)
const found = await checkContents(database)
await database.close()
console.log(JSON.stringify(found))
process.exitCode = found.problems.length ? 1 : 0
