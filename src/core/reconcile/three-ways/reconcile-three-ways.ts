import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, distinctFindings } from '../../base/messages/collector.ts'
import { isTaken } from '../../compare/ledger.ts'
import { matchScenes, restoreMatching, type SceneMatching } from '../../compare/match-scenes.ts'
import { correspond } from '../../compare/match/correspond.ts'
import type { PartMatch } from '../../compare/match/match-parts.ts'
import { comparePart } from '../../compare/compare-scenes.ts'
import { compareSceneSettings } from '../../compare/traits/scene/compare-scene-settings.ts'
import { PART_TRAITS, type Trait } from '../../compare/traits/registry.ts'
import type { MatchedPart } from '../../compare/traits/trait.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { partNodes } from '../../scene/world.ts'
import { reconcile, type ReconcileOptions } from '../reconcile.ts'
import { composeOver, turnAround } from './compose.ts'
import { ELEMENT_MERGES, type Side } from './merge-elements.ts'

/** What became of a trait of a part since it left: in the file that came back, and in the master meanwhile. */
export type ThreeWay = 'there' | 'here' | 'alike' | 'merged' | 'conflict'

export interface PartThreeWays {
  /** Id of the part's node; empty for the scene as a whole. */
  readonly id: string
  readonly name: string
  /** Traits that changed on either side. */
  readonly traits: Readonly<Partial<Record<Trait, ThreeWay>>>
}

export interface Conflict {
  readonly id: string
  readonly name: string
  readonly trait: Trait
  /** Elements that both sides changed, each its own way; null: the trait as a whole. */
  readonly elements: number | null
}

export interface ThreeWayOptions extends ReconcileOptions {
  /** Whose side stands where both changed it: by the id of the part's node ('' for the scene) and the trait. */
  readonly choices?: Readonly<Record<string, Readonly<Partial<Record<string, Side>>>>>
}

export interface ThreeWayResult {
  /** Null as long as a conflict is not chosen. */
  readonly scene: Scene | null
  readonly findings: readonly Finding[]
  /** How many parts took each trait from what came back. */
  readonly taken: Readonly<Partial<Record<Trait, number>>>
  readonly parts: readonly PartThreeWays[]
  /** Those that are still to be chosen. */
  readonly conflicts: readonly Conflict[]
}

/** Pairs by the ids that nodes keep from version to version. */
function pairsById(a: Scene, b: Scene): PartMatch[] {
  const there = new Map(partNodes(b).map((node) => [b.nodes[node]!.id, node]))
  const pairs = partNodes(a).map((masterNode): PartMatch => {
    const returnedNode = there.get(a.nodes[masterNode]!.id) ?? -1
    there.delete(a.nodes[masterNode]!.id)
    return { masterNode, returnedNode, by: returnedNode < 0 ? 'none' : 'path' }
  })
  return [
    ...pairs,
    ...[...there.values()].map((returnedNode): PartMatch => ({ masterNode: -1, returnedNode, by: 'none' })),
  ]
}

/** Whether what belongs to two versions of one scene as a whole differs; nodes without polygons are no parts, but the scene's own. */
function haveOtherSettings(a: Scene, b: Scene): boolean {
  const pairs = pairsById(a, b)
    .filter(({ masterNode, returnedNode }) => masterNode >= 0 && returnedNode >= 0)
    .map(({ masterNode, returnedNode }) => [masterNode, returnedNode] as const)
  return isTaken(compareSceneSettings(a, b, null, pairs))
}

/** Where what left had been cut into pieces of the master's polygons, these say which piece is of which. */
const overPieces = ({ matched, unmatched }: SceneMatching): SceneMatching => ({
  unmatched,
  matched: matched.map((part) => {
    if (part.correspondence.matchedFaceCount === faceCountOf(part.master)) return part
    const turned = turnAround(correspond(part.returned, part.master), part.master)
    return turned.matchedFaceCount > part.correspondence.matchedFaceCount
      ? { ...part, correspondence: turned }
      : part
  }),
})

/** Traits of each part that differ between two versions of one scene, by the part's id. */
function changedTraits(before: Scene, after: Scene, { matched }: SceneMatching): Map<string, Set<Trait>> {
  return new Map(
    matched.map((part) => {
      const cells = comparePart(before, after, part)
      const changed = new Set(PART_TRAITS.filter((trait) => isTaken(cells[trait as keyof typeof cells])))
      // pieces of which every one is known are other polygons all the same
      if (faceCountOf(part.master) !== faceCountOf(part.returned)) changed.add('topology')
      return [before.nodes[part.match.masterNode]!.id, changed]
    }),
  )
}

const byId = ({ matched }: SceneMatching, scene: Scene): Map<string, MatchedPart> =>
  new Map(matched.map((part) => [scene.nodes[part.match.masterNode]!.id, part]))

const sameNumbering = (a: Mesh, b: Mesh): boolean =>
  a.faceVertices.length === b.faceVertices.length &&
  a.points.length === b.points.length &&
  a.faceOffsets.every((value, at) => value === b.faceOffsets[at]) &&
  a.faceVertices.every((value, at) => value === b.faceVertices[at])

/**
 * What came back from a trip brought together with a master that has moved on since the trip left. What was changed on
 * one side only, or alike on both, comes together by itself; where points, UV islands or assignments of materials were
 * changed on both sides, but not the same ones, so do these; all else is a conflict that somebody has to choose.
 *
 * @param base the version that left. @param master the version that is the newest now.
 * @param matching of base and returned, where it is known.
 */
export function reconcileThreeWays(
  base: Scene,
  returned: Scene,
  master: Scene,
  options: ThreeWayOptions,
  progress: (share: number) => void = () => {},
  matching?: SceneMatching,
): ThreeWayResult {
  const messages = collectMessages(null)
  // what would have become of the version that left
  const first = reconcile(base, returned, options, (share) => progress(share * 0.4), matching)
  const there = first.scene
  const fromBase = pairsById(base, there)
  const thereMatching = matchScenes(base, there, () => {}, fromBase)
  const hereMatching = overPieces(matchScenes(base, master, () => {}, pairsById(base, master)))
  progress(0.55)
  const changedThere = changedTraits(base, there, thereMatching)
  const changedHere = changedTraits(base, master, hereMatching)
  const [thereParts, hereParts] = [byId(thereMatching, base), byId(hereMatching, base)]
  /** Which element there is which here goes by what both come from; of what is not from it, by what they are. */
  const relate = (pairs: readonly PartMatch[], came: Scene): SceneMatching => {
    const correspondences = pairs.map(({ masterNode, returnedNode }) => {
      const id = master.nodes[masterNode]?.id ?? ''
      const [toHere, toThere] = [hereParts.get(id), thereParts.get(id)]
      if (masterNode < 0 || returnedNode < 0 || !toHere || !toThere) return null
      const mesh = master.meshes[master.nodes[masterNode]!.mesh]!
      return composeOver(toHere.correspondence, mesh, toThere.correspondence)
    })
    // a pair of which it is not known is none that fits
    return (
      restoreMatching(master, came, { matches: pairs, correspondences }) ??
      matchScenes(master, came, () => {}, pairs)
    )
  }
  const between = byId(relate(pairsById(master, there), there), master)
  progress(0.7)
  const choose = (id: string, trait: Trait): Side | null => options.choices?.[id]?.[trait] ?? null

  const meshes = [...there.meshes]
  const nodes = [...there.nodes]
  let materials = there.materials
  const parts: PartThreeWays[] = []
  const conflicts: Conflict[] = []
  const takeByPart: Record<string, Trait[]> = {}
  for (const node of partNodes(base)) {
    const { id, name } = base.nodes[node]!
    const thereNode = nodes.findIndex((candidate) => candidate.id === id)
    const own = hereParts.get(id)
    const cameChanged = changedThere.get(id) ?? new Set<Trait>()
    if (!own) {
      // taken out here meanwhile: it does not come back by the way
      if (cameChanged.size) messages.add('reconcile.gone-here', { name })
      continue
    }
    const isChanged = changedHere.get(id) ?? new Set<Trait>()
    const traits: Partial<Record<Trait, ThreeWay>> = {}
    const take: Trait[] = []
    const both = between.get(id)
    const differs = both && comparePart(master, there, both)
    for (const trait of PART_TRAITS) {
      const [came, is] = [cameChanged.has(trait), isChanged.has(trait)]
      if (!came && !is) continue
      if (!came) traits[trait] = 'here'
      else if (!is) {
        traits[trait] = 'there'
        take.push(trait)
      } else if (differs && !isTaken(differs[trait as keyof typeof differs])) traits[trait] = 'alike'
      else {
        const choice = choose(id, trait)
        const merge = ELEMENT_MERGES[trait]
        const three = {
          base: base.meshes[base.nodes[node]!.mesh]!,
          there: meshes[nodes[thereNode]!.mesh]!,
          here: master.meshes[master.nodes[own.match.returnedNode]!.mesh]!,
          materials: { base: base.materials, there: materials, here: master.materials },
        }
        const alike = sameNumbering(three.base, three.there) && sameNumbering(three.base, three.here)
        const merged = merge && alike ? merge(three, choice ?? 'there') : null
        if (merged && (merged.conflicts === 0 || choice)) {
          traits[trait] = 'merged'
          take.push(trait)
          // another node may show the same mesh
          nodes[thereNode] = { ...nodes[thereNode]!, mesh: meshes.push(merged.mesh) - 1 }
          materials = merged.materials ?? materials
        } else {
          traits[trait] = 'conflict'
          if (!choice) conflicts.push({ id, name, trait, elements: merged?.conflicts ?? null })
          else if (choice === 'there') take.push(trait)
        }
      }
    }
    takeByPart[id] = take
    if (Object.keys(traits).length) parts.push({ id, name, traits })
  }

  let takesScene = options.take.includes('scene') && haveOtherSettings(base, there)
  const sceneHere = haveOtherSettings(base, master)
  if (takesScene && sceneHere && !haveOtherSettings(there, master)) {
    takesScene = false
    parts.push({ id: '', name: '', traits: { scene: 'alike' } })
  } else if (takesScene && sceneHere) {
    const choice = choose('', 'scene')
    if (!choice) conflicts.push({ id: '', name: '', trait: 'scene', elements: null })
    takesScene = choice === 'there'
    parts.push({ id: '', name: '', traits: { scene: 'conflict' } })
  } else if (takesScene || sceneHere)
    parts.push({ id: '', name: '', traits: { scene: takesScene ? 'there' : 'here' } })
  if (conflicts.length)
    return { scene: null, findings: [...first.findings, ...messages.list()], taken: {}, parts, conflicts }

  const merged: Scene = { ...there, nodes, meshes, materials }
  const known = new Set(base.nodes.map(({ id }) => id))
  const pairs = pairsById(master, merged).filter(
    ({ masterNode, returnedNode }) => masterNode >= 0 || !known.has(merged.nodes[returnedNode]!.id),
  )
  for (const node of partNodes(master)) takeByPart[master.nodes[node]!.id] ??= []
  const isNew = pairs.some(({ masterNode }) => masterNode < 0)
  const second = reconcile(
    master,
    merged,
    {
      take: [...(isNew ? (['topology'] as const) : []), ...(takesScene ? (['scene'] as const) : [])],
      takeByPart,
      // what came back stands where what left stood; that the master was moved since is its own
      standsAlike: true,
    },
    (share) => progress(0.75 + share * 0.25),
    relate(pairs, merged),
  )
  return {
    scene: second.scene,
    // what was carried on to the version that left and from there on to the master is one thing to say
    findings: distinctFindings([...first.findings, ...messages.list(), ...second.findings]),
    taken: second.taken,
    parts,
    conflicts: [],
  }
}
