import type { FastifyInstance } from 'fastify'

/**
 * Refuses requests with a foreign Host or Origin, so that no other page can use the artist's browser to get in.
 * @param known names with port, in small letters.
 */
export function guardOrigin(app: FastifyInstance, known: ReadonlySet<string>): void {
  app.addHook('onRequest', async (request, reply) => {
    const host = (request.headers.host ?? '').toLowerCase()
    const refuse = () =>
      reply.code(403).send({
        code: 'http.refused',
        message: 'This address is not one that Kelbo answers to.',
        advice: 'Open Kelbo under the address that it printed when it started.',
      })
    if (!known.has(host)) return refuse()
    const origin = request.headers.origin
    if (origin !== undefined) {
      let originHost: string
      try {
        originHost = new URL(origin).host.toLowerCase()
      } catch {
        return refuse()
      }
      if (!known.has(originHost)) return refuse()
    }
    if (request.headers['sec-fetch-site'] === 'cross-site') return refuse()
  })
}
