/** The ledger of what came back against the master. */
import { faceCountOf } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import type { Ledger, LedgerRow } from './ledger.ts'
import { matchScenes, type SceneMatching } from './match-scenes.ts'
import { PART_TRAITS, TRAIT_DESCRIPTORS, type Trait } from './traits/registry.ts'
import { compared, type MatchedPart, type PartComparison, type TraitComparison } from './traits/trait.ts'
import { findLayout } from './layout/find-layout.ts'
import { wayText } from './layout/layout-way.ts'
import { findWholeChange } from './whole/find-whole-change.ts'

/**
 * The ledger of `returned` against `master`: every trait of every part, and where it differs.
 *
 * @param matching of these two scenes, where it is known already.
 */
export function compareScenes(
  master: Scene,
  returned: Scene,
  progress: (share: number) => void = () => {},
  { matched, unmatched }: SceneMatching = matchScenes(master, returned, (share) => progress(share * 0.5)),
): Ledger {
  const rows: LedgerRow[] = matched.map((part, index) => {
    progress(0.5 + (0.5 * index) / matched.length)
    return {
      name: master.nodes[part.match.masterNode]!.name,
      match: part.match,
      correspondenceKind: part.correspondence.kind,
      faceCount: faceCountOf(part.master),
      cells: comparePart(master, returned, part),
    }
  })
  for (const match of unmatched) {
    const lost = match.masterNode >= 0
    const scene = lost ? master : returned
    const node = scene.nodes[lost ? match.masterNode : match.returnedNode]!
    const cells: Partial<Record<Trait, TraitComparison>> = {}
    for (const trait of PART_TRAITS)
      cells[trait] = compared(lost ? 'lost' : 'gained', lost ? 'part-lost' : 'part-gained')
    rows.push({
      name: node.name,
      match,
      correspondenceKind: 'none',
      faceCount: faceCountOf(scene.meshes[node.mesh]!),
      cells,
    })
  }
  const whole = findWholeChange(master, returned, matched)
  const pairs = matched.map(({ match }) => [match.masterNode, match.returnedNode] as const)
  const settings = TRAIT_DESCRIPTORS.scene
  if (settings.scope !== 'scene') throw new Error('the scene is compared as a whole')
  const layout = layoutOf(master, returned, rows)
  return { rows, scene: settings.compareScene(master, returned, whole, pairs), whole, layout }
}

/** Told of all of it where parts whose corners all bear it out make up most of those whose UVs changed. */
function layoutOf(master: Scene, returned: Scene, rows: readonly LedgerRow[]): Ledger['layout'] {
  const changed = rows.flatMap(({ cells: { uvs } }) => (uvs?.state === 'changed' || uvs?.state === 'guess' ? [uvs] : [])) // prettier-ignore
  const alike = changed.filter(({ note }) => note === 'uvs-as-whole')
  if (alike.length === 0) return null
  const way = findLayout(master, returned)?.find((one) => one !== null)
  if (!way) return null
  const text = wayText(way)
  const borne = alike.filter(({ parameters }) => parameters.how === text)
  return 2 * borne.length >= changed.length ? { text } : null
}

/** What was lost can be put back only where its polygons were found again: nothing more is promised. */
function restorable(
  cell: TraitComparison,
  { correspondence, master }: MatchedPart,
  ofThePart: boolean,
): TraitComparison {
  const [found, total] = [correspondence.matchedFaceCount, faceCountOf(master)]
  if (cell.state !== 'lost' || ofThePart || found === total) return cell
  return {
    ...cell,
    note: found === 0 ? 'lost-apart' : 'lost-partly',
    parameters: { ...cell.parameters, found, total },
  }
}

/** Every trait of one pair of parts. */
export function comparePart(
  masterScene: Scene,
  returnedScene: Scene,
  part: MatchedPart,
): Record<Exclude<Trait, 'scene'>, TraitComparison> {
  const parts: PartComparison = { ...part, masterScene, returnedScene }
  const cells: Partial<Record<Trait, TraitComparison>> = {}
  for (const trait of PART_TRAITS) {
    const descriptor = TRAIT_DESCRIPTORS[trait]
    if (descriptor.scope !== 'part') continue
    const cell = restorable(descriptor.compare(parts), part, descriptor.ofThePart)
    // of elements that may be others nothing is said for certain
    cells[trait] =
      part.correspondence.guess && !descriptor.ofThePart && cell.state === 'changed'
        ? { ...cell, state: 'guess' }
        : cell
  }
  return cells as Record<Exclude<Trait, 'scene'>, TraitComparison>
}
