import type { ErrorDocument } from '../../contract/api.ts'
import type { MessageCode, MessageParameters } from '../../core/base/messages/catalogue.ts'
import { entryOf, messageText } from '../../core/formats/catalogue.ts'
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

export const describeError = (error: unknown): ErrorDocument =>
  error instanceof KelboError
    ? errorDocument(error.code, error.parameters, error.file)
    : errorDocument('job.failed')
