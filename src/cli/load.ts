/** Files and arguments from the command line. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { complainOfDestination } from '../app/check-destination.ts'
import { readFiles } from '../app/read-files.ts'
import { asDestination, destinationFileSchema, schemaComplaint } from '../contract/destinations.ts'
import { OptionRefusal, parseOption } from '../core/base/options/check-options.ts'
import type { OptionDescriptor, OptionValues } from '../core/base/options/option.ts'
import { CHECK_SETTINGS_DEFAULTS, type CheckSettings } from '../core/checks/settings.ts'
import type { ReadOptions } from '../core/formats/descriptor.ts'
import { isMaterialDocument } from '../core/formats/package/document-materials.ts'
import { stemOf, type PackageFile } from '../core/formats/package/package-file.ts'
import { anyReadOptions, FORMATS, formatOf } from '../core/formats/registry.ts'
import { findParts } from '../core/scene/find-parts.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { saidNames } from '../core/steps/step.ts'
import { parseRecipe } from '../core/steps/run-steps.ts'
import type { Destination } from '../core/trips/destinations/destination.ts'
import { DESTINATIONS, destinationOf } from '../core/trips/destinations/registry.ts'
import { NODE_HOST } from '../host/node-host.ts'
import { UsageError } from './usage-error.ts'

const IMAGE = /\.(png|jpe?g|tga|tiff?|exr|hdr|bmp|webp)$/i
/** @param stem of the model: a document of materials is its own where it is called like it. */
const isBeside = (name: string, stem: string): boolean =>
  IMAGE.test(name) ||
  (isMaterialDocument(name) && stemOf(name) === stem) ||
  FORMATS.some((format) => format.besideEndings.some((ending) => name.toLowerCase().endsWith(ending)))

/** Files that are looked at beside a model. */
const MOST_BESIDE = 2000

/** Files in a model's folder (and one below) that it may name, in the manner of a dropped package. */
function filesBeside(folder: string, stem: string): string[] {
  const names: string[] = []
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.isFile() && isBeside(entry.name, stem)) names.push(entry.name)
    if (entry.isDirectory() && !entry.name.startsWith('.') && entry.name !== 'node_modules')
      try {
        for (const inner of readdirSync(join(folder, entry.name)))
          if (isBeside(inner, stem)) names.push(`${entry.name}/${inner}`)
      } catch {
        // a folder that may not be read holds nothing for us
      }
    if (names.length > MOST_BESIDE) break
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
    ...filesBeside(folder, stemOf(path))
      .filter((name) => name !== model.name)
      .map((name) => ({
        name,
        isBeside: true,
        get bytes() {
          return readFileSync(join(folder, name))
        },
      })),
  ]
}

export const loadModel = (
  path: string,
  options: ReadOptions,
): ReturnType<typeof readFiles> & { readonly scene: Scene } =>
  readFiles({ files: packageOf(path), options }, undefined, NODE_HOST)

/** `KEY=VALUE` texts, held against what there is. @throws UsageError. */
export function parseOptions(texts: readonly string[], options: readonly OptionDescriptor[]): OptionValues {
  try {
    return Object.fromEntries(texts.map((text) => parseOption(options, text)))
  } catch (error) {
    if (error instanceof OptionRefusal) throw new UsageError(error.message)
    throw error
  }
}

export const parseReadOptions = (texts: readonly string[] = []): ReadOptions =>
  parseOptions(texts, anyReadOptions())

/**
 * Options for the file to be written: each format has options of its own, and any takes `selection`, words for parts by
 * commas.
 */
export function parseWriteOptions(
  texts: readonly string[] = [],
  fileName: string,
): { options: OptionValues; selection: string[] | null } {
  const format = formatOf(fileName) ?? FORMATS[0]!
  const own = texts.filter((text) => !text.startsWith('selection='))
  const [chosen] = texts.filter((text) => text.startsWith('selection='))
  const selection =
    chosen === undefined
      ? null
      : chosen
          .slice('selection='.length)
          .split(',')
          .map((word) => word.trim())
          .filter(Boolean)
  if (selection?.length === 0) throw new UsageError('“selection” names no part.')
  return { options: parseOptions(own, format.writeOptions), selection }
}

/**
 * Nodes that words mean: paths, names, patterns with `*`, or numbers of nodes. Null: all.
 * @throws UsageError where a word fits nothing.
 */
export function chosenNodes(scene: Scene, words: readonly string[] | null): number[] | null {
  if (!words) return null
  const chosen = new Set<number>()
  for (const word of words) {
    const { nodes } = findParts(scene, word)
    const number = /^\d+$/.test(word) ? Number(word) : -1
    if (nodes.length === 0 && !scene.nodes[number])
      throw new UsageError(
        `“${word}” fits no part; there are ${saidNames(scene.nodes.map(({ name }) => name))}.`,
      )
    for (const node of nodes.length ? nodes : [number]) chosen.add(node)
  }
  return [...chosen].sort((a, b) => a - b)
}

/** Limits of checks as options, by what their defaults are. */
const CHECK_OPTIONS: readonly OptionDescriptor[] = Object.entries(CHECK_SETTINGS_DEFAULTS).flatMap(
  ([id, value]): OptionDescriptor[] =>
    typeof value === 'boolean'
      ? [{ id, title: id, kind: 'boolean', default: value }]
      : typeof value === 'number' || (value === null && id !== 'upAxis')
        ? [{ id, title: id, kind: 'number', default: value, min: 0, max: 1e12 }]
        : [{ id, title: id, kind: 'text', default: null, most: 1000 }],
)

export function parseCheckSettings(texts: readonly string[] = []): Partial<CheckSettings> {
  const { uvSetNames, ...rest } = parseOptions(texts, CHECK_OPTIONS)
  return {
    ...rest,
    ...(typeof uvSetNames === 'string' ? { uvSetNames: uvSetNames.split(',').filter(Boolean) } : {}),
  } as Partial<CheckSettings>
}

export function readJson(path: string): unknown {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch {
    throw new UsageError(`There is no file “${path}”.`)
  }
  try {
    return JSON.parse(text) as unknown
  } catch (error) {
    throw new UsageError(`“${path}” is no JSON: ${(error as Error).message}.`)
  }
}

export const loadRecipe = (path: string): Recipe => parseRecipe(readJson(path))

/** One that ships, by its id, or a JSON file of one. @throws UsageError. */
export function destinationNamed(id: string | undefined): Destination | null {
  if (!id) return null
  const shipped = destinationOf(id)
  if (shipped) return shipped
  if (!/\.json$/i.test(id))
    throw new UsageError(
      `“${id}” is no destination: ${DESTINATIONS.map((entry) => entry.id).join(', ')}, or a JSON file of one.`,
    )
  const parsed = destinationFileSchema.safeParse(readJson(id))
  if (!parsed.success) throw new UsageError(`“${id}” is no destination: ${schemaComplaint(parsed.error)}.`)
  const destination = asDestination({
    ...parsed.data.destination,
    id: basename(id).replace(/\.json$/i, ''),
  })
  const complaint = complainOfDestination(destination)
  if (complaint) throw new UsageError(`“${id}” is no destination: ${complaint.replace(/\.$/, '')}.`)
  return destination
}
