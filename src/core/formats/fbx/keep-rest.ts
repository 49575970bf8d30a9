/** What of a file finds no place in a scene, kept so that it can be written as it came. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { KeptContent, KeptRecord } from '../../scene/kept.ts'
import type { SceneNode } from '../../scene/scene.ts'
import { isRoot, type FbxGraph } from './objects.ts'
import { keptOf, type PropertyTable } from './properties.ts'
import { childOf, childrenOf, keepRecord, type FbxRecord, type FbxTree } from './tree.ts'

/** Settings that a scene's space is made from; the rest is kept. */
const SPACE_SETTINGS = new Set([
  'UpAxis',
  'UpAxisSign',
  'FrontAxis',
  'FrontAxisSign',
  'CoordAxis',
  'CoordAxisSign',
  'UnitScaleFactor',
])

/** What objects that are kept are, in an artist's words; other kinds go by the file's own name. */
const KEPT_WORDS: Readonly<Record<string, string>> = {
  AnimationCurve: 'animation curves',
  AnimationCurveNode: 'animation curves',
  AnimationLayer: 'animation',
  AnimationStack: 'animation',
  Pose: 'poses',
  Constraint: 'constraints',
  Deformer: 'deformers that no mesh of it uses',
  Geometry: 'curves and surfaces that are no polygons',
  NodeAttribute: 'attributes of nodes',
  Texture: 'textures that no material uses',
  Video: 'images that no material uses',
  Implementation: 'shader descriptions',
  BindingTable: 'shader descriptions',
  DisplayLayer: 'display layers',
  CollectionExclusive: 'display layers',
  SelectionSet: 'selection sets',
  Cache: 'caches',
}

/** A kind of object in an artist's words. */
export const keptWords = (kind: string): string => KEPT_WORDS[kind] ?? kind

/** Sections of a file that the writer makes anew. */
const OWN_SECTIONS = new Set([
  'FBXHeaderExtension',
  'FileId',
  'CreationTime',
  'Creator',
  'GlobalSettings',
  'Documents',
  'References',
  'Definitions',
  'Objects',
  'Connections',
])

/** Records of the header that the writer states by itself. */
const OWN_HEADER = new Set([
  'FBXHeaderVersion',
  'FBXVersion',
  'EncryptionType',
  'CreationTimeStamp',
  'Creator',
])

/**
 * What stands in a section that the writer makes anew and can't know: templates, which say what objects have where
 * they don't say it themselves; who made the scene; how long a second of its animation is; which take is shown.
 */
function keepOfOwnSection(record: FbxRecord): KeptRecord | null {
  const only = (children: readonly FbxRecord[]): KeptRecord | null =>
    children.length ? keepRecord({ ...record, values: [], kinds: '', children }) : null
  if (record.name === 'Definitions')
    return only(
      childrenOf(record, 'ObjectType')
        .filter((type) => childOf(type, 'PropertyTemplate'))
        .map((type) => ({ ...type, children: childrenOf(type, 'PropertyTemplate') })),
    )
  if (record.name === 'FBXHeaderExtension')
    return only(record.children.filter((child) => !OWN_HEADER.has(child.name)))
  // those of 6.x have no documents and refer by names
  if (record.name === 'Documents')
    return childOf(record, 'Document')?.values.length ? keepRecord(record) : null
  return record.name === 'References' ? only(record.children) : null
}

/** Objects that found no place in the scene, and what ties them to it. */
export function keepRest(
  tree: FbxTree,
  graph: FbxGraph,
  used: ReadonlySet<string>,
  settings: PropertyTable,
  nodes: readonly SceneNode[],
  messages: MessageCollector,
): KeptContent | null {
  const objects: { id: string; record: KeptContent['objects'][number]['record'] }[] = []
  const counts = new Map<string, number>()
  for (const object of graph.objects.values()) {
    if (used.has(object.id) || object.record.name === 'GlobalSettings') continue
    objects.push({ id: object.id, record: keepRecord(object.record) })
    const words = keptWords(object.record.name)
    counts.set(words, (counts.get(words) ?? 0) + 1)
  }
  for (const [what, count] of counts) messages.add('fbx.kept', { what, objects: count })
  const kept = new Set(objects.map((object) => object.id))
  const sections = [
    ...tree.records.flatMap((record) => keepOfOwnSection(record) ?? []),
    ...tree.records.filter((record) => !OWN_SECTIONS.has(record.name)).map(keepRecord),
  ]
  const rest = keptOf(settings, SPACE_SETTINGS).kept ?? []
  if (objects.length + sections.length + rest.length === 0) return null
  const moved = new Set(
    graph.links
      .filter(({ from, property }) => kept.has(from) && /^Lcl /.test(property ?? ''))
      .map(({ to }) => to),
  )
  const animated = nodes.flatMap(({ source, local }) =>
    source !== undefined && moved.has(source) ? [{ node: source, local: [...local] }] : [],
  )
  return {
    format: 'fbx',
    objects,
    // a tie to the root says nothing that the writer doesn't say again, unless it holds a kept object
    links: graph.links.filter(
      ({ from, to }) =>
        (kept.has(from) && (kept.has(to) || used.has(to) || isRoot(to))) || (kept.has(to) && used.has(from)),
    ),
    sections,
    settings: rest,
    ...(animated.length ? { animated } : {}),
  }
}
