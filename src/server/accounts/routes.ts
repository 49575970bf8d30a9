import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { passwordBodySchema, sessionSchema, signInBodySchema } from '../../contract/accounts.ts'
import { RequestRefused } from '../plugins/errors.ts'
import { writeLog } from '../plugins/logging.ts'
import type { Services } from '../plugins/services.ts'
import { findAccount, setPassword } from './account-store.ts'
import { complainOfPassword, isPassword } from './passwords.ts'
import { COOKIE, COOKIE_OPTIONS, nameOf, tokenOf } from './require-account.ts'
import { endSession, hashToken, MOST_DAYS, openSession, sweepSessions } from './session-store.ts'

/** Tries to sign in: from one address a minute, and for one name a quarter of an hour, from wherever. */
const TRIES_OF_ADDRESS = 10
const TRIES_OF_NAME = 30

export const tooMany = (what: string, seconds: number): RequestRefused =>
  new RequestRefused(
    429,
    'http.too-many-tries',
    `There were too many ${what}.`,
    `Wait ${seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}, then try again.`,
  )

const refused = (): RequestRefused =>
  new RequestRefused(
    401,
    'http.wrong-password',
    'There is no account with this name and password.',
    'Look at capitals and the keyboard’s language. Whoever runs this Kelbo can set a new password.',
  )

export const accountRoutes =
  ({ database: { db }, accounts }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const ofAddress = app.createRateLimit({
      max: TRIES_OF_ADDRESS,
      timeWindow: 60_000,
      keyGenerator: (request) => request.ip,
    })
    const ofName = app.createRateLimit({
      max: TRIES_OF_NAME,
      timeWindow: 15 * 60_000,
      keyGenerator: (request) => (request.body as { name: string }).name.toLowerCase(),
    })
    const holdTries = async (
      request: Parameters<typeof ofAddress>[0],
      ...limits: readonly (typeof ofAddress)[]
    ): Promise<void> => {
      for (const limit of limits) {
        const tries = await limit(request)
        if (!tries.isAllowed && tries.isExceeded) {
          writeLog(request.log, 'too-many-tries', { from: request.ip })
          throw tooMany('tries to sign in', tries.ttlInSeconds)
        }
      }
    }

    app.get('/session', { schema: { response: { 200: sessionSchema } } }, async (request) => ({
      needed: accounts,
      name: nameOf(request),
    }))

    if (!accounts) return

    app.post(
      '/session',
      { schema: { body: signInBodySchema, response: { 200: sessionSchema } } },
      async (request, reply) => {
        await holdTries(request, ofAddress, ofName)
        const { name, password } = request.body
        const account = await findAccount(db, name)
        if (!(await isPassword(account?.passwordHash ?? null, password))) {
          writeLog(request.log, 'not-signed-in', { from: request.ip })
          throw refused()
        }
        writeLog(request.log, 'signed-in', { account: account!.id })
        await sweepSessions(db)
        const former = tokenOf(request)
        if (former) await endSession(db, former)
        const token = await openSession(db, account!.id)
        return reply
          .setCookie(COOKIE, token, { ...COOKIE_OPTIONS, maxAge: MOST_DAYS * 86_400 })
          .send({ needed: true, name: account!.name })
      },
    )

    app.delete('/session', async (request, reply) => {
      const token = tokenOf(request)
      if (token) await endSession(db, token)
      return reply.clearCookie(COOKIE, COOKIE_OPTIONS).code(204).send()
    })

    app.put('/session/password', { schema: { body: passwordBodySchema } }, async (request, reply) => {
      await holdTries(request, ofAddress)
      const { password, next } = request.body
      const account = await findAccount(db, request.account!.name)
      if (!(await isPassword(account?.passwordHash ?? null, password)))
        throw new RequestRefused(
          422,
          'http.wrong-password',
          'The present password is another one.',
          'Nothing was changed.',
        )
      const complaint = complainOfPassword(next, account!.name)
      if (complaint) throw new RequestRefused(422, 'http.weak-password', complaint, 'Nothing was changed.')
      await setPassword(db, account!.id, next, hashToken(tokenOf(request)!))
      return reply.code(204).send()
    })
  }
