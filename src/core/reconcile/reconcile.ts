import type { Finding } from '../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../base/messages/collector.ts'
import { listedWords } from '../base/messages/render.ts'
import { matchScenes, type SceneMatching } from '../compare/match-scenes.ts'
import { fingerprintTrait } from '../compare/fingerprint.ts'
import { isTaken } from '../compare/ledger.ts'
import { lengthText } from '../compare/traits/length-text.ts'
import { pairSurfaces } from '../compare/traits/surfaces/pair-surfaces.ts'
import { standsOtherwise } from '../compare/traits/scene/bare-nodes.ts'
import { findWholeChange } from '../compare/whole/find-whole-change.ts'
import { formatById } from '../formats/registry.ts'
import { TRAIT_DESCRIPTORS, traitLabel, type Trait } from '../compare/traits/registry.ts'
import type { MatchedPart } from '../compare/traits/trait.ts'
import { sharedSurface } from '../surfaces/wording/wording.ts'
import { createNodeBringer, pairBareNodes } from '../scene/bring-nodes.ts'
import { completeIds } from '../scene/ids.ts'
import { mergeMaterials, withTilesOf } from '../scene/merge-materials.ts'
import { pointCountOf, type Mesh } from '../scene/mesh.ts'
import type { Material } from '../scene/material.ts'
import type { Scene, SceneImage, SceneNode } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import { sameSpace } from '../scene/space.ts'
import { dropStaleLayers } from '../mesh/rebuilding/stale-layers.ts'
import { carryPart } from './carry-part.ts'
import type { OverSurface } from './over-surface/over-surface.ts'
import { settleMeshes } from './settle-meshes.ts'
import { inSpaceOf, takeAttributes, takeSpace } from './take-scene.ts'
import { takeSurfaces } from './take-surfaces.ts'

export interface ReconcileOptions {
  /** Traits taken from the returned file for every part. */
  readonly take: readonly Trait[]
  /** Traits taken for single parts instead, by the id of the part's node in the master. */
  readonly takeByPart?: Readonly<Record<string, readonly Trait[]>>
  /** All of it is known to stand in one place on both sides, though parts may have moved; absent: that is found out. */
  readonly standsAlike?: boolean
}

export interface ReconcileResult {
  readonly scene: Scene
  readonly findings: readonly Finding[]
  /** How many parts took each trait. */
  readonly taken: Readonly<Partial<Record<Trait, number>>>
}

/** Whether a trait of a pair of parts differs, so that there is something to take. */
function differs(trait: Trait, part: MatchedPart, masterScene: Scene, returnedScene: Scene): boolean {
  const descriptor = TRAIT_DESCRIPTORS[trait]
  return descriptor.scope === 'part' && isTaken(descriptor.compare({ ...part, masterScene, returnedScene }))
}

/** Whether what came back is as the master in a trait, wherever there is a counterpart. */
function agreesIn(trait: Trait, part: MatchedPart, masterScene: Scene, returnedScene: Scene): boolean {
  const descriptor = TRAIT_DESCRIPTORS[trait]
  if (descriptor.scope !== 'part') return false
  const { state, empty } = descriptor.compare({ ...part, masterScene, returnedScene })
  return !empty && (state === 'same' || state === 'within' || state === 'without')
}

function tellOverSurface(
  { traits, faces, doubtful, acrossSeams, farthest, creases, hardEdges }: OverSurface,
  master: Scene,
  node: number,
  messages: MessageCollector,
): void {
  const { name } = master.nodes[node]!
  const byFaces = traits.filter((trait) => trait !== 'creases')
  if (faces > 0 && byFaces.length)
    messages.add('reconcile.over-surface', {
      name,
      what: listedWords(byFaces.map(traitLabel)),
      count: faces,
      doubtful,
      seams: acrossSeams,
      farthest: lengthText(farthest, master.space.unitMeters),
    })
  for (const [what, led] of [
    ['creases', creases],
    ['hard edges', hardEdges],
  ] as const)
    if (led && led.found < led.total)
      messages.add('reconcile.edges-not-led', { name, what, count: led.total - led.found, total: led.total })
}

/** Points that moved come onto a part of which others are not known: these stay, and the surface between may be torn. */
function tellPointsThatStay(
  part: MatchedPart,
  masterScene: Scene,
  returnedScene: Scene,
  messages: MessageCollector,
): void {
  const { points } = TRAIT_DESCRIPTORS
  if (points.scope !== 'part') return
  const { note, parameters } = points.compare({ ...part, masterScene, returnedScene })
  if (note !== 'points-partly') return
  messages.add('reconcile.points-stay', {
    name: masterScene.nodes[part.match.masterNode]!.name,
    count: Number(parameters.without),
    total: pointCountOf(part.master),
  })
}

/**
 * Materials with what the master says of those that only came under another name: taking a name is no reason to lose how
 * the surface is described.
 *
 * @param all the master's, then those that came along.
 * @param renamedFrom by the returned material's number those of the master that it stands for.
 */
function describedAs(
  all: readonly Material[],
  master: Scene,
  returned: Scene,
  renamedFrom: ReadonlyMap<number, ReadonlySet<number>>,
): Material[] {
  const ownOf = new Map<string, Material>()
  for (const [other, owns] of renamedFrom) {
    const [own] = owns
    // of several that became one nobody knows which it is
    if (owns.size === 1) ownOf.set(returned.materials[other]!.name, master.materials[own!]!)
  }
  return all.map((material, at) => {
    const own = at < master.materials.length ? undefined : ownOf.get(material.name)
    return own ? { ...own, id: material.id, name: material.name } : material
  })
}

/** Images without those that came along for a material that is described otherwise now. */
function namedImages(
  images: readonly SceneImage[],
  own: readonly SceneImage[],
  materials: readonly Material[],
): SceneImage[] {
  const named = new Set(materials.flatMap(({ maps }) => maps.map(({ file }) => file)))
  const ownFiles = new Set(own.map(({ file }) => file))
  return images.filter(({ file }) => ownFiles.has(file) || named.has(file))
}

/**
 * The master with the chosen traits taken from what came back. What did not change keeps the master's exact
 * numbers, so that an unchanged return gives a scene with the same fingerprints. Parts that did not come
 * back stay; new parts are added where 'topology' is taken, in their place and under the parent they had.
 *
 * A mesh that several nodes show stays one mesh where all of them took the same; a node that took something else gets
 * one of its own. A material that parts share is parted likewise. Both are told among the findings.
 *
 * @param matching of these two scenes, where it is known from comparing them; else they are matched.
 * @throws KelboError `match.no-parts` where nothing fits.
 */
export function reconcile(
  master: Scene,
  returned: Scene,
  options: ReconcileOptions,
  progress: (share: number) => void = () => {},
  matching: SceneMatching = matchScenes(master, returned, (share) => progress(share * 0.6)),
): ReconcileResult {
  const { matched, unmatched } = matching
  const fitting = matched.filter((part) => part.correspondence.kind !== 'none' || part.match.by !== 'none')
  if (fitting.length === 0 && (matched.length > 0 || master.meshes.length > 0))
    throw new KelboError('match.no-parts')

  const messages = collectMessages(null)
  const taken: Partial<Record<Trait, number>> = {}
  const count = (trait: Trait): unknown => (taken[trait] = (taken[trait] ?? 0) + 1)
  const nodes: SceneNode[] = [...master.nodes]
  // brought into the master's space where something new comes along
  let here: Scene | null = null
  const returnedHere = (): Scene => (here ??= inSpaceOf(master, returned))
  const pairs = new Map(matched.map(({ match }) => [match.returnedNode, match.masterNode]))
  let allPairs: Map<number, number> | null = null
  const nodePairs = (): Map<number, number> => (allPairs ??= pairBareNodes(master, returned, pairs))
  let bringer: ((node: number) => number) | null = null
  const bring = (node: number): number =>
    (bringer ??= createNodeBringer(nodes, returnedHere(), nodePairs()))(node)

  // an assignment goes by the material's name alone; what the material is like is another trait
  const assigned = mergeMaterials(master, returned, () => true)
  const masterNodeOfName = new Map(master.nodes.map((node, index) => [node.name, index]))
  /** A joint that the master has not comes along: weights of none would be lost. */
  const jointOf = (node: number): number => {
    const joint = returned.nodes[node]
    return joint ? (masterNodeOfName.get(joint.name) ?? bring(node)) : -1
  }

  const results = new Map<number, Mesh>()
  /** Materials under another name: the master's that each of what came back stands for, by its number. */
  const renamedFrom = new Map<number, Set<number>>()
  const surfaceTakers: number[] = []
  const surfacePairs = new Map<number, number>()
  const takenBy = new Map<number, ReadonlySet<Trait>>()
  matched.forEach((part, index) => {
    progress(0.6 + (0.4 * index) / matched.length)
    const { masterNode: node, returnedNode } = part.match
    const wanted = options.takeByPart?.[master.nodes[node]!.id] ?? options.take
    const take = new Set(wanted.filter((trait) => differs(trait, part, master, returned)))
    if (take.size === 0) return
    takenBy.set(node, take)
    const onMesh = [...take].some((trait) => {
      const { kind } = TRAIT_DESCRIPTORS[trait].carry
      return kind === 'elements' || kind === 'base'
    })
    if (onMesh) {
      const { mesh, overSurface, seamsAcross } = carryPart(
        part,
        take,
        assigned.materialOf,
        jointOf,
        (trait) => agreesIn(trait, part, master, returned),
      )
      results.set(node, mesh)
      if (take.has('points') && !take.has('topology')) tellPointsThatStay(part, master, returned, messages)
      if (seamsAcross)
        messages.add('reconcile.seam-across', { name: master.nodes[node]!.name, count: seamsAcross })
      if (overSurface) tellOverSurface(overSurface, master, node, messages)
    }
    let paired: Map<number, number> | null = null
    const surfacesOf = (): Map<number, number> =>
      (paired ??= pairSurfaces(master, part.master, returned, part.returned, part.correspondence))
    if (take.has('materials'))
      for (const [own, other] of surfacesOf())
        if (other >= 0 && returned.materials[other]!.name !== master.materials[own]!.name)
          renamedFrom.set(other, (renamedFrom.get(other) ?? new Set<number>()).add(own))
    for (const trait of take) {
      const { carry } = TRAIT_DESCRIPTORS[trait]
      if (carry.kind !== 'part') continue
      if (carry.take === 'name') nodes[node] = { ...nodes[node]!, name: returned.nodes[returnedNode]!.name }
      else if (carry.take === 'surfaces') {
        surfaceTakers.push(node)
        for (const [own, other] of surfacesOf())
          if (other >= 0 && !surfacePairs.has(own)) surfacePairs.set(own, other)
      }
      // a size or place that the file has on its points is taken with them, never on top of them
      else if (!part.placedOtherwise) nodes[node] = withTransform(nodes[node]!, part, master, returned)
    }
  })

  const meshOf = (node: number): Mesh => results.get(node) ?? master.meshes[master.nodes[node]!.mesh]!
  const takers = new Map(surfaceTakers.map((node) => [node, meshOf(node)]))
  const surfaces = takeSurfaces(
    master,
    describedAs(assigned.materials(), master, returned, renamedFrom),
    returned,
    takers,
    // one of the returned file's own goes by its own name
    (material) =>
      surfacePairs.get(material) ??
      returned.materials.findIndex(({ name }) => name === assigned.materials()[material]!.name),
    master.nodes.flatMap(({ mesh }, node) => (mesh < 0 || takers.has(node) ? [] : [meshOf(node)])),
    messages,
  )
  for (const node of takers.keys()) {
    const mesh = meshOf(node)
    const surfaced = surfaces.withMaterials(node, mesh)
    if (surfaced !== mesh) results.set(node, surfaced)
  }
  const settled = settleMeshes(master.nodes, master.meshes, results, messages)
  const users = new Map<number, number>()
  for (const { mesh } of settled.nodes) users.set(mesh, (users.get(mesh) ?? 0) + 1)
  settled.nodes.forEach(({ mesh }, node) => {
    nodes[node] = { ...nodes[node]!, mesh }
    const { name } = nodes[node]!
    // a mesh of one part goes by its name
    if (mesh >= 0 && users.get(mesh) === 1 && name !== master.nodes[node]!.name)
      settled.meshes[mesh] = { ...settled.meshes[mesh]!, name }
  })

  const withImages = (images: readonly SceneImage[]): SceneImage[] => {
    const all = [...images]
    for (const file of surfaces.files) {
      const image = returned.images.find((candidate) => candidate.file === file)
      const own = all.findIndex((candidate) => candidate.file === file)
      if (image && own < 0) all.push(image)
      else if (image?.bytes && !all[own]!.bytes) all[own] = image
      else if (image) all[own] = withTilesOf(all[own]!, image)
    }
    return all
  }
  let scene: Scene = {
    ...master,
    nodes,
    meshes: settled.meshes,
    materials: surfaces.materials,
    images: namedImages(withImages(assigned.images()), master.images, surfaces.materials),
  }
  if (options.take.includes('topology')) {
    const meshes = [...scene.meshes]
    const added = unmatched.filter((match) => match.returnedNode >= 0)
    const merge = mergeMaterials(scene, returned, (a, b) => sharedSurface(a).text === sharedSurface(b).text)
    let told = 0
    for (const { returnedNode } of added) {
      const source = returnedHere()
      const mesh = source.meshes[source.nodes[returnedNode]!.mesh]!
      const place = bring(returnedNode)
      const { source: _source, ...rest } = mesh
      nodes[place] = { ...nodes[place]!, mesh: meshes.length }
      meshes.push({
        ...rest,
        id: '',
        skin: mesh.skin && { ...mesh.skin, jointNodes: mesh.skin.jointNodes.map(jointOf) },
        faceMaterials:
          mesh.faceMaterials?.map((material) => (material < 0 ? -1 : merge.materialOf(material))) ?? null,
      })
      for (const { from, to } of merge.renamed().slice(told))
        messages.add('reconcile.material-renamed', { name: from, to, part: nodes[place]!.name })
      told = merge.renamed().length
      count('topology')
    }
    if (added.length) scene = { ...scene, meshes, materials: merge.materials(), images: merge.images() }
  }
  if (options.take.includes('scene')) {
    const attributes = takeAttributes(
      master,
      nodes,
      returnedHere(),
      bring,
      matched.map(({ match }) => [match.masterNode, match.returnedNode]),
      sameSpace(master.space, returned.space) &&
        (options.standsAlike === true || !findWholeChange(master, returned, matched)),
    )
    const before = scene
    scene = takeSpace({ ...scene, ...attributes }, returned.space, messages)
    if (scene.space !== before.space || attributesDiffer(master, scene)) count('scene')
  }
  const result = completeIds(dropStaleLayers(master, scene))
  countTaken(master, result, takenBy, count)
  return { scene: result, findings: messages.list(), taken }
}

/** Counts a trait for every part on which it is another one than before: what was only asked for is not taken. */
function countTaken(
  before: Scene,
  after: Scene,
  takenBy: ReadonlyMap<number, ReadonlySet<Trait>>,
  count: (trait: Trait) => void,
): void {
  const worldsBefore = worldMatrices(before)
  const worldsAfter = worldMatrices(after)
  for (const [node, traits] of takenBy)
    for (const trait of traits)
      if (
        fingerprintTrait(trait, before, node, worldsBefore) !==
        fingerprintTrait(trait, after, node, worldsAfter)
      )
        count(trait)
}

/** What `takeAttributes` may have changed. */
const attributesDiffer = (a: Scene, b: Scene): boolean =>
  a.cameras !== b.cameras ||
  a.lights !== b.lights ||
  JSON.stringify(a.properties) !== JSON.stringify(b.properties) ||
  a.nodes.some((node, at) => {
    const after = b.nodes[at]!
    return (
      JSON.stringify(node.properties) !== JSON.stringify(after.properties) ||
      (node.mesh < 0 && standsOtherwise(node, after))
    )
  })

function withTransform(
  node: SceneNode,
  { returnedLocal, match }: MatchedPart,
  master: Scene,
  returned: Scene,
): SceneNode {
  const { transform, visible } = returned.nodes[match.returnedNode]!
  // pivots of another unit or other axes would stand elsewhere
  const keeps = sameSpace(master.space, returned.space)
  // a format without nodes has none that is hidden
  const isShown = formatById(returned.format)?.hasTransforms === false ? node.visible : visible
  return { ...node, local: returnedLocal, transform: keeps ? transform : null, visible: isShown }
}
