import { pino, type Logger } from 'pino'
import { DrizzleQueryError } from 'drizzle-orm/errors'
import pg from 'pg'
import { KelboError } from '../../core/base/messages/collector.ts'
import { LOG_LINES, type LogLine } from './log-lines.ts'

/** What is written of what goes on; KELBO_LOG says how much: fatal, error, warn (the default), info, debug or trace. */
export type Log = Pick<Logger, 'fatal' | 'error' | 'warn' | 'info' | 'debug' | 'trace' | 'child'>

const LEVELS = ['fatal', 'error', 'warn', 'info', 'debug', 'trace', 'silent']

export const logLevel = (): string => {
  const level = process.env.KELBO_LOG ?? 'warn'
  return LEVELS.includes(level) ? level : 'warn'
}

/** Frames alone: the lines before them repeat the message. */
const framesOf = (error: Error): string[] =>
  (error.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .map((line) => line.trim())

/** PostgreSQL's class of errors whose sentence quotes the value that it could not use. */
const QUOTES_VALUE = /^22/

/**
 * An error as it is written down: what went wrong and where, without values of the artist's, of the tables or of a
 * request. What a query was given, what PostgreSQL tells of the row, and names of files are left out.
 */
export function describeForLog(error: unknown, depth = 0): Record<string, unknown> {
  if (!(error instanceof Error)) return { type: typeof error }
  const told: Record<string, unknown> = { type: error.constructor.name }
  if (error instanceof KelboError) return { ...told, code: error.code }
  if (error instanceof DrizzleQueryError) told.query = error.query
  else if (error instanceof pg.DatabaseError) {
    for (const name of ['code', 'severity', 'table', 'column', 'constraint', 'routine'] as const)
      if (error[name] !== undefined) told[name] = error[name]
    if (!QUOTES_VALUE.test(error.code ?? '')) told.message = error.message
  } else {
    told.message = error.message
    const { code } = error as { code?: unknown }
    if (typeof code === 'string') told.code = code
  }
  told.at = framesOf(error)
  if (error.cause !== undefined && depth < 4) told.cause = describeForLog(error.cause, depth + 1)
  return told
}

/** Fields that may stand in a line; what they hold is made by the serializers or is an id, a number or an address. */
const WRITTEN = new Set(['err', 'req', 'res', 'reqId', 'responseTime', 'job', 'kind', 'from', 'account'])

/** A log on standard error: standard output is for whoever started the process. */
export const createLog = (part: string, destination = pino.destination({ fd: 2, sync: true })): Logger =>
  pino(
    {
      level: logLevel(),
      base: { part },
      // libraries write what they like at the lower levels: one gave all headers of an upload, cookies among them
      formatters: {
        log: (fields) => Object.fromEntries(Object.entries(fields).filter(([name]) => WRITTEN.has(name))),
      },
      serializers: {
        err: (error: unknown) => describeForLog(error),
        // what Fastify gives of a request, without what stands behind its address and in its headers
        req: (request: { method?: string; url?: string; ip?: string }) => ({
          method: request.method,
          path: request.url?.split('?')[0],
          from: request.ip,
        }),
        res: (reply: { statusCode?: number }) => ({ status: reply.statusCode }),
      },
    },
    destination,
  )

/** Writes one of the lines that may be written; there are no others. */
export function writeLog(
  log: Pick<Log, 'error' | 'warn' | 'info'>,
  line: LogLine,
  fields: Readonly<Record<string, unknown>> = {},
): void {
  log[LOG_LINES[line].level](fields, LOG_LINES[line].text)
}
