/** From what was clicked to all that belong with it: polygons, edges, corners of the UVs. */
import { edgeBetween, edgeLoop, groupBorder, shortestEdgePath } from '../mesh/relations/edge-paths.ts'
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { findIslands } from '../uv/find-islands.ts'

/** What a click may choose; `material-everywhere` goes over all parts, the others stay on the part that was clicked. */
export const FACE_KINDS = [
  'part',
  'piece',
  'island',
  'group',
  'material',
  'material-everywhere',
  'polygon',
] as const
/** `path` is the shortest way from the point clicked before. */
export const EDGE_KINDS = ['edge', 'loop', 'path', 'group-border'] as const
export const GROW_KINDS = [...FACE_KINDS, ...EDGE_KINDS, 'corner'] as const
export type FaceKind = (typeof FACE_KINDS)[number]
export type EdgeKind = (typeof EDGE_KINDS)[number]
export type GrowKind = (typeof GROW_KINDS)[number]

export const isEdgeKind = (kind: GrowKind): kind is EdgeKind =>
  (EDGE_KINDS as readonly string[]).includes(kind)

/** What is chosen of one node's mesh: polygons in rising order, edges as pairs of points, or corners. */
export interface Chosen {
  readonly node: number
  readonly element: 'faces' | 'edges' | 'corners'
  readonly elements: Uint32Array
}

/** What was clicked on a polygon. */
export interface Clicked {
  readonly node: number
  readonly face: number
  /** The polygon's corner nearest to the click, and the one that begins its nearest side. */
  readonly corner?: number | null
  readonly side?: number | null
  /** Where a way along edges begins: a point of the same mesh. */
  readonly from?: number | null
}

/** Faces of the same connected piece, UV island, face groups or material as `face`, in rising order. */
export function growSelection(
  mesh: Mesh,
  face: number,
  kind: FaceKind,
  facts: MeshFacts = createMeshFacts(mesh),
): Uint32Array {
  if (kind === 'polygon' || face >= faceCountOf(mesh)) return Uint32Array.of(face)
  const keys =
    kind === 'piece'
      ? facts.pieces().facePieces
      : kind === 'island'
        ? mesh.uvSets[0]
          ? findIslands(mesh, mesh.uvSets[0]).faceIslands
          : null
        : kind === 'group'
          ? (mesh.groups?.faceSets ?? null)
          : kind === 'material' || kind === 'material-everywhere'
            ? mesh.faceMaterials
            : null
  const found: number[] = []
  for (let other = 0; other < faceCountOf(mesh); other++)
    if (!keys || keys[other] === keys[face]) found.push(other)
  return Uint32Array.from(found)
}

/** Pairs of points of the edges that a click chooses. */
function growEdges(mesh: Mesh, clicked: Clicked, kind: EdgeKind, facts: MeshFacts): Uint32Array {
  const { edgePoints } = facts.edges()
  const pairs = (edges: readonly number[]): Uint32Array =>
    Uint32Array.from(edges.flatMap((edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]))
  if (kind === 'group-border') return pairs(groupBorder(facts, clicked.face))
  if (kind === 'path') {
    const to = mesh.faceVertices[clicked.corner ?? mesh.faceOffsets[clicked.face]!]!
    // a way that only begins is its first point
    if (clicked.from === null || clicked.from === undefined || clicked.from >= facts.pointCount)
      return Uint32Array.of(to, to)
    return pairs(shortestEdgePath(facts, clicked.from, to) ?? [])
  }
  const side = clicked.side ?? mesh.faceOffsets[clicked.face]!
  const end = mesh.faceOffsets[clicked.face + 1]!
  const next = side + 1 < end ? side + 1 : mesh.faceOffsets[clicked.face]!
  const edge = edgeBetween(facts, mesh.faceVertices[side]!, mesh.faceVertices[next]!)
  if (edge < 0) return new Uint32Array(0)
  return pairs(kind === 'loop' ? edgeLoop(facts, edge) : [edge])
}

/** Corners that have the clicked one's UV of the first set at its point, by number or by value: they move together. */
function growCorners(mesh: Mesh, clicked: Clicked): Uint32Array {
  const corner = clicked.corner ?? mesh.faceOffsets[clicked.face]!
  const [set] = mesh.uvSets
  const uv = set?.indices[corner] ?? -1
  if (!set || uv < 0) return Uint32Array.of(corner)
  const { values, indices } = set
  const point = mesh.faceVertices[corner]!
  const found: number[] = []
  indices.forEach((other, at) => {
    const isSame =
      other === uv ||
      (other >= 0 &&
        mesh.faceVertices[at] === point &&
        values[2 * other] === values[2 * uv] &&
        values[2 * other + 1] === values[2 * uv + 1])
    if (isSame) found.push(at)
  })
  return Uint32Array.from(found)
}

/**
 * The same over the parts of a scene: the clicked one first, the others by their nodes. Other nodes that show the clicked
 * part's mesh are parts of their own.
 */
export function growOverScene(
  scene: Scene,
  clicked: Clicked,
  kind: GrowKind,
  factsOf: (mesh: Mesh) => MeshFacts,
): Chosen[] {
  const { node, face } = clicked
  const mesh = scene.meshes[scene.nodes[node]!.mesh]!
  if (face >= faceCountOf(mesh)) return []
  if (isEdgeKind(kind))
    return [{ node, element: 'edges', elements: growEdges(mesh, clicked, kind, factsOf(mesh)) }]
  if (kind === 'corner') return [{ node, element: 'corners', elements: growCorners(mesh, clicked) }]
  const own: Chosen = { node, element: 'faces', elements: growSelection(mesh, face, kind, factsOf(mesh)) }
  const material = mesh.faceMaterials?.[face] ?? -1
  if (kind !== 'material-everywhere') return [own]
  const others = scene.nodes.flatMap(({ mesh: index }, other): Chosen[] => {
    const another = scene.meshes[index]
    if (!another || other === node) return []
    const faces: number[] = []
    for (let at = 0; at < faceCountOf(another); at++)
      if ((another.faceMaterials?.[at] ?? -1) === material) faces.push(at)
    return faces.length ? [{ node: other, element: 'faces', elements: Uint32Array.from(faces) }] : []
  })
  return [own, ...others]
}
