/**
 * Results in words, held against what they were before (`*.txt` beside): whatever a change in the code changes in them
 * shows as lines that differ. They say that something is another, not that it was right: that is for the other tests.
 * After a change that is meant, `npx vitest run --project core -u tests/core/approved as-before src/core/compare` writes
 * them anew, with what tests of returns found (`kept/`); read the difference before it is committed.
 */
import { join } from 'node:path'
import { expect } from 'vitest'
import { describeFindings } from '../../../src/core/inspect/inspect-scene.ts'
import {
  defaultsOf,
  hasValue,
  type OptionDescriptor,
  type OptionValues,
} from '../../../src/core/base/options/option.ts'
import type { Finding } from '../../../src/core/base/messages/catalogue.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'

/** Six digits: what lies beyond is another order of sums. */
const short = (value: number): string =>
  Number.isInteger(value) ? String(value) : String(Number(value.toPrecision(6)))

function hash(text: string): string {
  let value = 0x811c9dc5
  for (let at = 0; at < text.length; at++) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
  return (value >>> 0).toString(36)
}

/** Any plain data over typed arrays, whole; of bytes their number and a hash. */
function whole(value: unknown): string {
  if (typeof value === 'number') return short(value)
  if (value instanceof Uint8Array) return `${value.length} bytes ${hash(String(value))}`
  if (ArrayBuffer.isView(value)) return `[${Array.from(value as Float64Array, short).join(' ')}]`
  if (Array.isArray(value)) return `[${value.map(whole).join(', ')}]`
  if (value instanceof Map)
    return `{${[...value].map(([key, one]) => `${whole(key)}: ${whole(one)}`).join(', ')}}`
  if (value instanceof Set) return `{${[...value].map(whole).join(', ')}}`
  if (value && typeof value === 'object')
    return `{${Object.entries(value)
      .filter(([, one]) => one !== undefined && typeof one !== 'function')
      .map(([key, one]) => `${key}: ${whole(one)}`)
      .join(', ')}}`
  return JSON.stringify(value) ?? 'undefined'
}

/** A few letters that are others where anything of the value is. */
export const mark = (value: unknown): string => `#${hash(whole(value))}`

/** What was said of a file, a line each. */
export const said = (findings: readonly Finding[]): string[] =>
  describeFindings(findings).map(
    ({ severity, where, message }) => `    ${severity}: ${where ? `${where}: ` : ''}${message}`,
  )

/** A scene in lines: a mark for each kind of thing that it holds, and for each mesh. */
export function tellScene(scene: Scene): string[] {
  const { nodes, meshes, materials, ...rest } = scene
  return [
    `    scene ${mark(rest)} nodes ${mark(nodes)} materials ${mark(materials)}`,
    `    meshes ${meshes.map(mark).join(' ')}`,
  ]
}

/** Options by chance, most of them what they are where nothing is said. */
export function anyOptions(options: readonly OptionDescriptor[], chance: () => number): OptionValues {
  const values: Record<string, string | number | boolean | null> = { ...defaultsOf(options) }
  for (const option of options.filter(hasValue)) {
    if (chance() < 0.6) continue
    if (option.kind === 'boolean') values[option.id] = chance() < 0.5
    if (option.kind === 'choice')
      values[option.id] = option.choices[Math.floor(chance() * option.choices.length)]!.value
    if (option.kind === 'number') {
      const value = option.min + chance() * (Math.min(option.max, option.min + 100) - option.min)
      values[option.id] = option.whole ? Math.round(value) : value
    }
  }
  return values
}

/** Holds the lines against the text of that name. */
export const expectApproved = (name: string, lines: readonly string[]): Promise<void> =>
  expect(`${lines.join('\n')}\n`).toMatchFileSnapshot(join(import.meta.dirname, `${name}.txt`))
