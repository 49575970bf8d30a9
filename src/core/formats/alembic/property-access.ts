/** Values of properties at a sample. */
import {
  metadataOf,
  type AbcCompound,
  type AbcObject,
  type AbcProperty,
  type AbcValues,
} from './archive-tree.ts'
import { numbersOf, textsOf, wholesOf } from './read-archive.ts'

export interface Sampling {
  readonly sample: number
  /** Told of each property with more than one sample. */
  readonly seen: (count: number) => void
}

const named = (properties: readonly AbcProperty[], name: string): AbcProperty | undefined =>
  properties.find((property) => property.name === name)

export const compoundIn = (
  { properties }: { readonly properties: readonly AbcProperty[] },
  name: string,
): AbcCompound | null => {
  const found = named(properties, name)
  return found?.kind === 'compound' ? found : null
}

export const valuesIn = (
  { properties }: { readonly properties: readonly AbcProperty[] },
  name: string,
): AbcValues | null => {
  const found = named(properties, name)
  return found && found.kind !== 'compound' ? found : null
}

/** The stored sample that stands for one of all. */
function storedAt({ samples, count, firstChanged, lastChanged }: AbcValues, wanted: number): number {
  const at = Math.min(Math.max(0, wanted), Math.max(0, count - 1))
  if (at < firstChanged) return 0
  if (firstChanged === 0 && lastChanged === 0) return 0
  const stored = at >= lastChanged ? lastChanged - firstChanged + 1 : at - firstChanged + 1
  return Math.min(stored, samples.length - 1)
}

function bytesAt(property: AbcValues | null, { sample, seen }: Sampling): Uint8Array | null {
  if (!property || property.samples.length === 0 || property.pod === 'string' || property.pod === 'wstring')
    return null
  if (property.samples.length > 1) seen(property.count)
  return property.samples[storedAt(property, sample)]?.bytes ?? null
}

/** Numbers at the sample; null where there are none, or it is text. */
export function numbersAt(property: AbcValues | null, sampling: Sampling): Float64Array | null {
  const bytes = bytesAt(property, sampling)
  return bytes && numbersOf(property!.pod, bytes)
}

export type Wholes = ReturnType<typeof wholesOf>

/** Counts or indices at the sample, not to be held on to; null where there are none, or it is text. */
export function wholesAt(property: AbcValues | null, sampling: Sampling): Wholes | null {
  const bytes = bytesAt(property, sampling)
  return bytes && wholesOf(property!.pod, bytes)
}

export function textAt(property: AbcValues | null, { sample }: Sampling): string | null {
  if (property?.pod !== 'string' || property.samples.length === 0) return null
  return textsOf(property.samples[storedAt(property, sample)]!.bytes)[0] ?? ''
}

export const schemaOf = ({ metadata }: AbcObject): string => metadataOf(metadata).get('schema') ?? ''

/** A parameter of a geometry: values, with their places where they are stored apart, and what they stand on. */
export interface GeomParam {
  readonly values: Float64Array
  readonly width: number
  readonly indices: Wholes | null
  /** `con`, `uni`, `var`, `vtx`, `fvr`. */
  readonly scope: string
  readonly interpretation: string
  readonly sourceName: string
}

export function geomParam(property: AbcProperty | undefined, sampling: Sampling): GeomParam | null {
  if (!property) return null
  const words = metadataOf(property.metadata)
  const held = property.kind === 'compound' ? valuesIn(property, '.vals') : property
  const values = numbersAt(held, sampling)
  if (!values || !held) return null
  return {
    values,
    width: held.extent,
    indices: property.kind === 'compound' ? wholesAt(valuesIn(property, '.indices'), sampling) : null,
    scope: words.get('geoScope') ?? 'con',
    interpretation: words.get('interpretation') ?? '',
    sourceName: words.get('sourceName') ?? '',
  }
}
