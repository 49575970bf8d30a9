import { existsSync, readFileSync } from 'node:fs'
import { KelboError } from '../../core/base/messages/collector.ts'
import {
  convertSurface,
  valueText,
  type ConvertedSurface,
} from '../../core/surfaces/convert/convert-surface.ts'
import { readMaterialX } from '../../core/surfaces/documents/read-materialx.ts'
import type { SurfaceModel, SurfaceValue, SurfaceValues } from '../../core/surfaces/model.ts'
import { plainName } from '../../core/surfaces/recognise-surface.ts'
import { SURFACE_MODELS } from '../../core/surfaces/registry.ts'
import { wanted, type Command } from '../command.ts'
import { readJson } from '../load.ts'
import { surfaceNamed } from '../surfaces.ts'
import { UsageError } from '../usage-error.ts'

interface Loaded {
  readonly model: SurfaceModel
  readonly values: SurfaceValues
  /** Names that the model doesn't have. */
  readonly unknown: readonly string[]
  /** Other materials of the same document, which are left alone. */
  readonly others: readonly string[]
}

const refuse = (what: string): never => {
  throw new KelboError('remap.bad-surface', { what })
}

/** One material converted, with what became of each of its parameters. */
export const surfaceCommand: Command = (paths, values) => {
  const [path] = wanted(paths, 'FILE')
  const target = surfaceNamed(values.to, '--to')
  if (!existsSync(path!)) throw new UsageError(`There is no file “${path}”.`)
  const loaded = /\.(mtlx|xml)$/i.test(path!)
    ? fromDocument(readFileSync(path!, 'utf8'))
    : fromJson(readJson(path!))
  const { model, values: given, unknown, others } = loaded
  const converted = convertSurface(given, model, target)
  const report = [
    ...converted.report,
    ...unknown.map((parameter) => ({
      parameter,
      how: 'none' as const,
      becomes: [],
      comesBackAs: null,
      largestError: 0,
      given: true,
      losesNothing: false,
      note: `${model.title} has no parameter of this name`,
    })),
  ]
  const isWhole = report.every(({ given: said, losesNothing }) => !said || losesNothing)
  return {
    output: { model: target.id, parameters: converted.parameters, from: model.id, report, others },
    text: [
      surfaceText(converted, report),
      ...(others.length ? [`\nLeft alone: ${others.join(', ')}.`] : []),
    ].join('\n'),
    findings: [],
    status: isWhole ? 0 : 1,
  }
}

function fromJson(json: unknown): Loaded {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return refuse('it is no object')
  const { model: id, parameters } = json as Record<string, unknown>
  if (typeof id !== 'string') return refuse('it names no “model”')
  const model =
    SURFACE_MODELS.find((one) => one.id === id || one.materialModel === id) ??
    refuse(`“${id}” is no surface model: ${SURFACE_MODELS.map((one) => one.id).join(', ')}`)
  if (typeof parameters !== 'object' || parameters === null || Array.isArray(parameters))
    return refuse('it has no “parameters”')
  const names = new Map(
    model.parameters.flatMap(({ name, synonyms }) =>
      name === null ? [] : [name, ...(synonyms ?? [])].map((word) => [plainName(word), name] as const),
    ),
  )
  const values: Record<string, SurfaceValue> = {}
  const unknown: string[] = []
  for (const [name, value] of flattened(parameters)) {
    const own = names.get(plainName(name))
    const isValue =
      ['number', 'boolean', 'string'].includes(typeof value) ||
      (Array.isArray(value) && value.length > 0 && value.every((one) => typeof one === 'number'))
    if (!isValue || (typeof value === 'number' && !Number.isFinite(value)))
      return refuse(`“${name}” is neither a number, a colour, a word nor true or false`)
    if (own === undefined) unknown.push(name)
    else values[own] = value as SurfaceValue
    const parameter = model.parameters.find((one) => one.name === own)
    if (parameter && !fitsKind(value, parameter.kind, parameter.width))
      return refuse(`“${name}” is a ${parameter.kind === 'color' ? 'colour: three numbers' : parameter.kind}`)
  }
  // glTF's own colour has its opacity with it
  const rgba = values['base_color']
  if (Array.isArray(rgba) && rgba.length === 4 && model.id === 'gltf' && values['alpha'] === undefined) {
    values['alpha'] = rgba[3]!
    values['base_color'] = rgba.slice(0, 3)
  }
  return { model, values, unknown, others: [] }
}

/** Entries of an object and of those within it, as a glTF material nests its parameters; textures are left out. */
const flattened = (object: object, depth = 0): [string, unknown][] =>
  Object.entries(object).flatMap(([name, value]: [string, unknown]) =>
    typeof value === 'object' && value !== null && !Array.isArray(value) && depth < 3
      ? 'index' in value
        ? []
        : flattened(value, depth + 1)
      : [[name, value] as [string, unknown]],
  )

function fitsKind(value: unknown, kind: string, width: number): boolean {
  if (kind === 'color')
    return typeof value === 'number' || (Array.isArray(value) && (value.length === 3 || value.length === 4))
  if (kind === 'boolean') return typeof value === 'boolean' || typeof value === 'number'
  if (kind === 'choice') return typeof value === 'string'
  return width === 1 ? typeof value === 'number' || typeof value === 'boolean' : true
}

function fromDocument(text: string): Loaded {
  const [first, ...rest] = readMaterialX(text)
  if (!first) return refuse('it has no surface that is known')
  return {
    model: first.model,
    values: first.values,
    unknown: [],
    others: rest.map(({ name }) => name),
  }
}

function surfaceText({ parameters }: ConvertedSurface, report: ConvertedSurface['report']): string {
  const width = Math.max(...Object.keys(parameters).map((name) => name.length))
  const told = report.filter(({ given, how }) => given && how !== 'exact')
  return [
    ...Object.entries(parameters).map(([name, value]) => `${name.padEnd(width)}  ${valueText(value, 6)}`),
    ...(told.length ? ['', ...told.map(({ parameter, how, note }) => `${parameter}: ${how}. ${note}`)] : []),
  ].join('\n')
}
