/** The scene's own settings taken from what came back: cameras, lights, custom properties, unit and axes. */
import { bareNodePairs, standsOtherwise } from '../compare/traits/scene/bare-nodes.ts'
import type { MessageCollector } from '../base/messages/collector.ts'
import { moveToSpace } from '../formats/arrange/arrange-scene.ts'
import type { Scene, SceneCamera, SceneNode, Space } from '../scene/scene.ts'
import { sameSpace } from '../scene/space.ts'

const respacing = (space: Space) =>
  ({
    unitMeters: space.unitMeters,
    upAxis: space.upAxis,
    frontAxis: space.frontAxis,
    mirrored: space.handedness === 'left',
    unitAs: 'points',
    axesAs: 'points',
    scale: 1,
  }) as const

/** `returned` with its numbers in the space of `master`; itself where it stands in it. */
export const inSpaceOf = (master: Scene, returned: Scene): Scene =>
  sameSpace(master.space, returned.space) ? returned : moveToSpace(returned, respacing(master.space))

/**
 * Cameras, lights and properties as they came back, each under the node it had, and nodes without polygons where they stand.
 *
 * @param nodes the result's nodes; grows where a camera stands on one that the master has not.
 * @param returned in the result's space.
 * @param withPlaces nodes without polygons too are taken where they stand: not where the whole stands otherwise.
 * @param bring gives the place of a returned node among the result's.
 */
export function takeAttributes(
  master: Scene,
  nodes: SceneNode[],
  returned: Scene,
  bring: (node: number) => number,
  pairs: readonly (readonly [master: number, returned: number])[],
  withPlaces: boolean,
): Pick<Scene, 'cameras' | 'lights' | 'properties'> {
  const placed = (items: readonly SceneCamera[]): SceneCamera[] =>
    items.map(({ source: _source, ...item }) => ({
      ...item,
      node: item.node < 0 ? -1 : bring(item.node),
    }))
  for (const [own, other] of pairs)
    nodes[own] = { ...nodes[own]!, properties: returned.nodes[other]!.properties }
  for (const [other, own] of bareNodePairs(master, returned, pairs)) {
    const { local, transform, visible, properties } = returned.nodes[other]!
    nodes[own] = { ...nodes[own]!, properties }
    if (withPlaces && standsOtherwise(master.nodes[own]!, returned.nodes[other]!))
      nodes[own] = { ...nodes[own]!, local, transform, visible }
  }
  const keep = <Item extends SceneCamera>(own: readonly Item[], other: readonly Item[]): boolean =>
    own.length === other.length &&
    own.every((item, at) => {
      const came = other[at]!
      const isThere = master.nodes[item.node]?.name === returned.nodes[came.node]?.name
      return (
        isThere &&
        item.name === came.name &&
        JSON.stringify(item.properties) === JSON.stringify(came.properties)
      )
    })
  return {
    // what did not change keeps what the master's file said of it
    cameras: keep(master.cameras, returned.cameras) ? master.cameras : placed(returned.cameras),
    lights: keep(master.lights, returned.lights) ? master.lights : placed(returned.lights),
    properties: returned.properties,
  }
}

/**
 * The result in the returned file's space, its numbers converted so that it stays as large and stands as it did. A
 * unit that the returned file doesn't state is no unit to convert to.
 *
 * @param messages gets `reconcile.respaced`.
 */
export function takeSpace(scene: Scene, returned: Space, messages: MessageCollector): Scene {
  const wanted: Space = { ...returned, unitMeters: returned.unitMeters ?? scene.space.unitMeters }
  const unit = scene.space.unitMeters !== wanted.unitMeters
  const axes =
    scene.space.upAxis !== wanted.upAxis ||
    scene.space.frontAxis !== wanted.frontAxis ||
    scene.space.handedness !== wanted.handedness
  if (!unit && !axes) return scene
  messages.add('reconcile.respaced', {
    what: [unit ? 'unit' : '', axes ? 'axes' : ''].filter(Boolean).join(' and '),
  })
  return { ...moveToSpace(scene, respacing(wanted)), space: wanted }
}
