/** Objects of an FBX and what ties them: a graph by the numbers (7.x) or names (6.x) that the file gives them. */
import type { MessageCollector } from '../../messages/collector.ts'
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
  readonly links: readonly { readonly from: string; readonly to: string; readonly property: string | null }[]
}

/** Names of the root that nothing stands for. */
export const isRoot = (id: string): boolean =>
  id === '0' || id === 'Model::Scene' || id === 'Scene\0\x01Model'

const NOTHING: readonly Link[] = []

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
  const links: { from: string; to: string; property: string | null }[] = []
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
        const property = String(kind).startsWith('O') && String(kind) === 'OP' ? String(name ?? '') : null
        links.push({ from, to, property })
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

/** Models in an order in which a parent stands before its children; what only hangs in a ring is set free. */
export function orderModels(
  graph: FbxGraph,
  messages: MessageCollector,
): { model: FbxObject; parent: number }[] {
  const ordered: { model: FbxObject; parent: number }[] = []
  const placed = new Set<string>()
  const models = [...graph.objects.values()].filter(isModel)
  const rank = new Map(models.map((model, at) => [model.id, at]))
  const parentOf = (model: FbxObject): string | null =>
    graph.above(model.id).find(({ id, property }) => property === null && isModel(graph.objects.get(id)))
      ?.id ?? null
  const children = new Map<string, FbxObject[]>()
  const roots: FbxObject[] = []
  for (const model of models) {
    const parent = parentOf(model)
    if (parent === null) {
      roots.push(model)
      continue
    }
    const held = children.get(parent)
    if (held) held.push(model)
    else children.set(parent, [model])
  }
  const place = (root: FbxObject): void => {
    const waiting: { model: FbxObject; parent: number }[] = [{ model: root, parent: -1 }]
    while (waiting.length) {
      const next = waiting.pop()!
      if (placed.has(next.model.id)) continue
      placed.add(next.model.id)
      const index = ordered.push(next) - 1
      const own = [...(children.get(next.model.id) ?? [])].sort((a, b) => rank.get(b.id)! - rank.get(a.id)!)
      for (const child of own) waiting.push({ model: child, parent: index })
    }
  }
  roots.forEach(place)
  for (const model of models)
    if (!placed.has(model.id)) {
      messages.add('fbx.ring', { name: model.name.slice(0, 80) }, null, model.record.place)
      place(model)
    }
  return ordered
}
