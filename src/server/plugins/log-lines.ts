/** All that the server and its workers write down by themselves; docs/log.md is made from it. */

interface Line {
  readonly level: 'error' | 'warn' | 'info'
  readonly text: string
  /** What stands beside it. */
  readonly fields: string
}

export const LOG_LINES = {
  fault: {
    level: 'error',
    text: 'a fault of our own',
    fields: 'the error; the request’s number, which the page tells too',
  },
  'disk-full': { level: 'error', text: 'the disk is full', fields: 'the error' },
  'no-database': { level: 'error', text: 'the database can’t be reached', fields: 'the error' },
  'job-failed': { level: 'error', text: 'a job failed', fields: 'the error; the job’s id and kind' },
  'job-lost-database': {
    level: 'warn',
    text: 'the database went while a job was done',
    fields: 'the error; the job’s id and kind',
  },
  'no-progress-told': {
    level: 'warn',
    text: 'progress could not be told',
    fields: 'the error; the job’s id',
  },
  worker: { level: 'warn', text: 'a worker could not look for work', fields: 'the error' },
  events: { level: 'warn', text: 'a changed job could not be told to a page', fields: 'the error' },
  listening: { level: 'warn', text: 'the database’s words on jobs can’t be heard', fields: 'the error' },
  connection: { level: 'warn', text: 'a database connection ended', fields: 'the error' },
  'connection-in-use': {
    level: 'warn',
    text: 'a database connection in use ended',
    fields: 'the error',
  },
  sweep: { level: 'warn', text: 'sweeping after an asset was destroyed', fields: 'the error' },
  'hand-off': { level: 'warn', text: 'the hand-off folder could not be looked at', fields: 'the error' },
  'signed-in': { level: 'info', text: 'somebody signed in', fields: 'the account’s id' },
  'not-signed-in': {
    level: 'warn',
    text: 'somebody could not sign in',
    fields: 'the address that it was tried from',
  },
  'too-many-tries': {
    level: 'warn',
    text: 'too many tries to sign in',
    fields: 'the address that it was tried from',
  },
} as const satisfies Readonly<Record<string, Line>>

export type LogLine = keyof typeof LOG_LINES
