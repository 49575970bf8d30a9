/**
 * A layer: what one file says of prims, before anything is put together. Source: OpenUSD, “Scene Description Foundations”
 * (prim, attribute and relationship specs, list edits, variant sets) and the published schema of its value types.
 */

/**
 * A value: a number, a truth, a text (also tokens, assets and paths), several texts, or numbers laid out flat, whatever
 * tuples and lists they stood in; the type's name says how they group. Null: a value that is blocked (`None`).
 */
export type UsdValue = number | boolean | string | readonly string[] | Float64Array | UsdDictionary | null

/** Entries by name with the type that each states. */
export type UsdDictionary = ReadonlyMap<string, { readonly type: string; readonly value: UsdValue }>

export const isDictionary = (value: UsdValue | undefined): value is UsdDictionary => value instanceof Map

/** Values by time, in order. */
export interface UsdSamples {
  readonly times: readonly number[]
  readonly values: readonly UsdValue[]
}

export interface UsdProperty {
  readonly name: string
  readonly isRelationship: boolean
  /** Such as `point3f[]`; empty for a relationship. */
  readonly type: string
  readonly uniform: boolean
  readonly custom: boolean
  /** Absent: not said. */
  readonly value?: UsdValue
  readonly samples?: UsdSamples
  /** Paths that a relationship names, or that an attribute is connected to. */
  readonly targets: readonly string[]
  readonly metadata: ReadonlyMap<string, UsdValue>
}

/** Another prim that this one takes everything from that it doesn't say itself. */
export interface UsdArc {
  /** The file; empty: this layer. */
  readonly asset: string
  /** The prim there; empty: the file's default prim. */
  readonly path: string
}

export interface UsdPrim {
  readonly specifier: 'def' | 'over' | 'class'
  /** Empty: not said. */
  readonly type: string
  readonly name: string
  readonly metadata: ReadonlyMap<string, UsdValue>
  readonly references: readonly UsdArc[]
  readonly payloads: readonly UsdArc[]
  readonly inherits: readonly string[]
  readonly specializes: readonly string[]
  /** The chosen variant by its set. */
  readonly chosen: ReadonlyMap<string, string>
  readonly properties: readonly UsdProperty[]
  readonly children: readonly UsdPrim[]
  readonly variantSets: ReadonlyMap<string, ReadonlyMap<string, UsdPrim>>
}

export interface UsdLayer {
  readonly metadata: ReadonlyMap<string, UsdValue>
  readonly subLayers: readonly string[]
  readonly prims: readonly UsdPrim[]
}

/** Numbers that one value of a type has, such as 3 for `point3f[]`; 1 for what is no tuple. */
export function widthOf(type: string): number {
  const base = type.replace(/\[\]$/, '')
  const matrix = /^(?:matrix|frame)([234])d$/.exec(base)
  if (matrix) return Number(matrix[1]) ** 2
  if (/^quat[fdh]$/.test(base)) return 4
  const tuple = /^(?:half|float|double|int|point|normal|vector|color|texCoord)([234])[fdhi]?$/.exec(base)
  return Number(tuple?.[1] ?? 1)
}

const TEXT_TYPES: ReadonlySet<string> = new Set(['string', 'token', 'asset', 'pathExpression', 'opaque', 'group']) // prettier-ignore

export const isArrayType = (type: string): boolean => type.endsWith('[]')
/** Whether values of a type are texts, not numbers. */
export const isTextType = (type: string): boolean => TEXT_TYPES.has(type.replace(/\[\]$/, ''))

export const propertyOf = (
  prim: { readonly properties: readonly UsdProperty[] },
  name: string,
): UsdProperty | undefined => prim.properties.find((property) => property.name === name)
