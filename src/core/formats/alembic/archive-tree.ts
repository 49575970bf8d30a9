/**
 * An archive as a tree of objects with properties, as bytes. Source: Alembic’s open-source layout (Ogawa, AbcCoreOgawa),
 * written down from memory of it; no other program has confirmed it.
 */

/** Kinds of numbers by their places in the layout’s list. */
export const PODS = ['bool', 'uint8', 'int8', 'uint16', 'int16', 'uint32', 'int32', 'uint64', 'int64', 'float16', 'float32', 'float64', 'string', 'wstring'] as const // prettier-ignore
export type Pod = (typeof PODS)[number]

/** Bytes of one number of a kind; 0 for texts. */
export const POD_BYTES: Readonly<Record<Pod, number>> = { bool: 1, uint8: 1, int8: 1, uint16: 2, int16: 2, uint32: 4, int32: 4, uint64: 8, int64: 8, float16: 2, float32: 4, float64: 8, string: 0, wstring: 0 } // prettier-ignore

export interface AbcSample {
  /** Without its key. */
  readonly bytes: Uint8Array
  /** Lengths of its dimensions where they are stated; empty: one, as long as its bytes. */
  readonly dimensions: readonly number[]
}

export interface AbcValues {
  readonly kind: 'scalar' | 'array'
  readonly name: string
  readonly metadata: string
  readonly pod: Pod
  /** Numbers of one element. */
  readonly extent: number
  /** Samples that are stored; those before `firstChanged` are the first, those after `lastChanged` the last. */
  readonly samples: readonly AbcSample[]
  readonly count: number
  readonly firstChanged: number
  readonly lastChanged: number
  readonly timeSampling: number
}

export interface AbcCompound {
  readonly kind: 'compound'
  readonly name: string
  readonly metadata: string
  readonly properties: readonly AbcProperty[]
}

export type AbcProperty = AbcValues | AbcCompound

export interface AbcObject {
  readonly name: string
  /** `key=value` parted by semicolons. */
  readonly metadata: string
  readonly properties: readonly AbcProperty[]
  readonly children: readonly AbcObject[]
}

export interface TimeSampling {
  readonly maxSample: number
  /** Seconds. */
  readonly perCycle: number
  readonly times: readonly number[]
}

export interface AbcArchive {
  readonly version: number
  readonly metadata: string
  readonly samplings: readonly TimeSampling[]
  readonly root: AbcObject
}

export function metadataOf(text: string): Map<string, string> {
  return new Map(
    text.split(';').flatMap((entry) => {
      const at = entry.indexOf('=')
      return at > 0 ? [[entry.slice(0, at), entry.slice(at + 1)] as const] : []
    }),
  )
}

/** What is wrong with a file; the reader makes a sentence of it. */
export class ArchiveFault extends Error {}
