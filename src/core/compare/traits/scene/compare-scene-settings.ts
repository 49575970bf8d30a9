import type { Scene, SceneCamera } from '../../../scene/scene.ts'
import { canonicalText } from '../canonical-text.ts'
import { compared, type TraitComparison } from '../trait.ts'
import { bareNodeChanges, bareNodePairs, bareNodesText } from './bare-nodes.ts'
import { wholeText } from '../../whole/whole-text.ts'
import type { WholeTold } from '../../whole/whole-change.ts'

/**
 * What belongs to a scene as a whole: size, unit, axes, cameras, lights, custom properties, nodes without polygons.
 *
 * `pairs` are node indices of the parts that were matched, master's then returned's. Numbers of cameras and
 * lights are compared only where both scenes have the same space: in another they are bound to differ.
 */
export function compareSceneSettings(
  master: Scene,
  returned: Scene,
  whole: WholeTold | null,
  pairs: readonly (readonly [number, number])[],
): TraitComparison {
  const respaced = spaceChanges(master, returned)
  const bare = bareNodeChanges(master, returned, pairs, !whole && !respaced.length)
  const others = [
    ...attributeChanges('camera', master, returned, !respaced.length),
    ...attributeChanges('light', master, returned, !respaced.length),
    ...propertyChanges(master, returned, pairs),
    ...(bare.moved ? [`the place of ${bareNodesText(bare.moved)}`] : []),
  ]
  if (whole) {
    const how = wholeText({ ...whole, factor: 1 })
    const also = others.length ? ` Also changed: ${others.join(', ')}.` : ''
    return whole.factor === 1
      ? compared('changed', 'placed-whole', { changedCount: 1, parameters: { how, also } })
      : compared('changed', 'size-changed', {
          changedCount: 1,
          parameters: { factor: whole.factor, how: how && `, ${how}`, also },
        })
  }
  const changes = [...respaced, ...others]
  if (changes.length)
    return compared('changed', others.length ? 'scene-changed' : 'scene-respaced', {
      changedCount: changes.length,
      parameters: { what: changes.join(', ') },
    })
  if (master.space.unitMeters !== null && returned.space.unitMeters === null)
    return compared('incomparable', 'unit-unknown')
  if (bare.gone)
    return compared('without', 'nodes-gone', {
      changedCount: bare.gone,
      parameters: { what: bareNodesText(bare.gone) },
    })
  return compared('same', 'same')
}

function spaceChanges({ space: a }: Scene, { space: b }: Scene): string[] {
  const changes: string[] = []
  if (a.unitMeters !== b.unitMeters && a.unitMeters !== null && b.unitMeters !== null) changes.push('unit')
  if (a.upAxis !== b.upAxis || a.frontAxis !== b.frontAxis) changes.push('axes')
  if (a.handedness !== b.handedness) changes.push('handedness')
  return changes
}

function attributeChanges(
  kind: 'camera' | 'light',
  master: Scene,
  returned: Scene,
  withNumbers: boolean,
): string[] {
  const [before, after] = [master[`${kind}s`], returned[`${kind}s`]]
  if (before.length !== after.length) return [`${kind}s (${before.length} → ${after.length})`]
  const texts = (items: readonly SceneCamera[], { nodes }: Scene): string[] =>
    items.map(({ name, node, properties }) =>
      canonicalText([name, nodes[node]?.name ?? null, withNumbers ? properties : null]),
    )
  const known = new Set(texts(before, master))
  const others = texts(after, returned).filter((text) => !known.has(text)).length
  return others ? [`settings of ${others} ${kind}${others > 1 ? 's' : ''}`] : []
}

function propertyChanges(
  master: Scene,
  returned: Scene,
  pairs: readonly (readonly [number, number])[],
): string[] {
  const differs = (a: Scene['properties'], b: Scene['properties']): boolean =>
    canonicalText(a) !== canonicalText(b)
  const countOf = (nodes: readonly (readonly [number, number])[]): number =>
    nodes.filter(([from, to]) => differs(master.nodes[from]!.properties, returned.nodes[to]!.properties))
      .length
  const parts = countOf(pairs)
  const bare = countOf(bareNodePairs(master, returned, pairs).map(([other, own]) => [own, other]))
  return [
    ...(differs(master.properties, returned.properties) ? ['custom properties'] : []),
    ...(parts ? [`custom properties of ${parts} part${parts > 1 ? 's' : ''}`] : []),
    ...(bare ? [`custom properties of ${bareNodesText(bare)}`] : []),
  ]
}
