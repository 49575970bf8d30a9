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

/** A form field that holds JSON; an absent one is an empty object. */
export function parseField(text: string | undefined): unknown {
  if (!text) return {}
  try {
    return JSON.parse(text)
  } catch {
    throw new RequestRefused(
      400,
      'http.malformed',
      'The options can’t be read.',
      'Reload the page and try again.',
    )
  }
}
