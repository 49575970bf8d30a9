/** Which part of one scene is which of another, brought into the same spaces, element by element. */
import { boundsOf, diagonalOf } from '../base/math/box.ts'
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
import { correspond, POSITION_REACH, sameNumbering } from './match/correspond.ts'
import type { Correspondence } from './match/correspondence.ts'
import { matchParts, type PartMatch } from './match/match-parts.ts'
import { pointsApart } from './match/points-apart.ts'
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
  /** The same where it stands in the world, where its box alone doesn't say in which of both it lies. */
  readonly inWorld: (() => PlacedPart) | null
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
    const chosen = chooseMatrix(masterMesh, mesh, own, overWorld)
    const placed = ({ matrix, placedOtherwise, isEither }: ChosenMatrix): PlacedPart => {
      // a mirrored space shows every face from behind
      const facing = isMirroring(matrix) ? turnFaces(mesh) : mesh
      return {
        inWorld: isEither
          ? () => placed({ matrix: overWorld!, placedOtherwise: true, isEither: false })
          : null,
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
    return placed(chosen)
  }
}

/** How much nearer to where it lay a part has to lie in the world for it to be told so. */
const MUCH_NEARER = 2

/** How far points lie from their counterparts, on the mean, in diagonals of the part; 0 within the reach of a place. */
function awayOf({ master, inPart }: PlacedPart, { pointToReturned }: Correspondence): number {
  let [found, sum] = [0, 0]
  for (let point = 0; point < pointToReturned.length; point++) {
    const other = pointToReturned[point]!
    if (other < 0) continue
    found++
    sum += pointsApart(master, point, inPart, other)
  }
  const away = sum / Math.max(1, found) / diagonalOf(boundsOf(master.points))
  return away <= POSITION_REACH ? 0 : away
}

/** What is symmetrical fits both ways by its box, and what was sculpted neither; its elements say which of them it is. */
function placedByElements(part: PlacedPart, correspondence: Correspondence): PlacedPart {
  if (!part.inWorld) return part
  const away = awayOf(part, correspondence)
  if (away === 0) return part
  const inWorld = part.inWorld()
  return awayOf(inWorld, correspondence) < away / MUCH_NEARER ? inWorld : part
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
    const asItIs = place(match)
    const found = correspondenceOf(index, asItIs)
    // what lies where it lay is that one
    const correspondence = match.guess && found.kind !== 'position' ? { ...found, guess: true } : found
    const { inPart, inWorld: _, ...part } = placedByElements(asItIs, correspondence)
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

interface ChosenMatrix {
  readonly matrix: Matrix
  readonly placedOtherwise: boolean
  /** Where it stands in the world its box may fit as well, and shows the same side of its faces. */
  readonly isEither: boolean
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
): ChosenMatrix {
  const differ =
    own && overWorld?.some((value, at) => Math.abs(value - own[at]!) > 1e-9 * Math.abs(value) + 1e-12)
  if (!own || !overWorld || !differ)
    return { matrix: own ?? overWorld ?? IDENTITY_MATRIX, placedOtherwise: false, isEither: false }
  return boxesAgree(master, returned, overWorld) && !boxesAgree(master, returned, own)
    ? { matrix: overWorld, placedOtherwise: true, isEither: false }
    : { matrix: own, placedOtherwise: false, isEither: isMirroring(own) === isMirroring(overWorld) }
}
