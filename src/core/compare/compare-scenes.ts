import { correspond } from './match/correspond.ts'
import type { Correspondence } from './match/correspondence.ts'
import { rejoinPoints } from './match/rejoin-points.ts'
import { matchParts, type PartMatch } from './match/match-parts.ts'
import { diagonalOf } from '../base/math/box.ts'
import {
  invertAffine,
  isIdentity,
  isMirroring,
  multiplyMatrices,
  transformNormals,
  transformPoints,
  type Matrix,
} from '../base/math/matrix.ts'
import { spaceMatrix } from '../scene/space.ts'
import { drawnBounds } from '../scene/mesh-bounds.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import { turnFaces } from '../mesh/orientation/turn-faces.ts'
import { worldMatrices } from '../scene/world.ts'
import { IDENTITY_MATRIX, type Scene, type SceneNode } from '../scene/scene.ts'
import { compareCreases, compareSmoothing } from './traits/compare-edges.ts'
import { compareColours, compareShapes } from './traits/compare-extras.ts'
import { compareGroups, compareMaterials, compareSurfaces } from './traits/compare-faces.ts'
import { compareNormals } from './traits/compare-normals.ts'
import { comparePoints } from './traits/compare-points.ts'
import { compareTopology } from './traits/compare-topology.ts'
import { compareUvs } from './traits/compare-uvs.ts'
import { compareSceneSettings } from './traits/compare-scene-settings.ts'
import { transformText } from './traits/fingerprint.ts'
import { compared, NOTHING, TRAITS, type Trait, type TraitComparison } from './traits/trait.ts'
import { findWholeChange, type WholeChange } from './whole-change.ts'

/** One row of a ledger: a part, and what became of each trait. */
export interface LedgerRow {
  readonly name: string
  readonly match: PartMatch
  readonly correspondenceKind: Correspondence['kind']
  readonly faceCount: number
  readonly cells: Readonly<Partial<Record<Trait, TraitComparison>>>
}

export interface Ledger {
  readonly rows: readonly LedgerRow[]
  /** Unit, axes, cameras, lights: compared once for the whole file. */
  readonly scene: TraitComparison
  /** A size or a turn that all parts came back with. */
  readonly whole: WholeChange | null
}

/** A pair of parts with everything that comparing and reconciling need to know. */
export interface MatchedPart {
  readonly match: PartMatch
  readonly master: Mesh
  /**
   * The returned mesh with its points and normals brought into the master part's own space, and its polygons over
   * joined points where they were split; its elements keep their numbers.
   */
  readonly returned: Mesh
  readonly correspondence: Correspondence
  /** The returned part's transform where it stood in the master's unit and axes. */
  readonly returnedLocal: Matrix
  /** The part stands where it stood, though the returned file says so by other transforms. */
  readonly placedOtherwise: boolean
}

/** Formats that have no transforms: their points are in the world, so a part's own space is found through the master. */
const WITHOUT_TRANSFORMS = new Set(['obj'])

/** Pairs all parts of two scenes and brings the returned ones into the master's spaces. */
export function matchScenes(
  master: Scene,
  returned: Scene,
  progress: (share: number) => void = () => {},
): { matched: MatchedPart[]; unmatched: PartMatch[] } {
  const matches = matchParts(master, returned)
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  const change = spaceMatrix(returned.space, master.space)
  const changeBack = invertAffine(change)!
  const matched: MatchedPart[] = []
  const unmatched: PartMatch[] = []
  matches.forEach((match, index) => {
    progress(index / matches.length)
    if (match.masterNode < 0 || match.returnedNode < 0) {
      unmatched.push(match)
      return
    }
    const masterMesh = master.meshes[master.nodes[match.masterNode]!.mesh]!
    const returnedNode = returned.nodes[match.returnedNode]!
    const returnedMesh = returned.meshes[returnedNode.mesh]!
    const inverse = invertAffine(masterWorlds[match.masterNode]!)
    const overWorld =
      inverse && multiplyMatrices(multiplyMatrices(inverse, change), returnedWorlds[match.returnedNode]!)
    const own = WITHOUT_TRANSFORMS.has(returned.format) ? null : change
    const { matrix, placedOtherwise } = chooseMatrix(masterMesh, returnedMesh, own, overWorld)
    // a mirrored space shows every face from behind
    const facing = isMirroring(matrix) ? turnFaces(returnedMesh) : returnedMesh
    const inPart = isIdentity(matrix)
      ? returnedMesh
      : {
          ...facing,
          points: transformPoints(returnedMesh.points, matrix),
          normals: facing.normals && {
            ...facing.normals,
            values: transformNormals(facing.normals.values, matrix),
          },
          shapes: facing.shapes.map((shape) => ({
            ...shape,
            offsets: transformPoints(shape.offsets, [...matrix.slice(0, 12), 0, 0, 0, 1]),
          })),
        }
    const correspondence = correspond(masterMesh, inPart)
    const { joinedPoints } = correspondence
    matched.push({
      match,
      master: masterMesh,
      returned: joinedPoints ? rejoinPoints(inPart, joinedPoints) : inPart,
      correspondence,
      returnedLocal: isIdentity(change)
        ? returnedNode.local
        : multiplyMatrices(multiplyMatrices(change, returnedNode.local), changeBack),
      placedOtherwise,
    })
  })
  return { matched, unmatched }
}

/** Boxes agree where no side differs by more than this share of the diagonal. */
const PLACE_TOLERANCE = 1e-4

function boxesAgree(a: Mesh, b: Mesh, matrix: Matrix): boolean {
  const boxA = drawnBounds(a, IDENTITY_MATRIX)
  const boxB = drawnBounds(b, matrix)
  if (!boxA || !boxB) return false
  const near = PLACE_TOLERANCE * diagonalOf(boxA)
  return boxA.min.every(
    (value, axis) =>
      Math.abs(value - boxB.min[axis]!) <= near && Math.abs(boxA.max[axis]! - boxB.max[axis]!) <= near,
  )
}

/**
 * From a returned part's own space to the master part's. Where both files have transforms only unit and axes
 * are brought together, so that a part that was moved has a changed transform and not changed points; unless
 * its points fit only together with its transform, since a file may hold a size on the one or the other.
 */
function chooseMatrix(
  master: Mesh,
  returned: Mesh,
  own: Matrix | null,
  overWorld: Matrix | null,
): { matrix: Matrix; placedOtherwise: boolean } {
  if (!own) return { matrix: overWorld ?? IDENTITY_MATRIX, placedOtherwise: false }
  const differ = overWorld?.some((value, at) => Math.abs(value - own[at]!) > 1e-9 * Math.abs(value) + 1e-12)
  if (!overWorld || !differ) return { matrix: own, placedOtherwise: false }
  const placedOtherwise = boxesAgree(master, returned, overWorld)
  return placedOtherwise && !boxesAgree(master, returned, own)
    ? { matrix: overWorld, placedOtherwise }
    : { matrix: own, placedOtherwise: false }
}

/** The ledger of `returned` against `master`: every trait of every part, and where it differs. */
export function compareScenes(
  master: Scene,
  returned: Scene,
  progress: (share: number) => void = () => {},
): Ledger {
  const { matched, unmatched } = matchScenes(master, returned, (share) => progress(share * 0.5))
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
    for (const trait of TRAITS)
      if (trait !== 'scene')
        cells[trait] = compared(lost ? 'lost' : 'gained', lost ? 'part-lost' : 'part-gained')
    rows.push({
      name: node.name,
      match,
      correspondenceKind: 'none',
      faceCount: faceCountOf(scene.meshes[node.mesh]!),
      cells,
    })
  }
  const whole = findWholeChange(wholePairs(master, returned, matched), {
    master: master.space,
    returned: returned.space,
  })
  const pairs = matched.map(({ match }) => [match.masterNode, match.returnedNode] as const)
  return { rows, scene: compareSceneSettings(master, returned, whole, pairs), whole }
}

export function comparePart(
  masterScene: Scene,
  returnedScene: Scene,
  { match, master, returned, correspondence, returnedLocal, placedOtherwise }: MatchedPart,
): Record<Exclude<Trait, 'scene'>, TraitComparison> {
  const from = masterScene.nodes[match.masterNode]!
  const to = returnedScene.nodes[match.returnedNode]!
  const sameName = from.name === to.name
  const bothPlain = isIdentity(from.local) && isIdentity(to.local) && from.parent < 0 && to.parent < 0
  const sameParent =
    from.parent < 0 === to.parent < 0 &&
    (from.parent < 0 || masterScene.nodes[from.parent]!.name === returnedScene.nodes[to.parent]!.name)
  return {
    topology: compareTopology(master, returned, correspondence),
    points: comparePoints(master, returned, correspondence, masterScene.space.unitMeters),
    uvs: compareUvs(master, returned, correspondence),
    smoothing: compareSmoothing(master, returned, correspondence),
    normals: compareNormals(master, returned, correspondence),
    creases: compareCreases(master, returned, correspondence),
    transforms: bothPlain
      ? NOTHING
      : WITHOUT_TRANSFORMS.has(returnedScene.format)
        ? compareBaked(correspondence, master, returned)
        : compareTransforms(from, to, returnedLocal, sameParent, placedOtherwise),
    names: sameName
      ? compared('same', 'same')
      : compared('changed', 'renamed', { parameters: { to: to.name } }),
    materials: compareMaterials(masterScene, master, returnedScene, returned, correspondence),
    surfaces: compareSurfaces(masterScene, master, returnedScene),
    groups: compareGroups(master, returned, correspondence),
    colours: compareColours(master, returned, correspondence),
    shapes: compareShapes(masterScene, master, returnedScene, returned, correspondence),
  }
}

/** A format without transforms has them in its points: nothing is lost as long as the parts stand where they stood. */
function compareBaked(correspondence: Correspondence, master: Mesh, returned: Mesh): TraitComparison {
  const stands = correspondence.kind !== 'none' && boxesAgree(master, returned, IDENTITY_MATRIX)
  return stands ? compared('changed', 'transforms-baked') : compared('lost', 'lost')
}

function compareTransforms(
  from: SceneNode,
  to: SceneNode,
  returnedLocal: Matrix,
  sameParent: boolean,
  placedOtherwise: boolean,
): TraitComparison {
  if (placedOtherwise) return compared('changed', 'placed-otherwise')
  const size = Math.max(1, ...from.local.map(Math.abs))
  let deviation = 0
  from.local.forEach((value, at) => (deviation = Math.max(deviation, Math.abs(value - returnedLocal[at]!))))
  if (!sameParent || !(deviation <= TRANSFORM_TOLERANCE * size)) return compared('changed', 'moved')
  // a plain matrix in one of the files says nothing of pivots
  if (from.transform && transformText(from.transform) !== transformText(to.transform))
    return compared('changed', 'pivots-changed')
  return deviation === 0
    ? compared('same', 'same')
    : compared('within', 'within', { deviation, parameters: { deviation } })
}

/** Largest difference of a matrix's entries, relative to its largest: what taking it apart and together costs. */
const TRANSFORM_TOLERANCE = 1e-9

/** Parts of both sides in the world of the master's scene. */
function wholePairs(master: Scene, returned: Scene, matched: readonly MatchedPart[]) {
  const change = spaceMatrix(returned.space, master.space)
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  return matched.map(({ match }) => ({
    master: {
      mesh: master.meshes[master.nodes[match.masterNode]!.mesh]!,
      world: masterWorlds[match.masterNode]!,
    },
    returned: {
      mesh: returned.meshes[returned.nodes[match.returnedNode]!.mesh]!,
      world: multiplyMatrices(change, returnedWorlds[match.returnedNode]!),
    },
  }))
}
