/** Who is signed in, where Kelbo is reached from other machines. */
import { z } from 'zod'
import { nameSchema } from './options.ts'

export const sessionSchema = z.object({
  /** Whoever asks for anything else has to be signed in. */
  needed: z.boolean(),
  /** Who is; null: nobody. */
  name: z.string().nullable(),
})
export type SessionDocument = z.infer<typeof sessionSchema>

const passwordSchema = z.string().max(1000)
export const signInBodySchema = z.object({ name: z.string().max(200), password: passwordSchema }).strict()
export const passwordBodySchema = z.object({ password: passwordSchema, next: passwordSchema }).strict()
/** Letters of an account's name; shown beside what was made. */
export const accountNameSchema = nameSchema.pipe(z.string().max(60))
