/** What went wrong at the database, so far as it is not the request's or the job's own fault. */

/** Network and client faults: no server, or one that is no longer there. */
const NO_CONNECTION = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOTFOUND',
  'ETIMEDOUT',
  'EHOSTUNREACH',
])
/** Source: PostgreSQL's manual, appendix A: class 08, operator intervention, too many connections. */
const SERVER_GOES = new Set(['57P01', '57P02', '57P03', '57P05', '53300'])
const CLIENT_WORDS =
  /connection terminated|client has encountered a connection error|timeout exceeded when trying to connect/i

/** An error and what it was caused by. */
function* chain(error: unknown): Generator<Error & { code?: unknown; errors?: unknown }> {
  for (let at: unknown = error, depth = 0; at instanceof Error && depth < 10; at = at.cause, depth++) yield at
}

/** The connection ended or could not be had: the same may go well a little later. */
export function isConnectionLost(error: unknown): boolean {
  for (const at of chain(error)) {
    const code = String(at.code ?? '')
    if (NO_CONNECTION.has(code) || SERVER_GOES.has(code) || code.startsWith('08')) return true
    if (CLIENT_WORDS.test(at.message)) return true
    // several addresses were tried, none answered
    if (at instanceof AggregateError && at.errors.some(isConnectionLost)) return true
  }
  return false
}

/** A disk is full: the database's (53100, disk_full) or this machine's. */
export function isDiskFull(error: unknown): boolean {
  for (const at of chain(error))
    if (at.code === '53100' || at.code === 'ENOSPC' || at.code === 'EDQUOT') return true
  return false
}

/** A value that the database has no room for (class 22: data exception), as a number or text out of its range. */
export function isRefusedValue(error: unknown): boolean {
  for (const at of chain(error)) if (/^22/.test(String(at.code ?? ''))) return true
  return false
}
