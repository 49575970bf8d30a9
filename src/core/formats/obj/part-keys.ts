/** Which faces of an OBJ file make one part. */
import type { PartsBy } from './options.ts'
import { type ObjStatements } from './statements.ts'

/** Numbers for the parts of a file, by what makes a part; names follow the first thing met. */
export function createPartKeys(
  statements: ObjStatements,
  by: PartsBy,
  fallbackName: string,
): { names: string[]; partOf(object: number, groupSet: number, material: number): number } {
  const names: string[] = []
  const known = new Map<number, number>()
  const nameOf = (key: number): string => {
    if (key >= 0 && by === 'object') return statements.objectNames[key] || fallbackName
    if (key >= 0 && by === 'group')
      return statements.groupSets[key]!.map((group) => statements.groupNames[group]!).join(' ')
    if (key >= 0 && by === 'material') return statements.materialNames[key] || fallbackName
    return fallbackName
  }
  return {
    names,
    partOf(object, groupSet, material) {
      const key = by === 'object' ? object : by === 'group' ? groupSet : by === 'material' ? material : -1
      let part = known.get(key)
      if (part === undefined) {
        part = names.length
        known.set(key, part)
        names.push(nameOf(key))
      }
      return part
    },
  }
}

/** Items sorted by their part, keeping their order. */
export function bucket(
  partOf: Int32Array,
  partCount: number,
  left: Uint8Array | null,
): (part: number) => Int32Array {
  const starts = new Uint32Array(partCount + 1)
  for (let item = 0; item < partOf.length; item++) if (!left?.[item]) starts[partOf[item]! + 1]!++
  for (let part = 0; part < partCount; part++) starts[part + 1]! += starts[part]!
  const items = new Int32Array(starts[partCount]!)
  const next = starts.slice()
  for (let item = 0; item < partOf.length; item++) if (!left?.[item]) items[next[partOf[item]!]!++] = item
  return (part) => items.subarray(starts[part]!, starts[part + 1]!)
}
