import { expect, test } from 'vitest'
import { z } from 'zod'
import { ledgerSchema } from '../../src/contract/ledger.ts'
import { parseLedgers } from '../../src/web/parse-ledgers.ts'

const schema = z.object({
  name: z.string(),
  forecast: ledgerSchema.nullable(),
  ledger: ledgerSchema.nullable(),
})
const cell = {
  state: 'same',
  empty: false,
  deviation: null,
  changedCount: 0,
  totalCount: 4,
  note: 'n',
  parameters: {},
  places: null,
}
const ledgerOf = (count: number) => ({
  rows: Array.from({ length: count }, (_row, at) => ({
    name: `part ${at}`,
    masterNode: at,
    returnedNode: at,
    matchedBy: 'name',
    correspondence: 'order',
    faceCount: at,
    cells: { points: cell },
  })),
  scene: cell,
  whole: null,
})

test('rows parsed some at a time are all there, in their order, and nothing else changes', async () => {
  const body = { name: 'pier', forecast: null, ledger: ledgerOf(357) }
  const before = JSON.stringify(body)
  expect(await parseLedgers(schema, body, ['forecast', 'ledger'])).toEqual(schema.parse(body))
  expect(JSON.stringify(body)).toBe(before)
})

test('what the schema refuses is refused, in rows as elsewhere', async () => {
  const body = { name: 'pier', forecast: null, ledger: ledgerOf(150) }
  ;(body.ledger.rows[140] as { faceCount: unknown }).faceCount = 'many'
  await expect(parseLedgers(schema, body, ['ledger'])).rejects.toThrow('expected number')
  await expect(parseLedgers(schema, { name: 7 }, ['ledger'])).rejects.toThrow('expected string')
})
