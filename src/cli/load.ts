import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { FBX_READ_DEFAULTS } from '../core/formats/fbx/options.ts'
import { OBJ_READ_CHOICES, OBJ_READ_DEFAULTS } from '../core/formats/obj/options.ts'
import { readPackage, type PackageResult } from '../core/formats/package/read-package.ts'
import { FORMATS, formatOf, type ReadOptions } from '../core/formats/registry.ts'
import { CHECK_SETTINGS_DEFAULTS, type CheckSettings } from '../core/checks/settings.ts'
import { NODE_CODEC } from '../host/node-codec.ts'
import { UsageError } from './usage.ts'

const BESIDE = /\.(mtl|png|jpe?g|tga|tiff?|exr|hdr|bmp|webp)$/i

/** Files in a model's folder (and one below) that it may name, in the manner of a dropped package. */
function filesBeside(folder: string): string[] {
  const names: string[] = []
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.isFile() && BESIDE.test(entry.name)) names.push(entry.name)
    if (entry.isDirectory() && !entry.name.startsWith('.') && entry.name !== 'node_modules')
      try {
        for (const inner of readdirSync(join(folder, entry.name)))
          if (BESIDE.test(inner)) names.push(`${entry.name}/${inner}`)
      } catch {
        // a folder that may not be read holds nothing for us
      }
    if (names.length > 2000) break
  }
  return names
}

/** Only names that the model's texts could mean are read from disk. */
function packageOf(path: string): PackageFile[] {
  if (!existsSync(path) || !statSync(path).isFile()) throw new UsageError(`There is no file “${path}”.`)
  const model: PackageFile = { name: basename(path), bytes: readFileSync(path) }
  if (!formatOf(path)) return [model]
  const folder = dirname(path)
  return [
    model,
    ...filesBeside(folder).map((name) => ({
      name,
      get bytes() {
        return readFileSync(join(folder, name))
      },
    })),
  ]
}

export const loadModel = (path: string, options: ReadOptions): PackageResult =>
  readPackage(packageOf(path), { ...options, codec: NODE_CODEC })

/** `KEY=VALUE` texts to options, typed as the defaults are. */
function parseOptions(
  texts: readonly string[],
  defaults: object,
  nullableNumbers: readonly string[],
  choices: Readonly<Record<string, readonly (string | number)[]>> = {},
): Record<string, unknown> {
  const options: Record<string, unknown> = {}
  for (const text of texts) {
    const [key, value] = [text.slice(0, text.indexOf('=')), text.slice(text.indexOf('=') + 1)]
    if (!text.includes('=') || !(key in defaults) || key === 'codec')
      throw new UsageError(`“${text}” is not an option.`)
    const initial = (defaults as Record<string, unknown>)[key]
    if (nullableNumbers.includes(key) || typeof initial === 'number') {
      const number = Number(value)
      if (value !== 'null' && !(number >= 0)) throw new UsageError(`“${key}” takes a number.`)
      options[key] = value === 'null' ? null : number
    } else if (typeof initial === 'boolean' || key === 'mirrored') {
      if (!/^(true|false|on|off|yes|no)$/.test(value)) throw new UsageError(`“${key}” is on or off.`)
      options[key] = /^(true|on|yes)$/.test(value)
    } else if (key === 'selection') options[key] = value.split(',').map(Number)
    else if (Array.isArray(initial)) options[key] = value.split(',').filter(Boolean)
    else options[key] = value
    const allowed = choices[key]
    if (allowed && !allowed.includes(options[key] as string | number))
      throw new UsageError(`“${key}” is one of ${allowed.join(', ')}.`)
  }
  return options
}

const { creaseScale, creaseExponent } = FBX_READ_DEFAULTS
/** What a file may be told to be read with, whatever its format. */
const READ_DEFAULTS = { ...OBJ_READ_DEFAULTS, creaseScale, creaseExponent }

export const parseReadOptions = (texts: readonly string[]): ReadOptions =>
  parseOptions(texts, READ_DEFAULTS, ['unitMeters'], OBJ_READ_CHOICES)

/** @param fileName of the file to be written: each format has options of its own. */
export const parseWriteOptions = (texts: readonly string[], fileName: string): Record<string, unknown> => {
  const format = formatOf(fileName) ?? FORMATS[0]!
  return parseOptions(texts, format.writeDefaults, ['unitMeters', 'digits'], format.writeChoices)
}

export const parseCheckSettings = (texts: readonly string[]): Partial<CheckSettings> =>
  parseOptions(texts, CHECK_SETTINGS_DEFAULTS, [
    'weldDistance',
    'triangleBudget',
    'heightMeters',
    'unitMeters',
  ])
