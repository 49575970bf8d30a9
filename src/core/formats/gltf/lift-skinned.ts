/**
 * Nodes that show a mesh which joints move: their own place doesn't count, so they stand at the top and have none, and what
 * they hung under stays in their extras. Source: glTF 2.0, section 3.7.3.
 */
import { objectOf, wholeOf, type Json } from '../notes/json.ts'

/** Of a node at the top: the node under which it hung, and the one whose mesh it shows. */
const UNDER = 'skinnedUnder'
const PART_OF = 'skinnedPartOf'
/** It is hidden at the top for what it hung under, and not for itself. */
const SHOWN = 'skinnedShown'
/** Extras that Kelbo puts on nodes, which are no properties of theirs. */
export const SKINNED_EXTRAS: readonly string[] = [UNDER, PART_OF, SHOWN]

/** Whether a node was put at the top for its skin. */
export const isLifted = (node: Json | undefined): boolean => wholeOf(objectOf(node?.extras)?.[UNDER]) !== null

/** Whether a node is hidden by what it hung under alone. */
export const isShownItself = (node: Json): boolean =>
  node.skin !== undefined && objectOf(node.extras)?.[SHOWN] === true

/** Whether a node says where it stands. */
export const hasPlace = (node: object): boolean =>
  ['matrix', 'translation', 'rotation', 'scale'].some((word) => word in node)

const HIDDEN = { KHR_node_visibility: { visible: false } }

interface NodeWords {
  readonly mesh?: number
  readonly skin?: number
  readonly camera?: number
  readonly children?: readonly number[]
  readonly extensions?: object
  readonly extras?: unknown
  readonly [word: string]: unknown
}

/**
 * Nodes with a skin at the top, without a place.
 *
 * @param parents of each node, -1 for a root.
 * @param isHidden whether a node is, for itself or for what it hangs under.
 * @returns the nodes with their children, those that were added last, and the roots.
 */
export function liftSkinned(
  nodes: readonly NodeWords[],
  parents: readonly number[],
  isHidden: (node: number) => boolean,
): { readonly nodes: readonly object[]; readonly roots: readonly number[] } {
  const children = nodes.map((): number[] => [])
  const roots: number[] = []
  const parts: NodeWords[] = []
  const hasChildren = new Set(parents)
  const lifted = nodes.map((node, index): NodeWords => {
    const parent = parents[index]!
    const stays = node.skin === undefined || hasChildren.has(index) || node.camera !== undefined || !!(node.extensions as Json | undefined)?.KHR_lights_punctual // prettier-ignore
    if (stays && parent >= 0) children[parent]!.push(index)
    else roots.push(index)
    if (node.skin === undefined) return node
    const { mesh, skin, ...rest } = node
    if (stays) {
      const hidden = isHidden(index) ? { extensions: HIDDEN } : {}
      parts.push({ name: node.name, mesh: mesh!, skin, ...hidden, extras: { [PART_OF]: index } })
      return rest
    }
    const { matrix: _matrix, translation: _move, rotation: _turn, scale: _scale, ...bare } = node
    if (parent < 0) return bare
    const extras = { ...objectOf(node.extras), [UNDER]: parent }
    return isHidden(parent) && !(node.extensions as Json | undefined)?.KHR_node_visibility
      ? { ...bare, extensions: { ...node.extensions, ...HIDDEN }, extras: { ...extras, [SHOWN]: true } }
      : { ...bare, extras }
  })
  return {
    nodes: [
      ...lifted.map((node, index) =>
        children[index]!.length ? { ...node, children: children[index] } : node,
      ),
      ...parts,
    ],
    roots: [...roots, ...parts.map((_part, at) => nodes.length + at)],
  }
}

/**
 * Nodes that were lifted, where they were: a mesh on the node that it is of, and a node under the one that it hung under.
 *
 * @returns the nodes as they are to be read, numbers of those that are to be passed over, and for others the parent that they
 *   have beside what the file's lists of children say.
 */
export function lowerSkinned(nodes: readonly unknown[]): {
  readonly nodes: readonly unknown[]
  readonly gone: ReadonlySet<number>
  readonly under: ReadonlyMap<number, number>
} {
  const lowered = [...nodes]
  const gone = new Set<number>()
  const under = new Map<number, number>()
  nodes.forEach((one, index) => {
    const node = objectOf(one)
    const extras = objectOf(node?.extras)
    if (!node || !extras || node.skin === undefined || node.children !== undefined) return
    const of = wholeOf(extras[PART_OF])
    const whole = of === null ? null : objectOf(lowered[of])
    if (whole && whole.mesh === undefined && of !== index) {
      lowered[of!] = { ...whole, mesh: node.mesh, skin: node.skin }
      gone.add(index)
      return
    }
    const above = wholeOf(extras[UNDER])
    if (above !== null && above !== index && objectOf(nodes[above])) under.set(index, above)
  })
  return { nodes: lowered, gone, under }
}
