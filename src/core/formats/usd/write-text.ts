/** USD text, piece by piece. Source: OpenUSD, “Usda file format” (its grammar). */
import { createByteWriter, joinBytes } from '../../base/bytes/byte-writer.ts'
import type { StagePrim } from './compose.ts'
import {
  isArrayType,
  isDictionary,
  isTextType,
  widthOf,
  type UsdDictionary,
  type UsdProperty,
  type UsdValue,
} from './layer.ts'

export const quote = (text: string): string =>
  `"${text
    .replace(/\\/g, '\\\\')
    .replace(/"/g, '\\"')
    .replace(/\n/g, '\\n')
    .replace(/\r/g, '\\r')
    .replace(/[\x00-\x08\x0b\x0c\x0e-\x1f]/g, (sign) => `\\x${sign.charCodeAt(0).toString(16).padStart(2, '0')}`)}"` // prettier-ignore

export const assetText = (path: string): string =>
  path.includes('@') || path.includes('\n')
    ? `@@@${path.replace(/@@@/g, '\\@@@').replace(/\n/g, ' ')}@@@`
    : `@${path}@`

export const numberText = (value: number): string =>
  Number.isNaN(value) ? 'nan' : value === Infinity ? 'inf' : value === -Infinity ? '-inf' : Object.is(value, -0) ? '-0' : String(value) // prettier-ignore

const textOf = (text: string, type: string): string =>
  type.startsWith('asset') ? assetText(text) : quote(text)

/** Numbers of one value of a type: alone, in parentheses, or as rows. */
function tuple(values: ArrayLike<number>, at: number, width: number, type: string): string {
  if (width === 1) return numberText(values[at]!)
  const own = (from: number, count: number): string =>
    `(${Array.from({ length: count }, (_none, k) => numberText(values[from + k]!)).join(', ')})`
  if (!/^(matrix|frame)/.test(type)) return own(at, width)
  const side = Math.sqrt(width)
  return `( ${Array.from({ length: side }, (_none, row) => own(at + side * row, side)).join(', ')} )`
}

export function dictionaryText(dictionary: UsdDictionary, depth: number): string {
  const space = '    '.repeat(depth)
  const lines = [...dictionary].map(([key, { type, value }]) => {
    const name = /^[A-Za-z_]\w*$/.test(key) ? key : quote(key)
    const shown = type || typeOfValue(value)
    return isDictionary(value)
      ? `${space}    dictionary ${name} = ${dictionaryText(value, depth + 1)}`
      : `${space}    ${shown} ${name} = ${valueText(value, shown, depth + 1)}`
  })
  return lines.length ? `{\n${lines.join('\n')}\n${space}}` : '{\n' + `${space}}`
}

/** A type that a value may have where none is stated. */
function typeOfValue(value: UsdValue): string {
  if (typeof value === 'number') return 'double'
  if (typeof value === 'boolean') return 'bool'
  if (value instanceof Float64Array) return 'double[]'
  if (Array.isArray(value)) return 'string[]'
  return 'string'
}

/** @param type the type's name; empty where none is stated. */
export function valueText(value: UsdValue, type: string, depth = 0): string {
  if (value === null) return 'None'
  if (typeof value === 'boolean') return value ? 'true' : 'false'
  if (typeof value === 'number') return isArrayType(type) ? `[${numberText(value)}]` : numberText(value)
  if (typeof value === 'string') return textOf(value, type)
  if (isDictionary(value)) return dictionaryText(value, depth)
  if (!(value instanceof Float64Array))
    return `[${(value as readonly string[]).map((one) => textOf(one, type || 'string')).join(', ')}]`
  const width = type === '' ? 1 : widthOf(type)
  if (!isArrayType(type) && type !== '')
    return width === 1 && isTextType(type) ? quote(String(value[0])) : tuple(value, 0, value.length, type)
  const parts: string[] = []
  for (let at = 0; at + width <= value.length; at += width) parts.push(tuple(value, at, width, type))
  return `[${parts.join(', ')}]`
}

const isPlainKey = (key: string): boolean => /^[A-Za-z_][\w:]*$/.test(key)

/** Settings in parentheses; empty for none. */
export function settingsText(metadata: ReadonlyMap<string, UsdValue>, depth: number): string {
  const space = '    '.repeat(depth)
  const lines = [...metadata].flatMap(([key, value]) => {
    if (key === 'comment' && typeof value === 'string') return [`${space}    ${quote(value)}`]
    if (!isPlainKey(key)) return []
    const lead = key === 'apiSchemas' ? 'prepend ' : ''
    return [`${space}    ${lead}${key} = ${valueText(value, '', depth + 1)}`]
  })
  return lines.length ? ` (\n${lines.join('\n')}\n${space})` : ''
}

const pathsText = (paths: readonly string[]): string =>
  paths.length === 0 ? 'None' : paths.length === 1 ? `<${paths[0]!}>` : `[${paths.map((path) => `<${path}>`).join(', ')}]` // prettier-ignore

/** A property as lines of text. */
export function propertyText(property: UsdProperty, depth: number): string {
  const { name, type, custom, uniform, isRelationship, value, samples, targets, metadata } = property
  const space = '    '.repeat(depth)
  const lead = `${space}${custom ? 'custom ' : ''}`
  const settings = settingsText(metadata, depth)
  if (isRelationship)
    return `${lead}rel ${name}${targets.length ? ` = ${pathsText(targets)}` : ''}${settings}\n`
  const head = `${lead}${uniform ? 'uniform ' : ''}${type} ${name}`
  const lines: string[] = []
  if (value !== undefined || (!samples && targets.length === 0))
    lines.push(`${head}${value === undefined ? '' : ` = ${valueText(value, type, depth)}`}${settings}\n`)
  if (samples) {
    const rows = samples.times.map(
      (time, at) =>
        `${space}    ${numberText(time)}: ${valueText(samples.values[at] ?? null, type, depth)},\n`,
    )
    lines.push(`${head}.timeSamples = {\n${rows.join('')}${space}}\n`)
  }
  if (targets.length) lines.push(`${head}.connect = ${pathsText(targets)}\n`)
  return lines.join('')
}

/** A prim with all beneath it. */
export function primText(prim: StagePrim, depth: number): string {
  const space = '    '.repeat(depth)
  const body = [
    ...[...prim.properties.values()].map((property) => propertyText(property, depth + 1)),
    ...prim.children.map((child) => `\n${primText(child, depth + 1)}`),
  ].join('')
  return `${space}def ${prim.type ? `${prim.type} ` : ''}${quote(prim.name)}${settingsText(prim.metadata, depth)}\n${space}{\n${body}${space}}\n` // prettier-ignore
}

/** A file that grows prim by prim. */
export interface UsdWriter {
  /** Lines as they stand, at the present depth. */
  readonly line: (text: string) => void
  /** Text that is laid out already. */
  readonly raw: (text: string) => void
  readonly prim: (head: string, settings: readonly string[], body: () => void) => void
  /** Numbers of an array in tuples. @param tail settings behind it, with their parentheses. */
  readonly array: (head: string, values: ArrayLike<number>, width: number, tail?: string) => void
  readonly bytes: () => Uint8Array
  readonly depth: () => number
}

const PER_LINE = 12

export function createUsdWriter(): UsdWriter {
  const out = createByteWriter()
  let depth = 0
  const indent = (): void => {
    for (let at = 0; at < depth; at++) out.text('    ')
  }
  const real = (value: number): void => {
    if (Number.isInteger(value) && Math.abs(value) < 2 ** 31 && !Object.is(value, -0)) out.integer(value)
    else if (Number.isFinite(value)) out.real(value, null)
    else out.text(numberText(value))
  }
  const line = (text: string): void => {
    indent()
    out.text(`${text}\n`)
  }
  return {
    line,
    raw: (text) => out.text(text),
    depth: () => depth,
    prim: (head, settings, body) => {
      if (settings.length === 0) line(head)
      else {
        line(`${head} (`)
        depth++
        settings.forEach(line)
        depth--
        line(')')
      }
      line('{')
      depth++
      body()
      depth--
      line('}')
    },
    array: (head, values, width, tail = '') => {
      indent()
      out.text(`${head} = [`)
      const count = values.length / width
      const perLine = Math.max(1, Math.floor(PER_LINE / width)) * 4
      for (let index = 0; index < count; index++) {
        if (index > 0) {
          out.byte(44)
          out.byte(index % perLine === 0 ? 10 : 32)
        }
        if (width > 1) out.byte(40)
        for (let k = 0; k < width; k++) {
          if (k > 0) {
            out.byte(44)
            out.byte(32)
          }
          real(values[width * index + k]!)
        }
        if (width > 1) out.byte(41)
      }
      out.text(`]${tail}\n`)
    },
    bytes: () => joinBytes(out.blocks()),
  }
}
