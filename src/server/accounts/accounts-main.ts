/** `./kelbo accounts ...`: who may sign in. Passwords are asked for or come by standard input, never by arguments. */
import { accountNameSchema } from '../../contract/accounts.ts'
import { openDatabase, type Database } from '../db/connection.ts'
import { migrateDatabase } from '../db/migrate.ts'
import { addAccount, findAccount, listAccounts, removeAccount, setPassword } from './account-store.ts'
import { askPassword } from './ask-password.ts'
import { complainOfPassword } from './passwords.ts'

const USAGE = `./kelbo accounts                  who may sign in
./kelbo accounts add NAME
./kelbo accounts password NAME    a new one; every browser of this account is signed out
./kelbo accounts remove NAME      what it made stays, with its name`

class Refused extends Error {}

async function newPassword(name: string): Promise<string> {
  const password = await askPassword(`Password for ${name}: `)
  const complaint = complainOfPassword(password, name)
  if (complaint) throw new Refused(complaint)
  if (process.stdin.isTTY && (await askPassword('Once more: ')) !== password)
    throw new Refused('These were two different passwords. Nothing was changed.')
  return password
}

const unknown = (name: string): Refused => new Refused(`There is no account “${name}”.`)

const day = (date: Date | null): string => date?.toISOString().slice(0, 10) ?? 'not signed in'

async function listAll({ db }: Database): Promise<void> {
  const all = await listAccounts(db)
  if (all.length === 0) console.log('Nobody has an account.')
  for (const { name, createdAt, seenAt } of all)
    console.log(`${name.padEnd(24)} since ${day(createdAt)}   here last: ${day(seenAt)}`)
}

async function run(database: Database, words: readonly string[]): Promise<void> {
  const { db } = database
  const [action = 'list', given, ...more] = words
  if (action === 'list' && given === undefined) return listAll(database)
  if (given === undefined || more.length || !['add', 'password', 'remove'].includes(action))
    throw new Refused(USAGE)
  if (action === 'add') {
    const parsed = accountNameSchema.safeParse(given)
    if (!parsed.success) throw new Refused(parsed.error.issues[0]!.message)
    const name = parsed.data
    if (await findAccount(db, name)) throw new Refused(`“${name}” has an account already.`)
    if (!(await addAccount(db, name, await newPassword(name))))
      throw new Refused(`“${name}” has an account already.`)
    console.log(`${name} can sign in.`)
    return
  }
  const account = await findAccount(db, given)
  if (!account) throw unknown(given)
  if (action === 'remove') {
    if (!(await removeAccount(db, account.name))) throw unknown(given)
    console.log(`${account.name} can’t sign in any more.`)
    return
  }
  await setPassword(db, account.id, await newPassword(account.name))
  console.log(`${account.name} has a new password.`)
}

const database = openDatabase(process.env.KELBO_DATABASE_URL!, 2)
try {
  await migrateDatabase(database)
  await run(database, process.argv.slice(2))
} catch (error) {
  if (!(error instanceof Error) || error.constructor === TypeError) throw error
  console.error(error.message)
  process.exitCode = 2
} finally {
  await database.close()
}
process.exit()
