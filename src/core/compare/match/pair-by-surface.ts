/** Parts under other names and of other polygons than they left with: known by the surface on which they lie. */
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from './match-parts.ts'
import { boxOfFaces, findOnSurface, type Standing } from './on-surface.ts'

/** Whether parts on both sides have no partner yet. */
export const areLeftOver = (pairs: readonly PartMatch[]): boolean =>
  pairs.some(({ masterNode }) => masterNode < 0) && pairs.some(({ returnedNode }) => returnedNode < 0)

/**
 * @param pairs what is paired already; parts without a partner stand in it with -1.
 * @param along from where the returned parts stand, in the master's space, to about where the master's do; null: as they stand.
 * @returns pairs for parts that had none, each of which lies on the one surface and on no other nearly as well.
 */
export function pairBySurface(
  master: Scene,
  returned: Scene,
  pairs: readonly PartMatch[],
  along: Matrix | null,
): PartMatch[] {
  const own = pairs.flatMap(({ masterNode, returnedNode }) => (returnedNode < 0 ? [masterNode] : []))
  const came = pairs.flatMap(({ masterNode, returnedNode }) => (masterNode < 0 ? [returnedNode] : []))
  const placed = (scene: Scene, nodes: readonly number[], into: Matrix): [number, Standing][] => {
    const worlds = worldMatrices(scene)
    return nodes.flatMap((node): [number, Standing][] => {
      const { points, faceOffsets, faceVertices } = scene.meshes[scene.nodes[node]!.mesh]!
      const standing = { points: transformPoints(points, multiplyMatrices(into, worlds[node]!)), faceOffsets, faceVertices } // prettier-ignore
      const box = boxOfFaces(standing)
      return box ? [[node, { ...standing, box }]] : []
    })
  }
  const change = spaceMatrix(returned.space, master.space)
  const ours = placed(master, own, IDENTITY_MATRIX)
  const theirs = placed(returned, came, along ? multiplyMatrices(along, change) : change)
  const standing = (parts: readonly (readonly [number, Standing])[]): Standing[] =>
    parts.map(([, part]) => part)
  return findOnSurface(standing(ours), standing(theirs)).map((pair) => ({
    masterNode: ours[pair.own]![0],
    returnedNode: theirs[pair.other]![0],
    by: 'place',
  }))
}
