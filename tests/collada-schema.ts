/**
 * COLLADA held against the published XML schema of 1.4.1, as Debian's opencollada-tools has it, by xmllint.
 *
 * One thing is let pass: the schema wants an attribute `name` to be an NCName, so without blanks. Exporters write the
 * names that artists give, and readers show them (common practice; the schema of 1.5 allows any token), and so does
 * Kelbo.
 */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const SCHEMA = '/usr/lib/opencollada/collada_schema_1_4_1.xsd'
const ATTRIBUTES = join(import.meta.dirname, 'reference', 'xml', 'attributes.xsd')

/** @returns what the schema finds wrong in each of the documents, by name; nothing where all of them are valid. */
export function colladaFaults(documents: ReadonlyMap<string, Uint8Array>): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-schema-'))
  try {
    const schema = readFileSync(SCHEMA, 'utf8')
      .replace(/schemaLocation="[^"]*xml\.xsd"/, `schemaLocation="${ATTRIBUTES}"`)
      .replaceAll('name="name" type="xs:NCName"', 'name="name" type="xs:token"')
    writeFileSync(join(folder, 'collada.xsd'), schema)
    for (const [name, bytes] of documents) writeFileSync(join(folder, name), bytes)
    const { status, stderr, error } = spawnSync(
      'xmllint',
      ['--nonet', '--noout', '--huge', '--schema', 'collada.xsd', ...documents.keys()],
      { cwd: folder, encoding: 'utf8', maxBuffer: 1 << 28 },
    )
    if (error) throw error
    const lines = stderr.split('\n').filter((line) => line !== '' && !/ validates$/.test(line))
    if (status !== 0 && lines.length === 0) throw new Error(`xmllint ended with ${status} and said nothing.`)
    return lines.map((line) => line.replaceAll(/\{[^}]*\}/g, ''))
  } finally {
    rmSync(folder, { recursive: true })
  }
}
