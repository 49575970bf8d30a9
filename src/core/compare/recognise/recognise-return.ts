import { collectMessages } from '../../base/messages/collector.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { findLayout } from '../layout/find-layout.ts'
import { wayText } from '../layout/layout-way.ts'
import { layAlong, leftOf, undoLayout } from '../layout/undo-layout.ts'
import { recogniseScene, type RecognisedReturn, type RecogniseOptions } from './recognise-scene.ts'

export type { HandPair, RecognisedReturn } from './recognise-scene.ts'

/**
 * Recognises what tools did to a whole file on a trip, and which of its elements is which of the master's. Layouts that were
 * turned over, sized or moved as a whole tell it as well as those that lie as they lay.
 *
 * The findings tell what was done to it for that: `return.parts-merged`, `return.part-cut`, `return.parts-regrouped`,
 * `return.subdivided`, `return.panels`, `return.layout-undone`.
 *
 * @param options with `undoWhole` the layouts are brought back as well.
 */
export function recogniseReturn(
  master: Scene,
  came: Scene,
  options: RecogniseOptions = {},
  progress: (share: number) => void = () => {},
): RecognisedReturn {
  const ways = findLayout(master, came)
  if (!ways) return recogniseScene(master, came, options, progress)
  const laid = undoLayout(master, came, ways)
  const found = recogniseScene(master, laid, options, progress)
  if (options.undoWhole) {
    const text = wayText(ways.find((way) => way !== null)!)
    const messages = collectMessages(null)
    messages.add('return.layout-undone', { how: text })
    return { ...found, layoutUndone: { text }, findings: [...messages.list(), ...found.findings] }
  }
  // it is compared as it came: values that nothing else was done to are the very same
  const before = new Map(
    laid.meshes.flatMap(({ uvSets }, mesh) =>
      uvSets.map(({ values }, set) => [values, came.meshes[mesh]!.uvSets[set]!.values]),
    ),
  )
  const left = leftOf(came, laid, ways)
  const asItCame = new Map<Mesh, Mesh>()
  const back = (mesh: Mesh): Mesh => {
    const known = asItCame.get(mesh)
    if (known) return known
    const own = layAlong(mesh, ways, before, left)
    asItCame.set(mesh, own)
    return own
  }
  return {
    ...found,
    returned: { ...found.returned, meshes: found.returned.meshes.map(back) },
    matching: {
      ...found.matching,
      matched: found.matching.matched.map((part) => ({ ...part, returned: back(part.returned) })),
    },
  }
}
