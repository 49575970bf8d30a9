import { isIdentity } from '../../../base/math/matrix.ts'
import { formatById } from '../../../formats/registry.ts'
import { IDENTITY_MATRIX } from '../../../scene/scene.ts'
import { boxesAgree } from '../../boxes-agree.ts'
import { compared, NOTHING, unchanged, type PartComparison, type TraitComparison } from '../trait.ts'
import { transformText } from './transform-text.ts'

/** Largest difference of a matrix's entries, relative to its largest: what taking it apart and together costs. */
const TRANSFORM_TOLERANCE = 1e-9

/** Where a part stands, by which numbers, and under what. */
export function compareTransforms({
  masterScene,
  returnedScene,
  match,
  master,
  returned,
  correspondence,
  returnedLocal,
  placedOtherwise,
}: PartComparison): TraitComparison {
  const from = masterScene.nodes[match.masterNode]!
  const to = returnedScene.nodes[match.returnedNode]!
  const seen = (): TraitComparison =>
    compared('changed', 'visibility-changed', {
      changedCount: 1,
      parameters: { from: from.visible ? 'shown' : 'hidden', to: to.visible ? 'shown' : 'hidden' },
    })
  const isSeenAlike = from.visible === to.visible
  if (isIdentity(from.local) && isIdentity(to.local) && from.parent < 0 && to.parent < 0)
    return isSeenAlike ? NOTHING : seen()
  // a format without transforms has them in its points: nothing is lost as long as the parts stand where they stood
  // and so has a part that came back inside another
  if (formatById(returnedScene.format)?.hasTransforms === false || match.by === 'pieces') {
    const stands = correspondence.kind !== 'none' && boxesAgree(master, returned, IDENTITY_MATRIX)
    return stands ? compared('changed', 'transforms-baked') : compared('lost', 'lost')
  }
  if (placedOtherwise) return compared('changed', 'placed-otherwise')
  const sameParent =
    from.parent < 0 === to.parent < 0 &&
    (from.parent < 0 || masterScene.nodes[from.parent]!.name === returnedScene.nodes[to.parent]!.name)
  const size = Math.max(1, ...from.local.map(Math.abs))
  let deviation = 0
  from.local.forEach((value, at) => (deviation = Math.max(deviation, Math.abs(value - returnedLocal[at]!))))
  if (!sameParent || !(deviation <= TRANSFORM_TOLERANCE * size)) return compared('changed', 'moved')
  // a plain matrix in one of the files says nothing of pivots
  if (from.transform && transformText(from.transform) !== transformText(to.transform))
    return compared('changed', 'pivots-changed')
  return isSeenAlike ? unchanged(deviation) : seen()
}
