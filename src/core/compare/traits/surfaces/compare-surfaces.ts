import type { Material } from '../../../scene/material.ts'
import { isBare, surfaceText } from '../../../scene/material-text.ts'
import { FILE_MODELS } from '../../../surfaces/registry.ts'
import { toFileModel } from '../../../surfaces/wording/translate.ts'
import { sharedSurface } from '../../../surfaces/wording/wording.ts'
import { compared, NOTHING, type PartComparison, type TraitComparison } from '../trait.ts'
import { pairSurfaces } from './pair-surfaces.ts'

/** Only its name is known, and no line that was not understood is kept of it. */
const saysNothing = (material: Material): boolean => isBare(material) && material.kept.length === 0

/** Parameters and maps of the materials that a part uses, each held against the one that stands for it. */
export function compareSurfaces({
  masterScene,
  master,
  returnedScene,
  returned,
  correspondence,
}: Pick<
  PartComparison,
  'masterScene' | 'master' | 'returnedScene' | 'returned' | 'correspondence'
>): TraitComparison {
  const pairs = [...pairSurfaces(masterScene, master, returnedScene, returned, correspondence)].map(
    ([own, other]): { material: Material; other: Material | null } => ({
      material: masterScene.materials[own]!,
      other: returnedScene.materials[other] ?? null,
    }),
  )
  /** Those of which either side says what they are like. */
  const described = pairs.filter(
    ({ material, other }) => !saysNothing(material) || (other !== null && !saysNothing(other)),
  )
  const total = described.length
  if (total === 0) return NOTHING
  if (described.every(({ material }) => saysNothing(material)))
    return compared('gained', 'gained', { changedCount: total, totalCount: total })
  const changed = described.filter(
    ({ material, other }) => !other || surfaceText(other) !== surfaceText(material),
  )
  if (changed.length === 0) return compared('same', 'same', { totalCount: total })
  // lines that nobody understood are no description to put in place of one
  if (
    described.every(
      ({ material, other }) => !other || saysNothing(other) || (isBare(other) && !isBare(material)),
    )
  )
    return compared('lost', 'lost', { changedCount: total, totalCount: total })
  const reworded = described.map(({ material, other }) => {
    if (!other || other.model === material.model) return null
    // a model that no file has words for is held against what a file says of it
    const file = FILE_MODELS.find(({ materialModel }) => materialModel === other.model)
    const said = (file && toFileModel(material, file, false)) ?? { material, lost: [] }
    const [a, b] = [sharedSurface(said.material), sharedSurface(other)]
    return a.text === b.text ? Math.max(0, a.own - b.own) + said.lost.length : null
  })
  if (reworded.every((own) => own !== null)) {
    const own = reworded.reduce((sum, more) => sum + more, 0)
    return compared(own ? 'changed' : 'within', own ? 'surfaces-partly' : 'surfaces-reworded', {
      changedCount: changed.length,
      totalCount: total,
      parameters: { own },
    })
  }
  return compared('changed', 'surfaces-changed', {
    changedCount: changed.length,
    totalCount: total,
    parameters: { changed: changed.length, total },
  })
}
