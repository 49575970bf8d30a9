import type { z } from 'zod'
import { schemaComplaint } from '../../contract/destinations.ts'
import { RequestRefused } from '../plugins/errors.ts'
import type { Database } from '../db/database.ts'
import type { Queue } from '../jobs/queue.ts'

/** What routes are built on. */
export interface Services {
  readonly database: Database
  readonly queue: Queue
  /** Calls back with ids of changed jobs until the returned function is called. */
  readonly onJob: (listener: (jobId: string) => void) => () => void
}

const malformed = (why: string): RequestRefused =>
  new RequestRefused(
    400,
    'http.malformed',
    `The options can’t be read: ${why}.`,
    'Reload the page and try again.',
  )

/** Fields of a form, by their schema. @throws RequestRefused where one is not as it has to be. */
export function parseFields<Schema extends z.ZodType>(schema: Schema, fields: unknown): z.infer<Schema> {
  const parsed = schema.safeParse(fields)
  if (!parsed.success) throw malformed(schemaComplaint(parsed.error))
  return parsed.data
}

/** A form field that holds JSON; an absent one is an empty object. */
export function parseField(text: string | undefined): unknown {
  if (!text) return {}
  try {
    return JSON.parse(text)
  } catch {
    throw malformed('they are no JSON')
  }
}
