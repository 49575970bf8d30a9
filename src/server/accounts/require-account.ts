import type { FastifyInstance, FastifyRequest } from 'fastify'
import type { Db } from '../db/connection.ts'
import { RequestRefused } from '../plugins/errors.ts'
import type { Account } from './account-store.ts'
import { accountOfSession } from './session-store.ts'

declare module 'fastify' {
  interface FastifyRequest {
    /** Who is signed in; null: nobody, or nobody signs in here. */
    account: Account | null
  }
}

/** The browser keeps it for this server alone, on an encrypted line or on loopback, away from scripts (RFC 6265bis). */
export const COOKIE = '__Host-kelbo'
export const COOKIE_OPTIONS = { path: '/', secure: true, httpOnly: true, sameSite: 'strict' } as const

/** What anybody may ask: whether the server is there, and who one is. */
const OPEN = new Set(['/api/health', '/api/session'])

export const nameOf = (request: FastifyRequest): string | null => request.account?.name ?? null

export const tokenOf = (request: FastifyRequest): string | null => request.cookies[COOKIE] || null

const notSignedIn = (): RequestRefused =>
  new RequestRefused(401, 'http.not-signed-in', 'You are not signed in (any more).', 'Sign in, then go on.')

/** Answers 401 to whoever is not signed in. Routes of the interface alone; the page itself holds nothing. */
export function requireAccount(api: FastifyInstance, db: Db, accounts: boolean): void {
  api.decorateRequest('account', null)
  if (!accounts) return
  api.addHook('onRequest', async (request) => {
    const token = tokenOf(request)
    request.account = token ? await accountOfSession(db, token) : null
    if (!request.account && !OPEN.has(request.routeOptions.url ?? '')) throw notSignedIn()
  })
}
