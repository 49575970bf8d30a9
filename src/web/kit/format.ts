import type { Box } from '../../core/base/math/box.ts'

const grouped = new Intl.NumberFormat('en-US')
export const formatCount = (count: number): string => grouped.format(count)

/** "3 polygons", "1 polygon": what a step counts is named in the plural. */
export const formatChange = (count: number, of: string): string =>
  `${formatCount(count)} ${count === 1 ? of.replace(/s\b/g, '') : of}`

export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  const units = ['kB', 'MB', 'GB']
  let value = bytes
  let unit = -1
  while (value >= 1000 && unit < 2) {
    value /= 1000
    unit++
  }
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${units[unit]}`
}

/** A length in metres in the unit that people would say it in. */
export function formatMeters(meters: number): string {
  if (meters === 0) return '0'
  const size = Math.abs(meters)
  if (size >= 1) return `${round(meters)} m`
  if (size >= 0.01) return `${round(meters * 100)} cm`
  return `${round(meters * 1000)} mm`
}

const round = (value: number): string => {
  const size = Math.abs(value)
  return value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2)
}

const UNIT_NAMES: readonly (readonly [number, string])[] = [
  [1, 'm'],
  [0.1, 'dm'],
  [0.01, 'cm'],
  [0.001, 'mm'],
  [0.0254, 'in'],
]
/** What one unit of a file is called. */
export const unitName = (unitMeters: number | null): string =>
  UNIT_NAMES.find(([meters]) => meters === unitMeters)?.[1] ?? 'units'

/** Real-world size of a box in words, or plain units where the unit is unknown. */
export function formatSize(box: Box | null, unitMeters: number | null, upAxis = 'y'): string {
  if (!box) return '–'
  const sides = [0, 1, 2].map((axis) => box.max[axis]! - box.min[axis]!)
  const [wide, tall, deep] = upAxis.endsWith('z')
    ? [sides[0]!, sides[2]!, sides[1]!]
    : [sides[0]!, sides[1]!, sides[2]!]
  const say = (side: number): string => (unitMeters === null ? round(side) : formatMeters(side * unitMeters))
  return `${say(tall)} tall, ${say(wide)} wide, ${say(deep)} deep${unitMeters === null ? ' (unit unknown)' : ''}`
}

export const formatTime = (iso: string): string =>
  new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  }).format(new Date(iso))

/** Who did it, where people sign in. */
export const by = (name: string | null): string => (name ? ` by ${name}` : '')
