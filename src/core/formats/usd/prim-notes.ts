/** What USD has no words for, as a text in a prim’s own data, under a plain name. */
import { objectOf, type Json } from '../notes/json.ts'
import { isDictionary, type UsdValue } from './layer.ts'
import { quote } from './write-text.ts'

/** The entry of `customData` that notes stand in. */
export const NOTES_ENTRY = 'notes'

export function notesIn({ metadata }: { readonly metadata: ReadonlyMap<string, UsdValue> }): Json | null {
  const data = metadata.get('customData')
  const text = isDictionary(data) ? data.get(NOTES_ENTRY)?.value : undefined
  if (typeof text !== 'string') return null
  try {
    return objectOf(JSON.parse(text))
  } catch {
    // a note that was written over by hand is none
    return null
  }
}

/** The entry that says that a mesh is shown by the prim above it, which has others beneath it. */
export const OF_PARENT = 'ofParent'

export function isOfParent({ metadata }: { readonly metadata: ReadonlyMap<string, UsdValue> }): boolean {
  const data = metadata.get('customData')
  return isDictionary(data) && data.get(OF_PARENT)?.value === true
}

/** The setting that holds notes beside other entries, as a line; none for none. */
export function dataSetting(notes: object, entries: readonly string[]): string[] {
  const all = [
    ...(Object.keys(notes).length ? [`string ${NOTES_ENTRY} = ${quote(JSON.stringify(notes))}`] : []),
    ...entries,
  ]
  return all.length ? [`customData = { ${all.join(' ')} }`] : []
}

export const notesSetting = (notes: object): string[] => dataSetting(notes, [])
