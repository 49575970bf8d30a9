/** What tells a model apart from others in a few kilobytes, whatever a tool did to it. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import { cornerCountOf, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'

/** Some of a set's members, chosen by their own hashes, so that two sets give the same ones of what they share. */
export interface Sample {
  /** Ascending; of all members those whose hash is below the limit. */
  readonly hashes: readonly number[]
  /** In 1 to 2^32. */
  readonly limit: number
}

export interface SceneSignature {
  readonly parts: readonly {
    readonly name: string
    readonly polygons: number
    /** That its polygons are cut into. */
    readonly triangles: number
    readonly corners: number
  }[]
  readonly materials: readonly string[]
  /** Of the first UV sets. */
  readonly uvs: Sample
  /** Of where points lie in the model's own box. */
  readonly places: Sample
}

const MOST_HASHES = 2048
/** Steps of a UV, and of the model's diagonal, that are told apart: coarser than six digits leave them. */
const UV_STEPS = 1e4
const PLACE_STEPS = 1e3

/** Spreads whole numbers over 32 bits (finalizer of MurmurHash3, public domain, from memory). */
function spread(value: number): number {
  let mixed = value | 0
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b)
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35)
  return (mixed ^ (mixed >>> 16)) >>> 0
}

const hashOf = (values: readonly number[]): number =>
  values.reduce((hash, value) => spread(hash ^ spread(value + 0x9e3779b9)), 1)

function sampleOf(members: Iterable<number>): Sample {
  const all = [...new Set(members)].sort((a, b) => a - b)
  return all.length <= MOST_HASHES
    ? { hashes: all, limit: 2 ** 32 }
    : { hashes: all.slice(0, MOST_HASHES), limit: all[MOST_HASHES]! }
}

function* uvHashes({ uvSets: [set] }: Mesh): Iterable<number> {
  if (!set) return
  for (let at = 0; at + 1 < set.values.length; at += 2)
    yield hashOf([Math.round(set.values[at]! * UV_STEPS), Math.round(set.values[at + 1]! * UV_STEPS)])
}

function placeHashes(meshes: readonly Float64Array[]): Set<number> {
  const found = new Set<number>()
  const boxes = meshes.flatMap((points) => boundsOf(points) ?? [])
  if (boxes.length === 0) return found
  const corner = [0, 1, 2].map((axis) => Math.min(...boxes.map(({ min }) => min[axis]!)))
  const top = [0, 1, 2].map((axis) => Math.max(...boxes.map(({ max }) => max[axis]!)))
  const size = diagonalOf({ min: corner as [number, number, number], max: top as [number, number, number] })
  if (!(size > 0) || !Number.isFinite(size)) return found
  for (const points of meshes)
    for (let at = 0; at < points.length; at += 3)
      found.add(
        hashOf(
          [0, 1, 2].map((axis) => Math.round(((points[at + axis]! - corner[axis]!) / size) * PLACE_STEPS)),
        ),
      )
  return found
}

/** @param chosen ids of the nodes that count; null: all. */
export function signScene(scene: Scene, chosen: readonly string[] | null = null): SceneSignature {
  const wanted = chosen && new Set(chosen)
  const nodes = partNodes(scene).filter((node) => !wanted || wanted.has(scene.nodes[node]!.id))
  const worlds = worldMatrices(scene)
  const meshOf = (node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const uvs = new Set<number>()
  for (const node of nodes) for (const hash of uvHashes(meshOf(node))) uvs.add(hash)
  return {
    parts: nodes.map((node) => {
      const mesh = meshOf(node)
      const [polygons, corners] = [faceCountOf(mesh), cornerCountOf(mesh)]
      return { name: scene.nodes[node]!.name, polygons, corners, triangles: corners - 2 * polygons }
    }),
    materials: [...new Set(scene.materials.map(({ name }) => name))],
    uvs: sampleOf(uvs),
    places: sampleOf(placeHashes(nodes.map((node) => transformPoints(meshOf(node).points, worlds[node]!)))),
  }
}
