/** What a file holds that Kelbo has no use for: carried as it came, under the words of its format. */

/** A property of a file as it stood there, with the words its format has for it. */
export interface KeptProperty {
  readonly name: string
  readonly type: string
  readonly label: string
  readonly flags: string
  readonly values: readonly (string | number | boolean)[]
}

/** Types of properties that are pieces of a text format as they stood there: they mean nothing in another one. */
export const TEXT_PIECES: ReadonlySet<string> = new Set(['json', 'usda'])

/** A record of a file that is carried without being understood. */
export interface KeptRecord {
  readonly name: string
  /** The kind of each value, a letter each, as the format has them. */
  readonly kinds: string
  /** Whole numbers that a double can't hold, and numbers that are none, stand as text. */
  readonly values: readonly (string | number | boolean | Float64Array | Int32Array | Uint8Array)[]
  readonly children: readonly KeptRecord[]
  /** It has a list of its own that is empty: other readers ask for it. */
  readonly opens?: boolean
}

/** Objects of a file that Kelbo has no use for, with what ties them to the rest; written back unchanged. */
export interface KeptContent {
  readonly format: string
  readonly objects: readonly { readonly id: string; readonly record: KeptRecord }[]
  readonly links: readonly {
    readonly from: string
    readonly to: string
    readonly property: string | null
    /** What ties to what, where it is not an object to an object or to its property. */
    readonly kind?: string
  }[]
  /** Sections of the file beside its objects. */
  readonly sections: readonly KeptRecord[]
  readonly settings: readonly KeptProperty[]
  /** How the scene's numbers have been changed since they stood beside these; absent: not at all. */
  readonly since?: { readonly scale: number; readonly turned: boolean }
  /** Nodes that kept animation moves, by their source, with the matrix that each had beside its keys. */
  readonly animated?: readonly { readonly node: string; readonly local: readonly number[] }[]
}
