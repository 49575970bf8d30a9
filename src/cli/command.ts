import type { Finding } from '../core/base/messages/catalogue.ts'
import { UsageError } from './usage-error.ts'

export interface Arguments {
  readonly json?: boolean
  readonly to?: string
  readonly for?: string
  readonly recipe?: string
  readonly list?: boolean
  readonly anyway?: boolean
  readonly take?: string[]
  readonly option?: string[]
  readonly read?: string[]
  readonly 'read-a'?: string[]
  readonly 'read-b'?: string[]
  readonly 'undo-whole'?: boolean
  readonly 'with-maps'?: boolean
  readonly all?: boolean
  readonly trips?: string
  readonly seed?: string
  readonly surface?: string
  readonly maps?: string
  readonly rules?: string
  readonly 'name-maps'?: string
  readonly 'one-map'?: string
  readonly 'one-map-set'?: string
  readonly padding?: string
  readonly model?: string
}

export interface Outcome {
  /** What `--json` prints. */
  readonly output: unknown
  readonly text: string
  readonly findings: readonly Finding[]
  readonly status: 0 | 1
}

export type Command = (paths: readonly string[], values: Arguments) => Outcome | Promise<Outcome>

/** @throws UsageError where there are more or fewer paths than names. */
export const wanted = (paths: readonly string[], ...names: string[]): string[] => {
  if (paths.length !== names.length) throw new UsageError(`Expected ${names.join(' ')}.`, true)
  return [...paths]
}
