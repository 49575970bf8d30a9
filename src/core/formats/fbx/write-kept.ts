/** What was kept of the file that a scene came from, written as it came. */
import { counted } from '../../base/messages/render.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Scene } from '../../scene/scene.ts'
import { isRoot } from './objects.ts'
import type { GraphWriter } from './write-graph.ts'
import { int, keptToWrite, long, record, type WriteRecord } from './write-tree.ts'

/** Sections of which something is kept and that the writer makes by itself. */
const MERGED = new Set(['FBXHeaderExtension', 'Documents', 'References', 'Definitions'])

const sectionsOf = (scene: Scene) => (scene.kept?.format === 'fbx' ? scene.kept.sections : [])

/** A section of the scene's file as it came; null where nothing of it was kept. */
export function keptSection(scene: Scene, name: string): WriteRecord | null {
  const section = sectionsOf(scene).find((candidate) => candidate.name === name)
  return section ? keptToWrite(section) : null
}
/** What of a section was kept beside what the writer states itself. */
export const keptChildren = (scene: Scene, name: string): readonly WriteRecord[] =>
  keptSection(scene, name)?.children ?? []

/** Sections that the writer knows nothing of. */
export const keptSections = (scene: Scene): WriteRecord[] =>
  sectionsOf(scene)
    .filter(({ name }) => !MERGED.has(name))
    .map(keptToWrite)

/** What the writer leaves out where it is this, by kind of object, so that no template may say otherwise. */
const LEFT_OUT: Readonly<Record<string, ReadonlyMap<string, number | string>>> = {
  Model: new Map([
    ['RotationOrder', 0],
    ['RotationOffset', 0],
    ['RotationPivot', 0],
    ['ScalingOffset', 0],
    ['ScalingPivot', 0],
    ['PreRotation', 0],
    ['PostRotation', 0],
    ['GeometricTranslation', 0],
    ['GeometricRotation', 0],
    ['GeometricScaling', 1],
    ['Visibility', 1],
    ['Show', 1],
  ]),
  Texture: new Map<string, number | string>([
    ['UVSet', ''],
    ['WrapModeU', 0],
    ['WrapModeV', 0],
    ['Translation', 0],
    ['Scaling', 1],
  ]),
}

function saysTheSame(row: WriteRecord, leftOut: ReadonlyMap<string, number | string>): boolean {
  const [name, , , , ...values] = row.values
  const plain = leftOut.get(String(name))
  return (
    plain === undefined ||
    values.every((value) => {
      const bare = typeof value === 'object' && 'value' in value ? value.value : value
      return typeof plain === 'number' ? Number(bare) === plain : bare === plain
    })
  )
}

/** Templates by kind of object, as the scene's file had them. */
export function templatesOf(scene: Scene): ReadonlyMap<string, readonly WriteRecord[]> {
  return new Map(
    keptChildren(scene, 'Definitions').map(({ values, children }) => {
      const kind = String(values[0])
      const leftOut = LEFT_OUT[kind]
      if (!leftOut) return [kind, children]
      return [
        kind,
        children.map((template) =>
          record(
            template.name,
            template.values,
            template.children.map((table) =>
              record(
                table.name,
                table.values,
                table.children.filter((row) => saysTheSame(row, leftOut)),
                true,
              ),
            ),
          ),
        ),
      ]
    }),
  )
}

/** Parts named in one sentence. */
const MOST_NAMED = 4
/** Share of a matrix's size by which a node may stand elsewhere for it still to be where its keys are. */
const STANDS = 1e-6

/** Animated nodes that steps have placed otherwise than their keys will. */
function movedSince(scene: Scene): string[] {
  const { animated = [], since } = scene.kept ?? {}
  // where axes were turned the keys are named as a whole
  if (since?.turned) return []
  const bySource = new Map(scene.nodes.map((node) => [node.source, node]))
  return animated.flatMap(({ node: source, local }) => {
    const node = bySource.get(source)
    if (!node) return []
    const wanted = local.map((value, at) => (at >= 12 && at < 15 ? value * (since?.scale ?? 1) : value))
    const size = Math.max(1, ...wanted.map(Math.abs))
    return node.local.some((value, at) => Math.abs(value - wanted[at]!) > STANDS * size) ? [node.name] : []
  })
}

/** Objects of the file that it came from and that Kelbo has no use for, with their ties. */
export function writeKept(scene: Scene, graph: GraphWriter, messages: MessageCollector): void {
  const { kept } = scene
  if (kept?.format !== 'fbx') return
  for (const { id, record: own } of kept.objects) {
    const { name, values, children } = keptToWrite(own)
    // 6.x: name and type; 7.x: number, name and type
    const isOld = typeof values[0] === 'string'
    graph.addAsItCame(
      name,
      isOld ? values : values.slice(1),
      name === 'Pose' ? poseNodes(children, graph) : children,
      id,
    )
  }
  const moved = movedSince(scene)
  if (moved.length)
    messages.add('write.moved-animation', {
      count: moved.length,
      parts: `${moved
        .slice(0, MOST_NAMED)
        .map((name) => `“${name}”`)
        .join(', ')}${moved.length > MOST_NAMED ? ', …' : ''}`,
    })
  let missing = 0
  for (const { from, to, property, kind } of kept.links) {
    const child = graph.numberOf(from)
    const parent = isRoot(to) ? 0n : graph.numberOf(to)
    if (child === null || parent === null) missing++
    else graph.link(child, parent, property, kind)
  }
  if (missing)
    messages.add('write.not-carried', {
      format: 'FBX',
      what: `${counted(missing, 'tie')} to parts that are gone`,
    })
}

/** A pose names nodes by number: those that are gone go from it, and from its count. */
function poseNodes(children: readonly WriteRecord[], graph: GraphWriter): WriteRecord[] {
  const left = children.flatMap((child) => {
    if (child.name !== 'PoseNode') return [child]
    const node = child.children.find((entry) => entry.name === 'Node')
    const [value] = node?.values ?? []
    const source = typeof value === 'object' && 'value' in value ? String(value.value) : String(value)
    const number = graph.numberOf(source)
    if (number === null) return []
    return [
      record(
        child.name,
        child.values,
        child.children.map((entry) => (entry === node ? record('Node', [long(number)]) : entry)),
      ),
    ]
  })
  if (left.length === children.length) return left
  const nodes = left.filter((child) => child.name === 'PoseNode').length
  return left.map((child) => (child.name === 'NbPoseNodes' ? record(child.name, [int(nodes)]) : child))
}
