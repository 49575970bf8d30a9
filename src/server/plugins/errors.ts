import type { FastifyError, FastifyInstance } from 'fastify'
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod'
import type { ErrorDocument } from '../../contract/api.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import { isConnectionLost, isDiskFull, isRefusedValue } from '../db/faults.ts'
import { MOST_FILES, requestLimitWords } from '../content/uploads.ts'
import { writeLog } from './logging.ts'
import { describeError, errorDocument } from './error-documents.ts'

/** Something asked for is not there, or can't be done in its present state. */
export class RequestRefused extends Error {
  readonly status: number
  readonly document: ErrorDocument
  constructor(status: number, code: string, message: string, advice: string) {
    super(message)
    this.status = status
    this.document = { code, message, advice }
  }
}

export const notFound = (what: string): RequestRefused =>
  new RequestRefused(404, 'http.not-found', `${what} is not here (any more).`, 'Go back to the assets.')

/** Somebody else wrote since the one who asks had read it. */
export const changedMeanwhile = (what: string): RequestRefused =>
  new RequestRefused(
    409,
    'http.changed-meanwhile',
    `${what} was changed by somebody else since you opened it. Nothing was overwritten.`,
    'It is shown now as they left it; make your change again if it is still wanted.',
  )

/** Statuses of messages that are no fault of a file's content. */
const STATUS_OF: Readonly<Record<string, number>> = {
  'file.too-large': 413,
  'upload.too-large': 413,
  'upload.stalled': 408,
  'version.moved-on': 409,
  'trip.other-return': 409,
  'trip.settled': 409,
}

const LARGE_FILE_CODES = new Set(['FST_REQ_FILE_TOO_LARGE', 'FST_ERR_CTP_BODY_TOO_LARGE'])

/** What is said of a form that breaks off or is none, by the library that reads it. */
const BROKEN_FORM = /unexpected end of (form|file)|malformed part header|boundary not found|multipart/i

/** The one place where errors become HTTP statuses. */
export function handleErrors(app: FastifyInstance, fileLimit: string): void {
  app.setErrorHandler((error: FastifyError, request, reply) => {
    if (error instanceof RequestRefused) return reply.code(error.status).send(error.document)
    if (error instanceof KelboError) {
      // the rest of an upload that was given up is not listened to
      if (error.code === 'upload.stalled') reply.header('connection', 'close')
      return reply.code(STATUS_OF[error.code] ?? 422).send(describeError(error))
    }
    if (LARGE_FILE_CODES.has(error.code))
      return reply.code(413).send(errorDocument('file.too-large', { limit: fileLimit }))
    if (error.code === 'FST_FILES_LIMIT')
      return reply
        .code(413)
        .send(errorDocument('upload.too-large', { limit: requestLimitWords(), files: MOST_FILES }))
    if (BROKEN_FORM.test(error.message))
      return reply.code(400).send({
        code: 'http.malformed',
        message: 'The upload broke off, or is no form. Nothing was brought in.',
        advice: 'Reload the page and try again.',
      } satisfies ErrorDocument)
    if (hasZodFastifySchemaValidationErrors(error) || (error.statusCode ?? 500) < 500)
      return reply.code(error.statusCode ?? 400).send({
        code: 'http.malformed',
        message: 'The request was not understood.',
        advice: `Reload the page and try again. (${error.message.slice(0, 200)})`,
      } satisfies ErrorDocument)
    if (isDiskFull(error)) {
      writeLog(request.log, 'disk-full', { err: error })
      return reply.code(507).send(errorDocument('store.disk-full'))
    }
    if (isConnectionLost(error)) {
      writeLog(request.log, 'no-database', { err: error })
      return reply.code(503).send({
        code: 'http.no-database',
        message: 'Kelbo’s database does not answer.',
        advice: 'Nothing was changed. It is tried again by itself; wait a moment and repeat what you did.',
      } satisfies ErrorDocument)
    }
    if (isRefusedValue(error))
      return reply.code(400).send({
        code: 'http.malformed',
        message: 'Something in the request can’t be stored as it is.',
        advice: 'Look for unusual letters or numbers in what you gave, and try again.',
      } satisfies ErrorDocument)
    writeLog(request.log, 'fault', { err: error })
    return reply.code(500).send({
      code: 'http.fault',
      message: 'Kelbo has made a mistake. Nothing was saved.',
      advice: `Try again; if it happens once more, look for ${request.id} in what the server printed.`,
    } satisfies ErrorDocument)
  })
}
