/**
 * From where Kelbo may be reached, by what the environment says. On loopback alone nobody signs in; beyond it everybody
 * does, over an encrypted line. What doesn't fit together is refused before anything listens.
 */
import { readFileSync } from 'node:fs'
import { isIP } from 'node:net'

export interface Access {
  /** Address to listen on. */
  readonly host: string
  readonly port: number
  /** Who asks has to be signed in. */
  readonly accounts: boolean
  /** PEM texts, where the server itself speaks HTTPS. */
  readonly certificate: { readonly cert: string; readonly key: string } | null
  /** Addresses of what stands before the server and speaks HTTPS in its place. */
  readonly proxies: readonly string[]
  /** Names (with port) that it answers to, in small letters. */
  readonly hosts: ReadonlySet<string>
}

/** Why it can't be reached so; words for whoever starts it. */
export class AccessRefused extends Error {}

type Environment = Readonly<Record<string, string | undefined>>

const listed = (text: string | undefined): string[] =>
  (text ?? '')
    .split(',')
    .map((word) => word.trim().toLowerCase())
    .filter(Boolean)

const isLoopback = (host: string): boolean => {
  const bare = host.replace(/^\[|\]$/g, '').toLowerCase()
  return bare === 'localhost' || bare === '::1' || (isIP(bare) === 4 && bare.startsWith('127.'))
}

/** The name in a Host header, without its port. */
const nameOfHost = (host: string): string => /^(\[[^\]]*\]|[^:]*)/.exec(host)![1]!

function pemOf(variable: string, path: string): string {
  try {
    const text = readFileSync(path, 'utf8')
    if (text.includes('-----BEGIN ')) return text
  } catch (error) {
    throw new AccessRefused(
      `${variable}: ${path} can’t be opened (${(error as NodeJS.ErrnoException).code}).`,
    )
  }
  throw new AccessRefused(`${variable}: ${path} is no PEM file.`)
}

/**
 * @param environment KELBO_PORT, KELBO_LISTEN, KELBO_HOSTS, KELBO_ACCOUNTS, KELBO_CERTIFICATE, KELBO_CERTIFICATE_KEY,
 * KELBO_PROXY.
 * @throws AccessRefused
 */
export function accessOf(environment: Environment): Access {
  const port = Number(environment.KELBO_PORT ?? 4780)
  const host = environment.KELBO_LISTEN?.trim() || '127.0.0.1'
  const proxies = listed(environment.KELBO_PROXY)
  const named = listed(environment.KELBO_HOSTS)
  const asked = environment.KELBO_ACCOUNTS ?? 'off'
  if (!['on', 'off'].includes(asked))
    throw new AccessRefused(`KELBO_ACCOUNTS is “on” or “off”, not “${asked}”.`)
  const wrong = proxies.find((proxy) => isIP(proxy.replace(/\/\d+$/, '')) === 0)
  if (wrong) throw new AccessRefused(`KELBO_PROXY: “${wrong}” is no address.`)
  const { KELBO_CERTIFICATE: certPath, KELBO_CERTIFICATE_KEY: keyPath } = environment
  if (Boolean(certPath) !== Boolean(keyPath))
    throw new AccessRefused(
      'KELBO_CERTIFICATE and KELBO_CERTIFICATE_KEY go together: the certificate and its key.',
    )
  const certificate =
    certPath && keyPath
      ? { cert: pemOf('KELBO_CERTIFICATE', certPath), key: pemOf('KELBO_CERTIFICATE_KEY', keyPath) }
      : null
  const beyond =
    !isLoopback(host) || proxies.length > 0 || named.some((entry) => !isLoopback(nameOfHost(entry)))
  if (beyond && !certificate && proxies.length === 0)
    throw new AccessRefused(
      'Kelbo would be reached from other machines, and passwords and models would go over the line for all to read. ' +
        'Give it a certificate (KELBO_CERTIFICATE, KELBO_CERTIFICATE_KEY), or put a proxy before it that has one (KELBO_PROXY).',
    )
  const own = ['127.0.0.1', 'localhost', '[::1]']
  if (!isLoopback(host) && !['0.0.0.0', '::'].includes(host))
    own.push(isIP(host) === 6 ? `[${host}]` : host.toLowerCase())
  return {
    host,
    port,
    accounts: beyond || asked === 'on',
    certificate,
    proxies,
    hosts: new Set([...own.map((name) => `${name}:${port}`), ...named]),
  }
}
