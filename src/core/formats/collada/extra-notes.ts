/** Notes beside a mesh or a material, as one text in `extra`. Source: COLLADA 1.4.1, “extra”. */
import { objectOf, type Json } from '../notes/json.ts'
import { childOf, childrenOf, type XmlElement } from './xml.ts'

/** The profile that notes stand under. */
export const NOTES_PROFILE = 'notes'

export function notesOf(element: XmlElement): Json | null {
  for (const extra of childrenOf(element, 'extra'))
    for (const technique of childrenOf(extra, 'technique')) {
      if (technique.attributes.profile !== NOTES_PROFILE) continue
      try {
        return objectOf(JSON.parse(childOf(technique, 'notes')?.text ?? ''))
      } catch {
        // a note that was written over by hand is none
        return null
      }
    }
  return null
}
