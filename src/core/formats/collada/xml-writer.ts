/** XML as bytes, with lists of numbers written straight. */
import { createByteWriter, joinBytes } from '../../base/bytes/byte-writer.ts'

const [NEWLINE, BLANK] = [10, 32]

export interface XmlWriter {
  /** An element with elements inside. */
  readonly element: (name: string, attributes: Attributes, inside: () => void) => void
  /** An element with a text, or nothing, inside. */
  readonly leaf: (name: string, attributes: Attributes, text?: string) => void
  /** An element with numbers inside, as many a line. */
  readonly numbers: (name: string, attributes: Attributes, values: ArrayLike<number>, aLine: number) => void
  /** XML as it stands. */
  readonly raw: (text: string) => void
  readonly bytes: () => Uint8Array
}
export type Attributes = Readonly<Record<string, string | number | undefined>>

/** What XML 1.0 can't hold is left out: control characters, halves of pairs. */
const allowed = (text: string): string =>
  text
    .replace(/[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/g, '')
    .replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '')
const escaped = (text: string): string =>
  allowed(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')
const quoted = (text: string): string =>
  escaped(text).replace(/"/g, '&quot;').replace(/\n/g, '&#10;').replace(/\r/g, '&#13;').replace(/\t/g, '&#9;')

export function createXmlWriter(): XmlWriter {
  const out = createByteWriter()
  let depth = 0
  out.text('<?xml version="1.0" encoding="utf-8"?>\n')
  const open = (name: string, attributes: Attributes): string =>
    `${' '.repeat(depth)}<${name}${Object.entries(attributes)
      .flatMap(([key, value]) => (value === undefined ? [] : [` ${key}="${quoted(String(value))}"`]))
      .join('')}`
  return {
    element: (name, attributes, inside) => {
      out.text(`${open(name, attributes)}>\n`)
      depth++
      inside()
      depth--
      out.text(`${' '.repeat(depth)}</${name}>\n`)
    },
    leaf: (name, attributes, text) => {
      out.text(
        text === undefined
          ? `${open(name, attributes)}/>\n`
          : `${open(name, attributes)}>${escaped(text)}</${name}>\n`,
      )
    },
    numbers: (name, attributes, values, aLine) => {
      out.text(`${open(name, attributes)}>`)
      for (let at = 0; at < values.length; at++) {
        if (at > 0) out.byte(at % aLine === 0 ? NEWLINE : BLANK)
        const value = values[at]!
        if (Number.isFinite(value)) out.real(value, null)
        // as XML schema writes them
        else out.text(Number.isNaN(value) ? 'NaN' : value < 0 ? '-INF' : 'INF')
      }
      out.text(`</${name}>\n`)
    },
    raw: (text) => out.text(`${text}\n`),
    bytes: () => joinBytes(out.blocks()),
  }
}

/**
 * Letters that every edition of XML 1.0 takes in an id: many parsers go by the lists of the fourth (appendix B), which
 * lack most scripts, and the fifth takes these as well.
 */
const LETTERS =
  'A-Za-z_\u00c0-\u00d6\u00d8-\u00f6\u00f8-\u0131\u0134-\u013e\u0141-\u0148\u014a-\u017e\u0391-\u03a1\u03a3-\u03ce\u0410-\u044f\u3041-\u3094\u30a1-\u30fa\u4e00-\u9fa5\uac00-\ud7a3'
const NOT_IN_ID = new RegExp(`[^${LETTERS}0-9.-]`, 'gu')
const BEGINS_ID = new RegExp(`^[${LETTERS}]`, 'u')

/** Ids that XML takes, each once. */
export function createIds(): (wanted: string) => string {
  const taken = new Set<string>()
  return (wanted) => {
    const plain = wanted.replace(NOT_IN_ID, '_')
    const base = BEGINS_ID.test(plain) ? plain : `_${plain}`
    let id = base
    for (let number = 2; taken.has(id); number++) id = `${base}-${number}`
    taken.add(id)
    return id
  }
}
