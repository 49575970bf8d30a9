import type { z } from 'zod'
import { complainOfReadOptions, complainOfWriteOptions } from '../../app/check-destination.ts'
import { schemaComplaint } from '../../contract/destinations.ts'
import { isTrait } from '../../core/compare/traits/registry.ts'
import { formatById } from '../../core/formats/registry.ts'
import type { ReadOptions } from '../../core/formats/descriptor.ts'
import type { Database } from '../db/connection.ts'
import { RequestRefused } from './errors.ts'

/** What routes are built on. */
export interface Services {
  readonly database: Database
  /** Who asks is signed in. */
  readonly accounts: boolean
  /** Calls back with ids of changed jobs until the returned function is called. */
  readonly onJob: (listener: (jobId: string) => void) => () => void
}

export const malformed = (why: string): RequestRefused =>
  new RequestRefused(
    400,
    'http.malformed',
    `The options can’t be read: ${why.replace(/\.$/, '')}.`,
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

/** @throws RequestRefused where an option is not known, or can't have its value. */
export function checkReadOptions(options: ReadOptions): ReadOptions {
  const { assumed = {}, ...asked } = options
  const unknown = Object.keys(assumed).find((id) => !formatById(id))
  if (unknown !== undefined) throw malformed(`there is no format “${unknown}”`)
  for (const values of [asked, ...Object.values(assumed)]) {
    const complaint = complainOfReadOptions(values)
    if (complaint) throw malformed(complaint)
  }
  return options
}

/** @throws RequestRefused where an option is not known, or can't have its value. */
export function checkWriteOptions<Options extends Readonly<Record<string, unknown>>>(
  options: Options,
): Options {
  const complaint = complainOfWriteOptions(options)
  if (complaint) throw malformed(complaint)
  return options
}

/** @throws RequestRefused where one is no trait. */
export function checkTraits(traits: readonly string[]): void {
  const unknown = traits.find((trait) => !isTrait(trait))
  if (unknown !== undefined) throw malformed(`“${unknown}” is no trait`)
}
