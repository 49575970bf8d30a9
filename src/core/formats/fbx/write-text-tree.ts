/**
 * Records to the text form of FBX: tabs for depth, arrays as `*count { a: ... }`, names of objects as
 * `Class::Name`. Numbers are the shortest text that reads back to the same number.
 *
 * Source: the text files of assimp-testmodels, and what `read-text-tree.ts` says.
 */
import { encodeUtf8 } from '../../bytes/text.ts'
import type { WriteRecord, WriteValue } from './write-binary-tree.ts'

/** Characters of text that are gathered before they become bytes: a string can't hold a whole large file. */
const CHUNK = 1 << 20

const numberText = (value: number): string => (Object.is(value, -0) ? '-0' : String(value))

/** What lies between an object's name and its class in the binary form. */
const SEPARATOR = '\u0000\u0001'

function stringText(value: string): string {
  const at = value.indexOf(SEPARATOR)
  const plain = at < 0 ? value : `${value.slice(at + SEPARATOR.length)}::${value.slice(0, at)}`
  return `"${plain.replaceAll('"', '&quot;')}"`
}

/** @param version 7400 or 7500: the text is the same but for the number. Bytes as a value are not written. */
export function writeTextTree(records: readonly WriteRecord[], version: 7400 | 7500): Uint8Array {
  const chunks: Uint8Array[] = []
  let text = ''
  const put = (more: string): void => {
    text += more
    if (text.length >= CHUNK) flush()
  }
  const flush = (): void => {
    chunks.push(encodeUtf8(text))
    text = ''
  }
  const valueText = (value: WriteValue): string => {
    if (typeof value === 'string') return stringText(value)
    if (typeof value === 'boolean') return value ? 'T' : 'F'
    if (typeof value === 'bigint') return String(value)
    if (typeof value === 'number') return numberText(value)
    if ('kind' in value) return numberText(value.value)
    throw new Error('An array stands alone in its record.')
  }
  function putRecord({ name, values, children }: WriteRecord, indent: string): void {
    const [first] = values
    if (first instanceof Uint8Array) return
    put(`${indent}${name}: `)
    if (first instanceof Float64Array || first instanceof Int32Array) {
      put(`*${first.length} {\n${indent}\ta: `)
      for (let at = 0; at < first.length; at++) put(`${at ? ',' : ''}${numberText(first[at]!)}`)
      put(`\n${indent}}\n`)
      return
    }
    // a blank before texts, none before numbers: some readers take the blank for a part of the number
    for (const [at, value] of values.entries())
      put(`${at === 0 ? '' : typeof value === 'string' ? ', ' : ','}${valueText(value)}`)
    if (children.length || values.length === 0) {
      put(' {\n')
      for (const child of children) putRecord(child, `${indent}\t`)
      put(`${indent}}`)
    }
    put('\n')
  }
  // some readers look for the binary form's mark here and there in the first lines; dashes never look like it
  put(`; FBX ${version === 7400 ? '7.4.0' : '7.5.0'} project file\n; ${'-'.repeat(200)}\n\n`)
  // the file's identity and times are of the binary form only; text files hold sections alone
  for (const top of records) if (top.children.length || !top.values.length) putRecord(top, '')
  flush()
  const bytes = new Uint8Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0))
  let at = 0
  for (const chunk of chunks) {
    bytes.set(chunk, at)
    at += chunk.length
  }
  return bytes
}
