import { z } from 'zod'
import { rowSchema, type LedgerDocument } from '../contract/ledger.ts'

/** Rows that are parsed before the page may answer again: a few milliseconds. */
const ROWS_AT_ONCE = 100

const rowsSchema = z.object({ rows: z.array(z.unknown()) })

const nextTask = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0))

/**
 * Parses a document that holds ledgers. Those of thousands of parts take a quarter of a second: their rows are parsed
 * some at a time, and the page answers in between.
 * @throws ZodError as the schema does.
 */
export async function parseLedgers<Schema extends z.ZodType<object>>(
  schema: Schema,
  body: unknown,
  ledgers: readonly (keyof z.output<Schema> & string)[],
): Promise<z.output<Schema>> {
  const frame: Record<string, unknown> = { ...(body as object) }
  const rows = new Map<string, readonly unknown[]>()
  for (const name of ledgers) {
    const found = rowsSchema.safeParse(frame[name])
    if (!found.success) continue
    rows.set(name, found.data.rows)
    frame[name] = { ...(frame[name] as object), rows: [] }
  }
  const parsed = schema.parse(frame)
  for (const [name, unparsed] of rows) {
    const ledger = parsed[name as keyof z.output<Schema>] as LedgerDocument
    for (let at = 0; at < unparsed.length; at += ROWS_AT_ONCE) {
      if (at > 0) await nextTask()
      for (const row of unparsed.slice(at, at + ROWS_AT_ONCE)) ledger.rows.push(rowSchema.parse(row))
    }
  }
  return parsed
}
