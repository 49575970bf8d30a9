/** Parts of both sides as they stand in the master's space, and how all of it moved. */
import type { Box } from '../../base/math/box.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { SceneMatching } from '../match-scenes.ts'
import { fitSimilarity, similarityMatrix } from '../whole/similarity.ts'

/** Points that are looked at of each part. */
const LOOKED_AT = 60

export interface Part {
  readonly node: number
  readonly name: string
  /** How many points, polygons and corners it has. */
  readonly counts: string
  /** In the master's space. */
  readonly mesh: Mesh
  readonly box: Box
}

const countsOf = (mesh: Mesh): string => `${pointCountOf(mesh)} ${faceCountOf(mesh)} ${cornerCountOf(mesh)}`

/** Those that have points. */
export function partsOf(scene: Scene, nodes: readonly number[], into: Matrix): Part[] {
  const worlds = worldMatrices(scene)
  return nodes.flatMap((node): Part[] => {
    const { mesh: index, name } = scene.nodes[node]!
    const own = scene.meshes[index]!
    const matrix = multiplyMatrices(into, worlds[node]!)
    const box = drawnBounds(own, matrix)
    const mesh = { ...own, points: transformPoints(own.points, matrix) }
    return box ? [{ node, name, counts: countsOf(own), box, mesh }] : []
  })
}

/** How all of it moved by what is paired now; null where points say nothing. */
export function wayOf(own: readonly Part[], came: readonly Part[], matching: SceneMatching): Matrix | null {
  const [before, after]: [number[], number[]] = [[], []]
  const [ofNode, byNode] = [own, came].map((parts) => new Map(parts.map((part) => [part.node, part])))
  for (const { match, correspondence } of matching.matched) {
    const [part, other] = [ofNode!.get(match.masterNode), byNode!.get(match.returnedNode)]
    if (!part || !other) continue
    const { pointToReturned } = correspondence
    const step = Math.max(1, Math.floor(pointToReturned.length / LOOKED_AT))
    for (let point = 0; point < pointToReturned.length; point += step) {
      const there = pointToReturned[point]!
      if (there < 0) continue
      for (let axis = 0; axis < 3; axis++) {
        before.push(part.mesh.points[3 * point + axis]!)
        after.push(other.mesh.points[3 * there + axis]!)
      }
    }
  }
  const fit = fitSimilarity(Float64Array.from(before), Float64Array.from(after))
  return fit && fit.factor > 0 ? similarityMatrix(fit) : null
}
