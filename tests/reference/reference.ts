/** Reads the reference data beside this file. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'

/** @param path within tests/reference; the README there says what each holds and where it is from. */
export const reference = <T>(path: string): T =>
  JSON.parse(readFileSync(join(import.meta.dirname, path), 'utf8')) as T

export const referenceBytes = (path: string): Uint8Array =>
  new Uint8Array(readFileSync(join(import.meta.dirname, path)))
