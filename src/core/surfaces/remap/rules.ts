/**
 * Rules of a remap: what an artist settled once and wants again, as a JSON file for the command line and the page.
 */
import { KelboError } from '../../base/messages/collector.ts'
import type { Slot } from '../../scene/material.ts'
import { fitsPattern } from '../../scene/name-pattern.ts'
import type { SurfaceModel, SurfaceValue } from '../model.ts'
import { OWN_MODEL, parseOwnModel, type OwnModelDocument } from '../own-model.ts'
import { SURFACE_MODELS, surfaceModelNamed } from '../registry.ts'
import { MAP_NAMING_STANDARD, type MapNaming } from './map-naming.ts'
import { ONE_MAP_DEFAULTS, ONE_MAP_LEAST, ONE_MAP_MOST, type OneMapOptions } from '../one-map/options.ts'

export interface MapRule {
  /** Name of the file, or its path. */
  readonly file: string
  readonly channel?: 'rgb' | 'r' | 'g' | 'b' | 'a'
  readonly inverted?: boolean
  /** Share of the map, 0 to 1 (a bump at 0.3). */
  readonly amount?: number
  /** Its pixels are multiplied by the value, also where the target's maps take the value's place. */
  readonly times?: boolean
}

export interface RemapRule {
  /** Names of materials, with `*`; absent: all. */
  readonly material?: string
  /** A parameter of the target, by its own name or by its slot. */
  readonly parameter: string
  readonly value?: SurfaceValue
  /** Null: no map. */
  readonly map?: MapRule | null
}

export interface RemapRules {
  readonly rules: readonly RemapRule[]
  /** Sets of maps by name, for materials that no likeness finds: name of a set to a material's. */
  readonly sets?: Readonly<Record<string, string>>
  /** New names of materials: patterns with `*` to names in which `*` stands for what it was. */
  readonly rename?: Readonly<Record<string, string>>
  /** The surface model that these rules are for, where it is one of the artist's own. */
  readonly ownModel?: OwnModelDocument
  /** Which way green points in maps of normals as they are written; absent: as the target's standard says. */
  readonly green?: 'up' | 'down'
  /** How maps are named as they are written; absent: as they came, made ones by material and parameter. */
  readonly naming?: MapNaming
  /** Several materials drawn into one; absent: each keeps its own maps. */
  readonly oneMap?: OneMapOptions
}

export const NO_RULES: RemapRules = { rules: [] }

export const appliesTo = (rule: RemapRule, material: string): boolean =>
  rule.material === undefined || fitsPattern(material, rule.material)

/** Rules from a file's JSON. @throws KelboError remap.bad-rules, with what is wrong where. */
export function parseRules(json: unknown): RemapRules {
  const refuse = (what: string): never => {
    throw new KelboError('remap.bad-rules', { what })
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return refuse('it is no object')
  const { rules = [], sets, rename, oneMap, green, ownModel, naming } = json as Record<string, unknown>
  if (!Array.isArray(rules)) return refuse('“rules” is no list')
  const texts = (value: unknown, name: string): Record<string, string> | undefined => {
    if (value === undefined) return undefined
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return refuse(`“${name}” is no object`)
    for (const one of Object.values(value))
      if (typeof one !== 'string') refuse(`“${name}” holds something that is no text`)
    return value as Record<string, string>
  }
  if (green !== undefined && green !== 'up' && green !== 'down') return refuse('“green” is up or down')
  return {
    ...(green === undefined ? {} : { green }),
    ...(ownModel === undefined || ownModel === null ? {} : { ownModel: soundModel(ownModel) }),
    rules: rules.map((rule: unknown, at) => parseRule(rule, `rule ${at + 1}`, refuse)),
    ...(texts(sets, 'sets') ? { sets: texts(sets, 'sets')! } : {}),
    ...(texts(rename, 'rename') ? { rename: texts(rename, 'rename')! } : {}),
    ...(naming === undefined || naming === null ? {} : { naming: parseNaming(naming, refuse) }),
    ...(oneMap === undefined || oneMap === null ? {} : { oneMap: parseOneMap(oneMap, refuse) }),
  }
}

function parseNaming(json: unknown, refuse: (what: string) => never): MapNaming {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return refuse('“naming” is no object')
  const { pattern = MAP_NAMING_STANDARD.pattern, folder = MAP_NAMING_STANDARD.folder } = json as Record<
    string,
    unknown
  >
  if (pattern !== null && (typeof pattern !== 'string' || !pattern))
    return refuse('“pattern” of “naming” is no text')
  if (typeof folder !== 'string') return refuse('“folder” of “naming” is no text')
  return { pattern, folder }
}

/** Options of one map for all; what is left out takes its standard. */
export function parseOneMap(json: unknown, refuse: (what: string) => never): OneMapOptions {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return refuse('“oneMap” is no object')
  const given: Readonly<Record<string, unknown>> = { ...ONE_MAP_DEFAULTS, ...json }
  for (const name of Object.keys(json))
    if (!(name in ONE_MAP_DEFAULTS))
      refuse(`“oneMap” has no “${name}”: ${Object.keys(ONE_MAP_DEFAULTS).join(', ')}`)
  const { set, size, padding, materials, name } = given
  const isWhole = (value: unknown, least: number, most: number): value is number =>
    Number.isInteger(value) && (value as number) >= least && (value as number) <= most
  if (set !== null && typeof set !== 'string') return refuse('“set” of “oneMap” is no text')
  if (name !== null && (typeof name !== 'string' || !name)) return refuse('“name” of “oneMap” is no text')
  if (typeof materials !== 'string') return refuse('“materials” of “oneMap” is no text')
  if (!isWhole(size, ONE_MAP_LEAST, ONE_MAP_MOST))
    return refuse(`“size” of “oneMap” is a whole number from ${ONE_MAP_LEAST} to ${ONE_MAP_MOST}`)
  if (!isWhole(padding, 0, 256)) return refuse('“padding” of “oneMap” is a whole number from 0 to 256')
  return { set, size, padding, materials, name } as OneMapOptions
}

/** @throws KelboError remap.bad-model. */
function soundModel(json: unknown): OwnModelDocument {
  parseOwnModel(json, OWN_MODEL)
  return json as OwnModelDocument
}

/** The model that rules are for: one that ships by its id, or their own. @throws KelboError remap.bad-model. */
export const targetOf = (surface: string, { ownModel }: RemapRules): SurfaceModel =>
  surface === OWN_MODEL ? parseOwnModel(ownModel ?? null, OWN_MODEL) : surfaceModelNamed(surface)

/** Whether there is such a model: one that ships, or a sound one of the rules' own. */
export function isSoundTarget(surface: string, { ownModel }: RemapRules): boolean {
  if (surface !== OWN_MODEL) return SURFACE_MODELS.some(({ id }) => id === surface)
  try {
    parseOwnModel(ownModel ?? null, OWN_MODEL)
    return true
  } catch (error) {
    if (!(error instanceof KelboError)) throw error
    return false
  }
}

function parseRule(rule: unknown, place: string, refuse: (what: string) => never): RemapRule {
  if (typeof rule !== 'object' || rule === null) return refuse(`${place} is no object`)
  const { material, parameter, value, map } = rule as Record<string, unknown>
  if (material !== undefined && typeof material !== 'string') refuse(`${place}: “material” is no text`)
  if (typeof parameter !== 'string' || !parameter) refuse(`${place} names no “parameter”`)
  const isValue =
    value === undefined ||
    ['number', 'boolean', 'string'].includes(typeof value) ||
    (Array.isArray(value) && value.every((one) => typeof one === 'number'))
  if (!isValue) refuse(`${place}: “value” is neither a number, a colour, a word nor true or false`)
  if (value === undefined && map === undefined) refuse(`${place} has neither “value” nor “map”`)
  return {
    ...(material === undefined ? {} : { material: material as string }),
    parameter: parameter as string,
    ...(value === undefined ? {} : { value: value as SurfaceValue }),
    ...(map === undefined ? {} : { map: map === null ? null : parseMap(map, place, refuse) }),
  }
}

function parseMap(map: unknown, place: string, refuse: (what: string) => never): MapRule {
  if (typeof map === 'string') return { file: map }
  if (typeof map !== 'object' || map === null) return refuse(`${place}: “map” is neither a file nor null`)
  const { file, channel, inverted, amount, times } = map as Record<string, unknown>
  if (typeof file !== 'string' || !file) refuse(`${place}: “map” names no “file”`)
  if (channel !== undefined && !['rgb', 'r', 'g', 'b', 'a'].includes(String(channel)))
    refuse(`${place}: “channel” is one of rgb, r, g, b, a`)
  if (amount !== undefined && !(typeof amount === 'number' && amount >= 0 && amount <= 1))
    refuse(`${place}: “amount” is a number from 0 to 1`)
  return {
    file: file as string,
    ...(channel === undefined ? {} : { channel: channel as 'r' }),
    ...(inverted === undefined ? {} : { inverted: inverted === true }),
    ...(amount === undefined ? {} : { amount: amount as number }),
    ...(times === undefined ? {} : { times: times === true }),
  }
}

/** The slot or parameter that a rule means. */
export const meansParameter = (rule: RemapRule, name: string | null, slot: Slot | null): boolean => {
  const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '')
  return [name, slot].some((word) => word !== null && plain(word) === plain(rule.parameter))
}
