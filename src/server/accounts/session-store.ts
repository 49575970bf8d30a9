/** Browsers that are signed in. The browser holds a random token, the table its hash. */
import { createHash, randomBytes } from 'node:crypto'
import { eq, sql } from 'drizzle-orm'
import type { Db } from '../db/connection.ts'
import { accounts, sessions } from '../db/schema.ts'
import type { Account } from './account-store.ts'

/** Days without a visit after which a browser is signed out, and days after which it is in any case. */
export const IDLE_DAYS = 14
export const MOST_DAYS = 90

export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex')

const isOver = sql`(${sessions.seenAt} < now() - make_interval(days => ${IDLE_DAYS})
  or ${sessions.createdAt} < now() - make_interval(days => ${MOST_DAYS}))`

/** @returns the token, which is kept nowhere else. */
export async function openSession(db: Db, accountId: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await db.insert(sessions).values({ tokenHash: hashToken(token), accountId })
  return token
}

/** Who is signed in by this token; null: nobody. A visit is noted once an hour. */
export async function accountOfSession(db: Db, token: string): Promise<Account | null> {
  const tokenHash = hashToken(token)
  const [row] = await db
    .select({
      id: accounts.id,
      name: accounts.name,
      stale: sql<boolean>`${sessions.seenAt} < now() - interval '1 hour'`,
    })
    .from(sessions)
    .innerJoin(accounts, eq(accounts.id, sessions.accountId))
    .where(sql`${sessions.tokenHash} = ${tokenHash} and not ${isOver}`)
  if (!row) return null
  if (row.stale)
    await db
      .update(sessions)
      .set({ seenAt: sql`now()` })
      .where(eq(sessions.tokenHash, tokenHash))
  return { id: row.id, name: row.name }
}

export const endSession = (db: Db, token: string): Promise<unknown> =>
  db.delete(sessions).where(eq(sessions.tokenHash, hashToken(token)))

export const sweepSessions = (db: Db): Promise<unknown> => db.delete(sessions).where(isOver)
