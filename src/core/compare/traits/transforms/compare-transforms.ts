import { isIdentity } from '../../../base/math/matrix.ts'
import { formatById } from '../../../formats/registry.ts'
import { IDENTITY_MATRIX } from '../../../scene/scene.ts'
import { boxesAgree } from '../../boxes-agree.ts'
import { TRANSFORM_TOLERANCE } from '../sound-deviation.ts'
import { compared, NOTHING, unchanged, type PartComparison, type TraitComparison } from '../trait.ts'
import { transformText } from './transform-text.ts'

/** Places of a matrix's entries: those that turn and scale (with the last row, which is that of no other), and where it puts the origin. */
const LINEAR = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 15]
const PLACE = [12, 13, 14]

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
  const deviations = [LINEAR, PLACE].map((entries) => {
    const size = Math.max(1, ...entries.map((at) => Math.abs(from.local[at]!)))
    const deviation = entries.reduce(
      (most, at) => Math.max(most, Math.abs(from.local[at]! - returnedLocal[at]!)),
      0,
    )
    return { deviation, isNear: deviation <= TRANSFORM_TOLERANCE * size }
  })
  if (!sameParent || !deviations.every(({ isNear }) => isNear)) return compared('changed', 'moved')
  const deviation = Math.max(...deviations.map((own) => own.deviation))
  // a plain matrix in one of the files says nothing of pivots
  if (from.transform && transformText(from.transform) !== transformText(to.transform))
    return compared('changed', 'pivots-changed')
  return isSeenAlike ? unchanged(deviation) : seen()
}
