import type { FastifyInstance } from 'fastify'

/** Names that this server answers to; a page elsewhere that reaches it under another name is turned away. */
export function allowedHosts(port: number): Set<string> {
  const hosts = new Set([`127.0.0.1:${port}`, `localhost:${port}`, `[::1]:${port}`])
  for (const host of (process.env.KELBO_HOSTS ?? '').split(','))
    if (host.trim()) hosts.add(host.trim().toLowerCase())
  return hosts
}

/** Refuses requests with a foreign Host or Origin, so that no other page can use the artist's browser to get in. */
export function guardOrigin(app: FastifyInstance, hosts: () => Set<string>): void {
  app.addHook('onRequest', async (request, reply) => {
    const host = (request.headers.host ?? '').toLowerCase()
    const known = hosts()
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
