import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from '../match/match-parts.ts'
import type { CageCorrespondence } from './build-cage.ts'
import { findCage } from './find-cage.ts'
import { findEditedCage } from './find-edited-cage.ts'
import { moveCages } from './move-cages.ts'
import type { Scheme } from './schemes.ts'
import { unrefineUvs } from './unrefine-uvs.ts'

export interface FoundCages {
  /** The returned scene with the cages in place of the parts that came back subdivided. */
  readonly scene: Scene
  readonly pairs: readonly PartMatch[]
  readonly scheme: Scheme
  /** Nodes of the master whose cage might be another. */
  readonly guesses: ReadonlySet<number>
  /** `faces` as it came; `rest` of them were edited and are none of the cage's. */
  readonly told: readonly {
    readonly name: string
    readonly levels: number
    readonly faces: number
    readonly rest: number
  }[]
}

/** One a corner of a returned mesh; the master's corner that it stands for, -1 for none. */
function masterCorners(returned: Mesh, { cornerToReturned, pieceCorners }: CageCorrespondence): Int32Array {
  const found = pieceCorners?.slice() ?? new Int32Array(cornerCountOf(returned)).fill(-1)
  cornerToReturned.forEach((other, corner) => other >= 0 && (found[other] = corner))
  return found
}

/**
 * Parts that came back subdivided, as the cages that they were refined from.
 *
 * @param pairs which part is which.
 * @param toMaster as `moveCages` has it, for the scene with the cages as they came.
 * @returns null where none came back so.
 */
export function findCages(
  master: Scene,
  returned: Scene,
  pairs: readonly PartMatch[],
  toMaster: (cages: Scene) => Matrix | null = () => null,
): FoundCages | null {
  const change = spaceMatrix(returned.space, master.space)
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const found = pairs.flatMap((pair) => {
    if (pair.masterNode < 0 || pair.returnedNode < 0) return []
    const own = meshOf(master, pair.masterNode)
    const came = meshOf(returned, pair.returnedNode)
    if (faceCountOf(came) < 2 * faceCountOf(own)) return []
    const cage = findCage(own, came) ?? findEditedCage(own, came)
    if (!cage) return []
    const world = multiplyMatrices(change, returnedWorlds[pair.returnedNode]!)
    return [{ pair, own, came, cage, world }]
  })
  if (found.length === 0) return null
  const cageOf = new Map(found.map(({ pair }, at) => [pair.returnedNode, returned.meshes.length + at]))
  const withCages: Scene = {
    ...returned,
    meshes: [...returned.meshes, ...found.map(({ cage }) => cage.mesh)],
    nodes: returned.nodes.map((node, at) => ({ ...node, mesh: cageOf.get(at) ?? node.mesh })),
  }
  const { points, scheme, correspondences, guessed } = moveCages(
    found.map(({ pair, own, came, cage, world }) => ({
      master: own,
      masterWorld: masterWorlds[pair.masterNode]!,
      points: transformPoints(cage.mesh.points, world),
      refined: () => transformPoints(came.points, world),
      refinedCount: pointCountOf(came),
      levels: cage.levels,
      mesh: cage.mesh,
      inTriangles: cage.kind === 'triangles',
      known: cage.known,
    })),
    () => toMaster(withCages),
  )
  const meshes = [...returned.meshes]
  const nodes = [...returned.nodes]
  const levelsOf = new Map<PartMatch, number>()
  found.forEach(({ pair, own, cage, world }, at) => {
    const back = invertAffine(world)
    if (!back) return
    nodes[pair.returnedNode] = { ...nodes[pair.returnedNode]!, mesh: meshes.length }
    const mesh = unrefineUvs(own, cage.mesh, cage.levels, masterCorners(cage.mesh, correspondences[at]!))
    meshes.push({ ...mesh, points: transformPoints(points[at]!, back), id: '' })
    levelsOf.set(pair, cage.levels)
  })
  return {
    scene: { ...returned, nodes, meshes },
    scheme,
    guesses: new Set(
      found.flatMap(({ pair, cage }, at) => (cage.isGuess || guessed[at] ? [pair.masterNode] : [])),
    ),
    pairs: pairs.map((pair) => {
      const levels = levelsOf.get(pair)
      return levels === undefined ? pair : { ...pair, levels }
    }),
    told: found.map(({ pair, came, cage }) => ({
      name: master.nodes[pair.masterNode]!.name,
      levels: cage.levels,
      faces: faceCountOf(came),
      rest: cage.rest ?? 0,
    })),
  }
}
