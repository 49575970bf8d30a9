import type { ErrorDocument } from '../../contract/api.ts'
import type { MessageCode, MessageParameters } from '../../core/base/messages/catalogue.ts'
import { entryOf, messageText } from '../../core/formats/catalogue.ts'
import { isConnectionLost, isDiskFull } from '../db/faults.ts'
import { KelboError } from '../../core/base/messages/collector.ts'

/** A catalogued message as the page shows it. */
export const errorDocument = (
  code: MessageCode,
  parameters: MessageParameters = {},
  file: string | null = null,
): ErrorDocument => ({
  code,
  message: (file ? `${file}: ` : '') + messageText(code, parameters),
  advice: entryOf(code).advice,
})

/** Why a job failed, in words. */
export function describeError(error: unknown): ErrorDocument {
  if (error instanceof KelboError) return errorDocument(error.code, error.parameters, error.file)
  if (isDiskFull(error)) return errorDocument('store.disk-full')
  if (isConnectionLost(error)) return errorDocument('job.no-database')
  return errorDocument('job.failed')
}
