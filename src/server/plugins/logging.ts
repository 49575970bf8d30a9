import { pino, type Logger } from 'pino'

/** What is written of what goes on; KELBO_LOG says how much: fatal, error, warn (the default), info, debug or trace. */
export type Log = Pick<Logger, 'fatal' | 'error' | 'warn' | 'info' | 'debug' | 'trace' | 'child'>

const LEVELS = ['fatal', 'error', 'warn', 'info', 'debug', 'trace', 'silent']

export const logLevel = (): string => {
  const level = process.env.KELBO_LOG ?? 'warn'
  return LEVELS.includes(level) ? level : 'warn'
}

/** A log on standard error: standard output is for whoever started the process. Nothing of a request's body is in it. */
export const createLog = (part: string): Logger =>
  pino({ level: logLevel(), base: { part } }, pino.destination({ fd: 2, sync: true }))
