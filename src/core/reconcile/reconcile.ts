import type { Finding } from '../base/messages/catalogue.ts'
import { KelboError } from '../base/messages/collector.ts'
import { mergePoints } from '../mesh/rebuilding/edit-faces.ts'
import type { Material } from '../scene/material.ts'
import type { Mesh } from '../scene/mesh.ts'
import { sameSpace } from '../scene/space.ts'
import { dropStaleLayers } from '../mesh/rebuilding/stale-layers.ts'
import type { Scene, SceneImage, SceneNode } from '../scene/scene.ts'
import { comparePart, matchScenes, type MatchedPart } from '../compare/compare-scenes.ts'
import { pointToleranceOf } from '../compare/traits/compare-points.ts'
import type { Trait, TraitComparison } from '../compare/traits/trait.ts'
import {
  backwardMap,
  carryColours,
  carryCreases,
  carryGroups,
  carryMaterials,
  carryNormals,
  carryPoints,
  carryShapes,
  carrySmoothing,
  carryUvs,
  forwardMap,
  type CarryMap,
} from './carry.ts'

export interface ReconcileOptions {
  /** Traits taken from the returned file for every part. */
  readonly take: readonly Trait[]
  /** Traits taken for single parts instead, by the part's node index in the master. */
  readonly takeByPart?: Readonly<Record<number, readonly Trait[]>>
}

export interface ReconcileResult {
  readonly scene: Scene
  readonly findings: readonly Finding[]
  /** How many parts took each trait. */
  readonly taken: Readonly<Partial<Record<Trait, number>>>
}

/**
 * The master with the chosen traits taken from what came back. What did not change keeps the master's exact
 * numbers, so that an unchanged return gives a scene with the same fingerprints. Parts that did not come
 * back stay; new parts are added where 'topology' is taken.
 *
 * With 'topology' the returned polygons become the part's polygons, and traits not taken are carried over to
 * them from the master wherever a corner, face or point has its counterpart.
 *
 * @throws KelboError `match.no-parts` where nothing fits.
 */
export function reconcile(
  master: Scene,
  returned: Scene,
  options: ReconcileOptions,
  progress: (share: number) => void = () => {},
): ReconcileResult {
  const { matched, unmatched } = matchScenes(master, returned, (share) => progress(share * 0.6))
  const fitting = matched.filter((part) => part.correspondence.kind !== 'none' || part.match.by !== 'none')
  if (matched.length > 0 && fitting.length === 0) throw new KelboError('match.no-parts')
  if (matched.length === 0 && master.meshes.length > 0) throw new KelboError('match.no-parts')

  const materials: Material[] = [...master.materials]
  const images: SceneImage[] = [...master.images]
  const materialIds = new Map(materials.map((material, index) => [material.name, index]))
  const materialOf = (index: number): number => {
    const material = returned.materials[index]!
    let id = materialIds.get(material.name)
    if (id === undefined) {
      id = materials.length
      materialIds.set(material.name, id)
      materials.push(material)
      addImages(material)
    }
    return id
  }
  const addImages = (material: Material): void => {
    for (const map of material.maps) {
      const image = returned.images.find((candidate) => candidate.file === map.file)
      if (image && !images.some((candidate) => candidate.file === map.file)) images.push(image)
    }
  }

  /** Joints are known by their names. */
  const jointOf = (node: number): number => {
    const name = returned.nodes[node]?.name
    return name === undefined ? -1 : master.nodes.findIndex((candidate) => candidate.name === name)
  }

  const meshes: Mesh[] = [...master.meshes]
  const nodes: SceneNode[] = [...master.nodes]
  const taken: Partial<Record<Trait, number>> = {}
  matched.forEach((part, index) => {
    progress(0.6 + (0.4 * index) / matched.length)
    const node = part.match.masterNode
    const wanted = options.takeByPart?.[node] ?? options.take
    const cells = comparePart(master, returned, part)
    const take = new Set(wanted.filter((trait) => trait !== 'scene' && isDifferent(cells[trait])))
    for (const trait of take) taken[trait] = (taken[trait] ?? 0) + 1
    if (take.size === 0) return
    const meshIndex = master.nodes[node]!.mesh
    meshes[meshIndex] = reconcilePart(part, take, materialOf, jointOf)
    if (take.has('names')) {
      const name = returned.nodes[part.match.returnedNode]!.name
      nodes[node] = { ...nodes[node]!, name }
      meshes[meshIndex] = { ...meshes[meshIndex], name }
    }
    // a size or place that the file has on its points is taken with them, never on top of them
    if (take.has('transforms') && !part.placedOtherwise) {
      const { transform } = returned.nodes[part.match.returnedNode]!
      const { returnedLocal: local } = part
      // pivots of another unit or other axes would stand elsewhere
      const keeps = sameSpace(master.space, returned.space)
      nodes[node] = { ...nodes[node]!, local, transform: keeps ? transform : null }
    }
    if (take.has('surfaces'))
      for (const material of returned.materials) {
        const id = materialIds.get(material.name)
        if (id === undefined || (material.properties.length === 0 && material.maps.length === 0)) continue
        materials[id] = material
        addImages(material)
      }
  })
  if (options.take.includes('topology'))
    for (const match of unmatched) {
      if (match.returnedNode < 0) continue
      const node = returned.nodes[match.returnedNode]!
      const mesh = returned.meshes[node.mesh]!
      nodes.push({ ...node, parent: -1, mesh: meshes.length })
      meshes.push({
        ...mesh,
        faceMaterials:
          mesh.faceMaterials?.map((material) => (material < 0 ? -1 : materialOf(material))) ?? null,
      })
      taken.topology = (taken.topology ?? 0) + 1
    }
  const space =
    options.take.includes('scene') && returned.space.unitMeters !== null ? returned.space : master.space
  const scene = dropStaleLayers(master, { ...master, space, nodes, meshes, materials, images })
  return { scene, findings: [], taken }
}

const isDifferent = (cell: TraitComparison): boolean => cell.state !== 'same' && cell.state !== 'within'

function reconcilePart(
  { master, returned: cameBack, correspondence }: MatchedPart,
  take: ReadonlySet<Trait>,
  materialOf: (material: number) => number,
  jointOf: (node: number) => number,
): Mesh {
  const returned: Mesh = cameBack.skin
    ? { ...cameBack, skin: { ...cameBack.skin, jointNodes: cameBack.skin.jointNodes.map(jointOf) } }
    : cameBack
  const tolerance = pointToleranceOf(master)
  const carryTraits = (
    start: Mesh,
    source: Mesh,
    map: CarryMap,
    carried: (trait: Trait) => boolean,
    sourceMaterial: (material: number) => number,
  ): Mesh => {
    let mesh = start
    if (carried('points')) mesh = carryPoints(mesh, source, map, tolerance)
    if (carried('uvs')) mesh = carryUvs(mesh, source, map, start === master)
    if (carried('normals')) mesh = carryNormals(mesh, source, map)
    if (carried('smoothing')) mesh = carrySmoothing(mesh, source, map)
    if (carried('creases')) mesh = carryCreases(mesh, source, map)
    if (carried('materials')) mesh = carryMaterials(mesh, source, map, sourceMaterial)
    if (carried('groups')) mesh = carryGroups(mesh, source, map)
    if (carried('colours')) mesh = carryColours(mesh, source, map, start === master)
    if (carried('shapes')) mesh = carryShapes(mesh, source, map)
    return mesh
  }
  if (!take.has('topology'))
    return carryTraits(
      master,
      returned,
      forwardMap(correspondence, returned),
      (trait) => take.has(trait),
      materialOf,
    )
  // the returned polygons are the new base; their materials are brought into the master's list first
  const base: Mesh = {
    ...returned,
    name: master.name,
    source: master.source,
    layers: null,
    faceMaterials:
      returned.faceMaterials?.map((material) => (material < 0 ? -1 : materialOf(material))) ?? null,
  }
  const map = backwardMap(correspondence, returned)
  const carried = carryTraits(
    base,
    master,
    map,
    (trait) => !take.has(trait),
    (material) => material,
  )
  return correspondence.joinedPoints ? mergePoints(carried, correspondence.joinedPoints) : carried
}
