/** Face groups of an FBX geometry: numbered sets with their names. */
import { readLayer, faceValues } from './read-layer.ts'
import type { Polygons } from './read-polygons.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import { type FaceGroups } from '../../scene/mesh.ts'
import { propertiesOf, propertyOf } from './properties.ts'
import { childOf, type FbxRecord } from './tree.ts'

/**
 * Where the writer leaves the names of groups, since the format has numbers only: the JSON of [names, sets of
 * places among these]. Without braces, which some readers of the text form stumble over.
 */
export const GROUP_NAMES = 'faceGroupNames'

/** Numbered sets of faces, with names where the geometry has a list of them. */
export function readGroups(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
): FaceGroups | null {
  const record = childOf(geometry, 'LayerElementPolygonGroup')
  const layer = record && readLayer(record, 'PolygonGroup', '', messages)
  const values = layer && faceValues({ ...layer, indices: null }, polygons, -1)
  if (!values) return null
  const listed = propertyOf(propertiesOf(geometry, null), GROUP_NAMES)?.values[0]
  const named = typeof listed === 'string' ? parseGroupNames(listed) : null
  const names: string[] = named ? [...named.names] : []
  const sets: number[][] = named ? named.sets.map((set) => [...set]) : []
  const setOf = new Map<number, number>(sets.map((_set, at) => [at, at]))
  const faceSets = new Int32Array(values.length).fill(-1)
  // groups come in runs
  let last = -1
  let lastSet = -1
  for (let face = 0; face < faceSets.length; face++) {
    const value = values[face]!
    if (!(value >= 0)) continue
    if (value !== last) {
      let set = setOf.get(value)
      if (set === undefined) {
        set = sets.push([names.push(`group_${value}`) - 1]) - 1
        setOf.set(value, set)
      }
      last = value
      lastSet = set
    }
    faceSets[face] = lastSet
  }
  return { names, sets, faceSets }
}

/** Names of numbered sets as Kelbo writes them beside; null where the text is something else. */
export function parseGroupNames(text: string): { names: string[]; sets: number[][] } | null {
  try {
    const parsed = JSON.parse(text) as unknown
    const [names, sets] = Array.isArray(parsed) ? (parsed as unknown[]) : []
    const sound =
      Array.isArray(names) &&
      names.every((name) => typeof name === 'string') &&
      Array.isArray(sets) &&
      sets.every(
        (set) =>
          Array.isArray(set) &&
          set.every((name) => Number.isInteger(name) && names[name as number] !== undefined),
      )
    return sound ? { names: names as string[], sets: sets as number[][] } : null
  } catch {
    // a text of another program under the same name: groups keep their numbers
    return null
  }
}
