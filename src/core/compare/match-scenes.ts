/** Which part of one scene is which of another, brought into the same spaces, element by element. */
import {
  invertAffine,
  isIdentity,
  isMirroring,
  multiplyMatrices,
  transformNormals,
  transformPoints,
  type Matrix,
} from '../base/math/matrix.ts'
import { formatById } from '../formats/registry.ts'
import { shapeThrough } from '../mesh/rebuilding/transform-mesh.ts'
import { turnFaces } from '../mesh/orientation/turn-faces.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../scene/scene.ts'
import { spaceMatrix } from '../scene/space.ts'
import { worldMatrices } from '../scene/world.ts'
import { boxesAgree } from './boxes-agree.ts'
import { correspond, sameNumbering } from './match/correspond.ts'
import type { Correspondence } from './match/correspondence.ts'
import { matchParts, type PartMatch } from './match/match-parts.ts'
import { rejoinPoints } from './match/rejoin-points.ts'
import type { MatchedPart } from './traits/trait.ts'

export interface SceneMatching {
  readonly matched: readonly MatchedPart[]
  /** Parts that only one of the two scenes has. */
  readonly unmatched: readonly PartMatch[]
}

/** What of a matching takes long to work out; plain data, small where the numbering is the same. */
export interface KeptMatching {
  readonly matches: readonly PartMatch[]
  /** One a match; null for a part of one scene only. The same numbering is kept by its kind alone. */
  readonly correspondences: readonly (
    Correspondence | { readonly kind: 'index'; readonly guess?: boolean } | null
  )[]
}

/** The returned part's own space to the master part's, and the mesh as it stands there. */
interface PlacedPart {
  readonly master: Mesh
  readonly inPart: Mesh
  readonly countedFrom: MatchedPart['countedFrom']
  readonly returnedLocal: Matrix
  readonly placedOtherwise: boolean
}

function createPlacer(master: Scene, returned: Scene): (match: PartMatch) => PlacedPart {
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  const change = spaceMatrix(returned.space, master.space)
  const changeBack = invertAffine(change)!
  const own = formatById(returned.format)?.hasTransforms === false ? null : change
  return (match) => {
    const masterMesh = master.meshes[master.nodes[match.masterNode]!.mesh]!
    const node = returned.nodes[match.returnedNode]!
    const mesh = returned.meshes[node.mesh]!
    const inverse = invertAffine(masterWorlds[match.masterNode]!)
    const overWorld =
      inverse && multiplyMatrices(multiplyMatrices(inverse, change), returnedWorlds[match.returnedNode]!)
    const { matrix, placedOtherwise } = chooseMatrix(masterMesh, mesh, own, overWorld)
    // a mirrored space shows every face from behind
    const facing = isMirroring(matrix) ? turnFaces(mesh) : mesh
    return {
      master: masterMesh,
      placedOtherwise,
      countedFrom: [matrix[12]!, matrix[13]!, matrix[14]!],
      returnedLocal: isIdentity(change)
        ? node.local
        : multiplyMatrices(multiplyMatrices(change, node.local), changeBack),
      inPart: isIdentity(matrix)
        ? mesh
        : {
            ...facing,
            points: transformPoints(mesh.points, matrix),
            normals: facing.normals && {
              ...facing.normals,
              values: transformNormals(facing.normals.values, matrix),
            },
            shapes: facing.shapes.map((shape) => shapeThrough(shape, matrix)),
          },
    }
  }
}

function pairUp(
  matches: readonly PartMatch[],
  place: (match: PartMatch) => PlacedPart,
  correspondenceOf: (index: number, part: PlacedPart) => Correspondence,
): SceneMatching {
  const matched: MatchedPart[] = []
  const unmatched: PartMatch[] = []
  matches.forEach((match, index) => {
    if (match.masterNode < 0 || match.returnedNode < 0) {
      unmatched.push(match)
      return
    }
    const { inPart, ...part } = place(match)
    const correspondence = correspondenceOf(index, { inPart, ...part })
    const { joinedPoints } = correspondence
    matched.push({
      ...part,
      match,
      returned: joinedPoints ? rejoinPoints(inPart, joinedPoints) : inPart,
      correspondence,
    })
  })
  return { matched, unmatched }
}

/** The same polygons with their points where all of it is brought along, for telling what is alike apart by its place. */
function broughtAlong(master: Scene, { masterNode }: PartMatch, along: Matrix): (mesh: Mesh) => Mesh {
  const world = worldMatrices(master)[masterNode]!
  const back = invertAffine(world)
  if (!back) return (mesh) => mesh
  const matrix = multiplyMatrices(back, multiplyMatrices(along, world))
  return (mesh) => ({ ...mesh, points: transformPoints(mesh.points, matrix) })
}

/**
 * Pairs all parts of two scenes and brings the returned ones into the master's spaces.
 *
 * @param along from where what came back stands, in the master's space, to about where the master's parts do; null where
 * that is the same.
 */
export function matchScenes(
  master: Scene,
  returned: Scene,
  progress: (share: number) => void = () => {},
  matches: readonly PartMatch[] = matchParts(master, returned),
  along: Matrix | null = null,
): SceneMatching {
  return pairUp(matches, createPlacer(master, returned), (index, { master: mesh, inPart }) => {
    progress(index / matches.length)
    return correspond(mesh, along ? broughtAlong(master, matches[index]!, along)(inPart) : inPart)
  })
}

/** What is kept of a matching beside the two scenes. */
export function keepMatching({ matched, unmatched }: SceneMatching): KeptMatching {
  return {
    matches: [...matched.map((part) => part.match), ...unmatched],
    correspondences: [
      ...matched.map(({ correspondence }) =>
        correspondence.kind === 'index'
          ? { kind: 'index' as const, guess: correspondence.guess ?? false }
          : correspondence,
      ),
      ...unmatched.map(() => null),
    ],
  }
}

/** The matching of the same two scenes again, from what was kept of it. Null where it does not fit them. */
export function restoreMatching(master: Scene, returned: Scene, kept: KeptMatching): SceneMatching | null {
  const fits = kept.matches.every(
    ({ masterNode, returnedNode }) =>
      (masterNode < 0 || (master.nodes[masterNode]?.mesh ?? -1) >= 0) &&
      (returnedNode < 0 || (returned.nodes[returnedNode]?.mesh ?? -1) >= 0),
  )
  if (!fits || kept.matches.length !== kept.correspondences.length) return null
  const place = createPlacer(master, returned)
  let whole = true
  const matching = pairUp(kept.matches, place, (index, { master: mesh, inPart }) => {
    const known = kept.correspondences[index]
    if (known?.kind === 'index') return known.guess ? { ...sameNumbering(mesh), guess: true } : sameNumbering(mesh) // prettier-ignore
    const correspondence = known as Correspondence | null
    if (
      correspondence?.pointToReturned.length === pointCountOf(mesh) &&
      correspondence.faceToReturned.length === faceCountOf(mesh) &&
      correspondence.cornerToReturned.length === cornerCountOf(mesh)
    )
      return correspondence
    whole = false
    return correspond(mesh, inPart)
  })
  return whole ? matching : null
}

/**
 * From a returned part's own space to the master part's. Where both files have transforms only unit and axes
 * are brought together, so that a part that was moved has a changed transform and not changed points; unless
 * its points fit only together with its transform, since a file may hold a size on the one or the other.
 */
export function chooseMatrix(
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
