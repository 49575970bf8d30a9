/** Short ways to write the parameters of a model, and to read given values of them. */
import type { Slot } from '../scene/material.ts'
import type { Rgb } from './rgb.ts'
import type { SurfaceParameter, SurfaceValue, SurfaceValues } from './model.ts'

type More = Partial<Omit<SurfaceParameter, 'kind' | 'width' | 'name'>>

const base = { slot: null, range: null, unit: null, mapName: null } as const

/** A colour, linear; its map is a picture for the eye. */
export const color = (name: string, standard: Rgb, more: More = {}): SurfaceParameter => ({
  ...base,
  name,
  kind: 'color',
  width: 3,
  standard,
  range: [0, 1],
  mapIsColor: true,
  ...more,
})

/** A number from 0 to 1 where nothing else is said. */
export const number = (name: string, standard: number | null, more: More = {}): SurfaceParameter => ({
  ...base,
  name,
  kind: 'number',
  width: 1,
  standard,
  range: [0, 1],
  mapIsColor: false,
  ...more,
})

export const flag = (name: string, standard: boolean): SurfaceParameter => ({
  ...base,
  name,
  kind: 'boolean',
  width: 0,
  standard,
  mapIsColor: false,
})

export const choice = (name: string, standard: string, choices: readonly string[]): SurfaceParameter => ({
  ...base,
  name,
  kind: 'choice',
  width: 0,
  standard,
  choices,
  mapIsColor: false,
})

/** A map that has no value beside it. */
export const mapOnly = (slot: Slot, mapName: string, mapIsColor = false): SurfaceParameter => ({
  ...base,
  slot,
  name: null,
  kind: 'map',
  width: 0,
  standard: null,
  mapName,
  mapIsColor,
})

export interface ValueReader {
  readonly has: (name: string) => boolean
  /** A colour that is given as one number is grey. */
  readonly rgb: (name: string) => Rgb
  readonly num: (name: string) => number
  readonly on: (name: string) => boolean
  readonly word: (name: string) => string
}

/** Reads values of a model, each with its standard where it is left out or has another shape. */
export function readerOf(parameters: readonly SurfaceParameter[]): (values: SurfaceValues) => ValueReader {
  const standards = new Map(parameters.map(({ name, standard }) => [name, standard]))
  const standard = (name: string): SurfaceValue | null => standards.get(name) ?? null
  return (values) => ({
    has: (name) => values[name] !== undefined,
    rgb: (name) => {
      const value = values[name]
      if (isNumber(value)) return [value, value, value]
      const rgb = isRgb(value) ? value : standard(name)
      return isRgb(rgb) ? [rgb[0]!, rgb[1]!, rgb[2]!] : [0, 0, 0]
    },
    num: (name) => {
      const value = values[name]
      if (isNumber(value)) return value
      if (Array.isArray(value) && value.length === 1 && isNumber(value[0])) return value[0]
      if (typeof value === 'boolean') return value ? 1 : 0
      const own = standard(name)
      return isNumber(own) ? own : 0
    },
    on: (name) => {
      const value = values[name]
      if (typeof value === 'boolean') return value
      if (isNumber(value)) return value !== 0
      return standard(name) === true
    },
    word: (name) => {
      const value = values[name]
      return typeof value === 'string' ? value : String(standard(name) ?? '')
    },
  })
}

const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value)
const isRgb = (value: unknown): value is readonly number[] =>
  Array.isArray(value) && value.length >= 3 && value.every(isNumber)

/** Whether some number of a value lies beyond its parameter's range, by more than what rounding makes. */
export function isOutside({ range }: SurfaceParameter, value: SurfaceValue): boolean {
  if (!range) return false
  const numbers = isNumber(value) ? [value] : Array.isArray(value) ? (value as readonly number[]) : []
  return numbers.some((one) => one < range[0] - 1e-6 || (range[1] !== null && one > range[1] + 1e-6))
}
