/**
 * Records to the text form of FBX: tabs for depth, arrays as `*count { a: ... }`, names of objects as
 * `Class::Name`. Numbers are the shortest text that reads back to the same number.
 *
 * Source: the text files of assimp-testmodels, and what `read-text-tree.ts` says.
 */
import { encodeBase64 } from '../../base/bytes/base64.ts'
import { createByteWriter, joinBytes } from '../../base/bytes/byte-writer.ts'
import { PACKED_WEIGHTS, weightsToText } from './tree.ts'
import { isTyped, isTypedArray, SEPARATOR, type WriteRecord, type WriteValue } from './write-tree.ts'

function stringText(value: string): string {
  const at = value.indexOf(SEPARATOR)
  const plain = at < 0 ? value : `${value.slice(at + SEPARATOR.length)}::${value.slice(0, at)}`
  return `"${plain.replaceAll('"', '&quot;')}"`
}

/** @param version 7400 or 7500: the text is the same but for the number. */
export function writeTextTree(records: readonly WriteRecord[], version: 7400 | 7500): Uint8Array {
  const out = createByteWriter()
  const putNumber = (value: number): void => {
    if (Number.isInteger(value) && Math.abs(value) < 1e15 && !Object.is(value, -0)) out.integer(value)
    else out.real(value, null)
  }
  const putValue = (value: WriteValue): void => {
    if (typeof value === 'string') out.text(stringText(value))
    else if (typeof value === 'boolean') out.text(value ? 'T' : 'F')
    else if (typeof value === 'bigint') out.text(String(value))
    else if (typeof value === 'number') putNumber(value)
    else if (value instanceof Uint8Array) out.text(`"${encodeBase64(value)}"`)
    else if (isTyped(value)) {
      if (typeof value.value === 'bigint') out.text(String(value.value))
      else putNumber(value.value)
    } else throw new Error('An array stands alone in its record.')
  }
  function putRecord({ name, values, children, opens }: WriteRecord, indent: string): void {
    const [first] = values
    out.text(`${indent}${name}: `)
    const list =
      first instanceof Float64Array || first instanceof Int32Array
        ? first
        : first !== undefined && isTypedArray(first)
          ? first.values
          : null
    if (list) {
      const told = name === PACKED_WEIGHTS ? weightsToText(list) : list
      // on one line: some readers don't go on in the next
      out.text(`*${list.length} {\n${indent}\ta: `)
      for (let at = 0; at < list.length; at++) {
        if (at) out.byte(44)
        putNumber(told[at]!)
      }
      out.text(`\n${indent}}\n`)
      return
    }
    // images stand behind a comma of their own, as other writers have it
    if (first instanceof Uint8Array) out.text(`,\n${indent}\t`)
    // a blank before texts, none before numbers: some readers take the blank for a part of the number
    for (const [at, value] of values.entries()) {
      if (at) out.text(typeof value === 'string' ? ', ' : ',')
      putValue(value)
    }
    if (opens) {
      out.text(' {\n')
      for (const child of children) putRecord(child, `${indent}\t`)
      out.text(`${indent}}`)
    }
    out.text('\n')
  }
  // some readers look for the binary form's mark here and there in the first lines; dashes never look like it
  out.text(`; FBX ${version === 7400 ? '7.4.0' : '7.5.0'} project file\n; ${'-'.repeat(200)}\n\n`)
  // the file's identity and times are of the binary form only; text files hold sections alone
  for (const top of records) if (top.children.length || !top.values.length) putRecord(top, '')
  return joinBytes(out.blocks())
}
