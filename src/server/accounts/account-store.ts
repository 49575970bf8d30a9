/** Accounts: a name and a password's hash. All may do the same; names stand beside what they made. */
import { asc, eq, sql } from 'drizzle-orm'
import type { Db } from '../db/connection.ts'
import { accounts, sessions } from '../db/schema.ts'
import { hashPassword } from './passwords.ts'

export interface Account {
  readonly id: string
  readonly name: string
}

const named = (name: string) => eq(sql`lower(${accounts.name})`, name.toLowerCase())

export async function findAccount(
  db: Db,
  name: string,
): Promise<(Account & { readonly passwordHash: string }) | null> {
  const [row] = await db.select().from(accounts).where(named(name))
  return row ?? null
}

export const hasAccounts = async (db: Db): Promise<boolean> =>
  (await db.select({ id: accounts.id }).from(accounts).limit(1)).length > 0

export async function listAccounts(
  db: Db,
): Promise<{ name: string; createdAt: Date; seenAt: Date | null }[]> {
  return db
    .select({
      name: accounts.name,
      createdAt: accounts.createdAt,
      seenAt: sql<Date | null>`max(${sessions.seenAt})`.mapWith(sessions.seenAt),
    })
    .from(accounts)
    .leftJoin(sessions, eq(sessions.accountId, accounts.id))
    .groupBy(accounts.id)
    .orderBy(asc(accounts.name))
}

/** @returns false where somebody has this name already, in whatever capitals. */
export async function addAccount(db: Db, name: string, password: string): Promise<boolean> {
  const rows = await db
    .insert(accounts)
    .values({ name, passwordHash: await hashPassword(password) })
    .onConflictDoNothing()
    .returning({ id: accounts.id })
  return rows.length > 0
}

/** All browsers that were signed in are signed out but one. */
export async function setPassword(
  db: Db,
  accountId: string,
  password: string,
  keptToken: string | null = null,
): Promise<void> {
  const passwordHash = await hashPassword(password)
  await db.transaction(async (tx) => {
    await tx.update(accounts).set({ passwordHash }).where(eq(accounts.id, accountId))
    await tx
      .delete(sessions)
      .where(
        sql`${sessions.accountId} = ${accountId} and ${sessions.tokenHash} is distinct from ${keptToken}`,
      )
  })
}

/** What it made stays, with its name. @returns false without such an account. */
export async function removeAccount(db: Db, name: string): Promise<boolean> {
  return (await db.delete(accounts).where(named(name)).returning({ id: accounts.id })).length > 0
}
