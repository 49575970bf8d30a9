/** One part of the master with traits taken from what came back. */
import { TRAIT_DESCRIPTORS, TRAITS, type Trait } from '../compare/traits/registry.ts'
import { uvKey } from '../compare/match/evidence/uv-keys.ts'
import { pointToleranceOf } from '../compare/traits/points/compare-points.ts'
import type { CarryContext, MatchedPart } from '../compare/traits/trait.ts'
import { mergePoints } from '../mesh/rebuilding/edit-faces.ts'
import { type Mesh } from '../scene/mesh.ts'
import { carryOverSurface, type OverSurface, type SurfaceTrait } from './over-surface/over-surface.ts'
import { backwardMap, forwardMap } from './carry-maps.ts'

/** Carries the named traits that lie on elements of the mesh, one after the other. */
function carryTraits(
  target: Mesh,
  source: Mesh,
  carried: (trait: Trait) => boolean,
  context: CarryContext,
): Mesh {
  let mesh = target
  for (const trait of TRAITS) {
    const { carry } = TRAIT_DESCRIPTORS[trait]
    if (carry.kind === 'elements' && carried(trait)) mesh = carry.carry(mesh, source, context)
  }
  return mesh
}

export interface CarriedPart {
  readonly mesh: Mesh
  /** What was carried over the master's surface; null where counterparts said it all. */
  readonly overSurface: OverSurface | null
  /** Polygons across whose diagonals a seam of the returned UVs runs, which they can't hold. */
  readonly seamsAcross: number
}

/** Cut polygons whose pieces have other UVs at the same corner: the seam lies inside the polygon. */
function countSeamsAcross({ correspondence }: MatchedPart, { uvSets: [set], faceOffsets }: Mesh): number {
  const { pieceToMaster, pieceCorners, cornerToReturned } = correspondence
  if (!set || !pieceToMaster) return 0
  const across = new Set<number>()
  pieceToMaster.forEach((face, piece) => {
    for (let corner = faceOffsets[piece]!; corner < faceOffsets[piece + 1]!; corner++) {
      const own = pieceCorners![corner]!
      if (own < 0) continue
      const first = cornerToReturned[own]!
      if (first < 0) continue
      const [a, b] = [set.indices[first]!, set.indices[corner]!]
      if (a !== b && (a < 0 || b < 0 || uvKey(set, a) !== uvKey(set, b))) across.add(face)
    }
  })
  return across.size
}

/**
 * Without 'topology' the master's polygons take the traits. With it the returned polygons become the part's, and
 * traits that are not taken are carried over to them from the master wherever a corner, face or point has its
 * counterpart, and from the master's surface elsewhere.
 *
 * @param materialOf returned material to the result's; -1 stays -1.
 * @param jointOf returned node to the master's, for skins.
 * @param agrees traits in which what came back is as the master wherever there is a counterpart.
 */
export function carryPart(
  part: MatchedPart,
  take: ReadonlySet<Trait>,
  materialOf: (material: number) => number,
  jointOf: (node: number) => number,
  agrees: (trait: SurfaceTrait) => boolean = () => false,
): CarriedPart {
  const { master, returned: cameBack, correspondence } = part
  const returned: Mesh = cameBack.skin
    ? { ...cameBack, skin: { ...cameBack.skin, jointNodes: cameBack.skin.jointNodes.map(jointOf) } }
    : cameBack
  const pointTolerance = pointToleranceOf(master, part)
  if (!take.has('topology'))
    return {
      overSurface: null,
      seamsAcross: take.has('uvs') ? countSeamsAcross(part, returned) : 0,
      mesh: carryTraits(master, returned, (trait) => take.has(trait), {
        map: forwardMap(correspondence, returned),
        ontoMaster: true,
        materialOf,
        pointTolerance,
      }),
    }
  // the returned polygons are the new base; their materials are brought into the master's list first
  const base: Mesh = {
    ...returned,
    id: master.id,
    name: master.name,
    source: master.source,
    layers: null,
    faceMaterials:
      returned.faceMaterials?.map((material) => (material < 0 ? -1 : materialOf(material))) ?? null,
  }
  const map = backwardMap(correspondence, returned)
  const counterparts = carryTraits(base, master, (trait) => !take.has(trait), {
    map,
    ontoMaster: false,
    materialOf: (material) => material,
    pointTolerance,
  })
  const overSurface = carryOverSurface(master, counterparts, map, (trait) => !take.has(trait), agrees)
  const carried = overSurface?.mesh ?? counterparts
  return {
    overSurface,
    seamsAcross: 0,
    mesh: correspondence.joinedPoints ? mergePoints(carried, correspondence.joinedPoints) : carried,
  }
}
