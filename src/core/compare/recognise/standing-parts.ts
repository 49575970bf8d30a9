/** Parts of both sides as they stand in the master's space, and how all of it moved. */
import type { Box } from '../../base/math/box.ts'
import { isIdentity, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { SceneMatching } from '../match-scenes.ts'
import { stepsOf, uvKey } from '../match/evidence/uv-keys.ts'
import { fitSimilarity, similarityMatrix } from '../whole/similarity.ts'

/** Points that are looked at of each part. */
const LOOKED_AT = 60

export interface Part {
  readonly node: number
  readonly name: string
  /** How many points, polygons and corners it has. */
  readonly counts: string
  /** Names of the materials on it, in one text. */
  readonly materials: string
  readonly pointCount: number
  /** In the master's space; brought there when it is asked for. */
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
    let brought: Mesh | null = isIdentity(matrix) ? own : null
    const materials = [...new Set(own.faceMaterials)].map((at) => scene.materials[at]?.name ?? '').sort().join('\n') // prettier-ignore
    if (!box) return []
    return [
      {
        node,
        name,
        counts: countsOf(own),
        materials,
        pointCount: pointCountOf(own),
        box,
        get mesh() {
          return (brought ??= { ...own, points: transformPoints(own.points, matrix) })
        },
      },
    ]
  })
}

/** UVs that are looked for, and the share of them that has to be there for a layout to be the same. */
const MOST_UVS = 200
const SAME_LAYOUT = 0.95

/** Whether two parts have the same UVs somewhere on them. */
export function sharesLayout(a: Part, b: Part): boolean {
  const [own, other] = [a.mesh.uvSets[0], b.mesh.uvSets[0]]
  if (!own || !other) return false
  const steps = stepsOf(own, other)
  const there = new Set<number>()
  for (let uv = 0; uv < other.values.length / 2; uv++) there.add(uvKey(other, uv, steps) ?? NaN)
  const count = own.values.length / 2
  const step = Math.max(1, Math.floor(count / MOST_UVS))
  let [looked, found] = [0, 0]
  for (let uv = 0; uv < count; uv += step, looked++) {
    const key = uvKey(own, uv, steps)
    if (key !== null && there.has(key)) found++
  }
  return looked > 0 && found >= looked * SAME_LAYOUT
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
