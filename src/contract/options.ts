/**
 * Options on their way between page and server. Which there are is told by the descriptors of formats, steps and
 * stand-ins; here is only what all of them are like, and the server holds them against the descriptors.
 */
import { z } from 'zod'
import { traitSchema } from './ledger.ts'

const CONTROLS = /[\u0000-\u001f\u007f]/g

/** A name without control characters, and with marks as most systems write them (Unicode NFC). */
export const soundName = (name: string): string => name.replace(CONTROLS, '').normalize('NFC')

/** What people call something: at least one letter that can be seen. */
export const nameSchema = z
  .string()
  .overwrite(soundName)
  .trim()
  .max(120, 'A name has at most 120 letters.')
  .refine((name) => /[^\p{White_Space}\p{Cf}\p{Cc}]/u.test(name), 'A name of at least one letter is needed.')

export const optionValueSchema = z.union([z.string().max(2000), z.number(), z.boolean(), z.null()])

export const optionValuesSchema = z
  .record(z.string().max(60), optionValueSchema)
  .refine((values) => Object.keys(values).length <= 200, 'these are too many options')

/** How files are understood: what is asked of all, and what is assumed of a format's where nothing else is. */
export const readOptionsSchema = z.record(
  z.string().max(60),
  z.union([optionValueSchema, z.record(z.string().max(60), optionValuesSchema)]),
)

/** What a node of a scene is known by from version to version. */
export const nodeIdSchema = z.string().min(1).max(60)

export const reconcileOptionsSchema = z
  .object({
    take: z.array(traitSchema).max(60),
    /** By the id of the part's node. */
    takeByPart: z.record(nodeIdSchema, z.array(traitSchema).max(60)).optional(),
  })
  .strict()

export type ReconcileChoice = z.infer<typeof reconcileOptionsSchema>
