/** Objects of an FBX and what ties them: a graph by the numbers (7.x) or names (6.x) that the file gives them. */
import { firstLetters } from '../../base/bytes/text.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { KeptContent } from '../../scene/kept.ts'
import { objectName, type FbxRecord, type FbxTree } from './tree.ts'

export interface FbxObject {
  readonly id: string
  readonly name: string
  readonly kind: string
  readonly record: FbxRecord
}

export interface Link {
  readonly id: string
  /** The property that it is tied to; null: to the object itself. */
  readonly property: string | null
}

export interface FbxGraph {
  readonly objects: ReadonlyMap<string, FbxObject>
  /** What hangs under an object, in file order. */
  readonly below: (id: string) => readonly Link[]
  readonly above: (id: string) => readonly Link[]
  /** All ties in file order. */
  readonly links: KeptContent['links']
}

/** Names of the root that nothing stands for. */
export const isRoot = (id: string): boolean =>
  id === '0' || id === 'Model::Scene' || id === 'Scene\0\x01Model'

const NOTHING: readonly Link[] = []

/**
 * Objects and connections of a file by their ids, those of 6.x by their names. @throws nothing; what makes no sense
 * becomes a message.
 */
export function readGraph(tree: FbxTree, messages: MessageCollector): FbxGraph {
  const objects = new Map<string, FbxObject>()
  for (const list of tree.records)
    if (list.name === 'Objects')
      for (const record of list.children) {
        const [first, second, third] = record.values
        // 6.x names its objects, 7.x numbers them
        const isOld = typeof first === 'string'
        const id = String(first ?? '')
        if (id === '') continue
        if (objects.has(id)) {
          messages.add('fbx.doubled-id', { id: id.slice(0, 80) }, null, record.place)
          continue
        }
        objects.set(id, {
          id,
          name: objectName(String((isOld ? first : second) ?? '')),
          kind: String((isOld ? second : third) ?? ''),
          record,
        })
      }
  const below = new Map<string, Link[]>()
  const above = new Map<string, Link[]>()
  const links: KeptContent['links'][number][] = []
  const put = (map: Map<string, Link[]>, key: string, link: Link): void => {
    const held = map.get(key)
    if (held) held.push(link)
    else map.set(key, [link])
  }
  for (const list of tree.records)
    if (list.name === 'Connections')
      for (const record of list.children) {
        if (record.name !== 'C' && record.name !== 'Connect') continue
        const [kind, child, parent, name] = record.values
        if (child === undefined || parent === undefined) continue
        const [from, to] = [String(child), String(parent)]
        const property = kind === 'OP' ? String(name ?? '') : null
        // a tie that begins at a property (PO, PP) is kept by its own words
        const isOther = kind !== 'OO' && kind !== 'OP'
        links.push({
          from,
          to,
          property: isOther && typeof name === 'string' ? name : property,
          ...(isOther ? { kind: String(kind) } : {}),
        })
        put(below, to, { id: from, property })
        put(above, from, { id: to, property })
      }
  return {
    objects,
    below: (id) => below.get(id) ?? NOTHING,
    above: (id) => above.get(id) ?? NOTHING,
    links,
  }
}

const isModel = (object: FbxObject | undefined): object is FbxObject => object?.record.name === 'Model'

/**
 * Models in the file's order, but for children that stand before their parent: it is put in front of them. Of
 * models that hang in a ring one is set free.
 */
export function orderModels(
  graph: FbxGraph,
  messages: MessageCollector,
): { model: FbxObject; parent: number }[] {
  const ordered: { model: FbxObject; parent: number }[] = []
  const placeOf = new Map<string, number>()
  const parentOf = (model: FbxObject): FbxObject | null => {
    const link = graph
      .above(model.id)
      .find(({ id, property }) => property === null && isModel(graph.objects.get(id)))
    return link ? graph.objects.get(link.id)! : null
  }
  const place = (model: FbxObject, parent: FbxObject | null): void => {
    placeOf.set(model.id, ordered.length)
    ordered.push({ model, parent: parent ? placeOf.get(parent.id)! : -1 })
  }
  for (const first of graph.objects.values()) {
    if (!isModel(first)) continue
    // upwards to what is placed already, to a root, or round a ring
    const chain = new Map<string, FbxObject>()
    let above: FbxObject | null = first
    for (; above && !placeOf.has(above.id) && !chain.has(above.id); above = parentOf(above))
      chain.set(above.id, above)
    if (above && chain.has(above.id)) {
      messages.add('fbx.ring', { name: firstLetters(above.name, 80) }, null, above.record.place)
      place(above, null)
    }
    for (const model of [...chain.values()].reverse())
      if (!placeOf.has(model.id)) place(model, parentOf(model))
  }
  return ordered
}
