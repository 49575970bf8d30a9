import { correspond } from '../match/correspond.ts'
import type { Correspondence } from '../match/correspondence.ts'
import { matchParts, type PartMatch } from '../match/match-parts.ts'
import {
  isIdentity,
  isMirroring,
  multiplyMatrices,
  transformNormals,
  transformPoints,
  type Matrix,
} from '../math/matrix.ts'
import { intoPartSpace } from '../scene/space.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import { turnFaces } from '../scene/turn-faces.ts'
import { worldMatrices } from '../scene/world.ts'
import type { Scene } from '../scene/scene.ts'
import { compareCreases, compareSmoothing } from './compare-edges.ts'
import { compareColours, compareShapes } from './compare-extras.ts'
import { compareGroups, compareMaterials, compareSurfaces } from './compare-faces.ts'
import { compareNormals } from './compare-normals.ts'
import { comparePoints } from './compare-points.ts'
import { compareTopology } from './compare-topology.ts'
import { compareUvs } from './compare-uvs.ts'
import { compared, NOTHING, TRAITS, type Trait, type TraitComparison } from './trait.ts'

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
}

/** A pair of parts with everything that comparing and reconciling need to know. */
export interface MatchedPart {
  readonly match: PartMatch
  readonly master: Mesh
  /** The returned mesh with its points and normals brought into the master part's own space. */
  readonly returned: Mesh
  readonly correspondence: Correspondence
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
  const matched: MatchedPart[] = []
  const unmatched: PartMatch[] = []
  matches.forEach((match, index) => {
    progress(index / matches.length)
    if (match.masterNode < 0 || match.returnedNode < 0) {
      unmatched.push(match)
      return
    }
    const masterMesh = master.meshes[master.nodes[match.masterNode]!.mesh]!
    const returnedMesh = returned.meshes[returned.nodes[match.returnedNode]!.mesh]!
    const toPart = intoPartSpace(returned.space, master.space, masterWorlds[match.masterNode]!)
    let matrix: Matrix | null = toPart
    if (toPart && !WITHOUT_TRANSFORMS.has(returned.format))
      // both sides have own spaces: only unit and axes are brought together
      matrix = intoPartSpace(returned.space, master.space, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])
    else if (toPart) matrix = multiplyMatrices(toPart, returnedWorlds[match.returnedNode]!)
    // a mirrored space shows every face from behind
    const facing = matrix && isMirroring(matrix) ? turnFaces(returnedMesh) : returnedMesh
    const inPart =
      !matrix || isIdentity(matrix)
        ? returnedMesh
        : {
            ...facing,
            points: transformPoints(returnedMesh.points, matrix),
            normals: facing.normals && {
              ...facing.normals,
              values: transformNormals(facing.normals.values, matrix),
            },
          }
    matched.push({
      match,
      master: masterMesh,
      returned: inPart,
      correspondence: correspond(masterMesh, inPart),
    })
  })
  return { matched, unmatched }
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
  return { rows, scene: compareSceneSettings(master, returned) }
}

export function comparePart(
  masterScene: Scene,
  returnedScene: Scene,
  { match, master, returned, correspondence }: MatchedPart,
): Record<Exclude<Trait, 'scene'>, TraitComparison> {
  const from = masterScene.nodes[match.masterNode]!
  const to = returnedScene.nodes[match.returnedNode]!
  const sameName = from.name === to.name
  const bothPlain = isIdentity(from.local) && isIdentity(to.local) && from.parent < 0 && to.parent < 0
  const sameTransform =
    from.local.every((value, index) => value === to.local[index]) &&
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
      : sameTransform
        ? compared('same', 'same')
        : WITHOUT_TRANSFORMS.has(returnedScene.format)
          ? compared('lost', 'lost')
          : compared('changed', 'moved'),
    names: sameName
      ? compared('same', 'same')
      : compared('changed', 'renamed', { parameters: { to: to.name } }),
    materials: compareMaterials(masterScene, master, returnedScene, returned, correspondence),
    surfaces: compareSurfaces(masterScene, master, returnedScene),
    groups: compareGroups(master, returned, correspondence),
    colours: compareColours(master, returned, correspondence),
    shapes: compareShapes(master, returned),
  }
}

function compareSceneSettings(master: Scene, returned: Scene): TraitComparison {
  const changes: string[] = []
  const a = master.space
  const b = returned.space
  if (a.unitMeters !== b.unitMeters && a.unitMeters !== null && b.unitMeters !== null) changes.push('unit')
  if (a.upAxis !== b.upAxis || a.frontAxis !== b.frontAxis) changes.push('axes')
  if (a.handedness !== b.handedness) changes.push('handedness')
  if (master.cameras.length !== returned.cameras.length) changes.push('cameras')
  if (master.lights.length !== returned.lights.length) changes.push('lights')
  if (JSON.stringify(master.properties) !== JSON.stringify(returned.properties))
    changes.push('custom properties')
  if (changes.length)
    return compared('changed', 'scene-changed', {
      changedCount: changes.length,
      parameters: { what: changes.join(', ') },
    })
  if (a.unitMeters !== null && b.unitMeters === null) return compared('incomparable', 'unit-unknown')
  return compared('same', 'same')
}
