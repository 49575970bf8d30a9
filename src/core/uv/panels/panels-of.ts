/** Panels: face groups that are to be cut out of cloth, and what a sewing tool would refuse of them. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import { islandNet, piecesBetween } from '../flatten/island-net.ts'
import { between } from '../seams/given-seams.ts'
import { findOverlaps } from '../find-overlaps.ts'
import { findSeams } from '../uv-measures.ts'
import { statedLength } from './uv-length.ts'

export interface Panel {
  readonly name: string
  readonly faces: readonly number[]
}

/** Every combination of face groups is a panel, called by its names. Polygons in no group are in none. */
export function panelsOf({ mesh }: MeshFacts): Panel[] {
  const { groups } = mesh
  if (!groups) return []
  const faces = new Map<number, number[]>()
  groups.faceSets.forEach((set, face) => {
    if (set < 0) return
    const own = faces.get(set)
    if (own) own.push(face)
    else faces.set(set, [face])
  })
  return [...faces].map(([set, own]) => ({
    name: groups.sets[set]!.map((at) => groups.names[at]!).join(', '),
    faces: own,
  }))
}

export const PANEL_PROBLEMS = ['pieces', 'closed', 'borders', 'nonManifold', 'small', 'overlap'] as const
export type PanelProblem = (typeof PANEL_PROBLEMS)[number]

export interface PanelForecast {
  readonly panel: Panel
  readonly problems: readonly PanelProblem[]
}

/** @param least area on the mesh below which a panel is too small to be sewn. @param set null: no UVs are looked at. */
export function forecastPanels(facts: MeshFacts, set: UvSet | null, least: number): PanelForecast[] {
  const { mesh } = facts
  if (!mesh.groups) return []
  const seams = between(facts, mesh.groups.faceSets)
  // a layout of panels says itself where they are cut
  const isLaid = set !== null && statedLength(set.name) !== null
  if (isLaid) findSeams(facts, set).forEach((isSeam, edge) => isSeam && (seams[edge] = 1))
  const panels = isLaid ? panelsOf(facts).flatMap((panel) => piecesOf(facts, panel, seams)) : panelsOf(facts)
  const { facePieces } = piecesBetween(facts, seams)
  const { edgeSides, cornerEdges, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const areas = facts.faceAreas()
  const isOver = set && overlappingFaces(mesh, set)
  return panels.map((panel) => {
    const problems: PanelProblem[] = []
    const isOwn = new Set(panel.faces)
    const pieces = new Set(panel.faces.map((face) => facePieces[face]!))
    const net = islandNet(facts, panel.faces, seams, false)
    if (pieces.size > 1) problems.push('pieces')
    else if (net.loops.length === 0) problems.push('closed')
    // a ring, or a handle in the cloth
    else if (net.loops.length > 1 || net.euler !== 1) problems.push('borders')
    const isBad = panel.faces.some((face) => {
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const edge = cornerEdges[corner]!
        if (edgeSides[edge]! > 2) return true
        if (edgeSides[edge] !== 2) continue
        const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
        const inside = isOwn.has(cornerFaces[a]!) && isOwn.has(cornerFaces[b]!)
        if (inside && mesh.faceVertices[a] === mesh.faceVertices[b]) return true
      }
      return false
    })
    if (isBad) problems.push('nonManifold')
    if (panel.faces.reduce((sum, face) => sum + areas[face]!, 0) < least) problems.push('small')
    if (set && isOver && liesOverItself(mesh, set, panel.faces, isOver)) problems.push('overlap')
    return { panel, problems }
  })
}

/** A panel as it is cut by seams; what is one piece keeps the name. */
function piecesOf(facts: MeshFacts, { name, faces }: Panel, seams: Uint8Array): Panel[] {
  const { facePieces } = piecesBetween(facts, seams)
  const pieces = new Map<number, number[]>()
  for (const face of faces) {
    const own = pieces.get(facePieces[face]!)
    if (own) own.push(face)
    else pieces.set(facePieces[face]!, [face])
  }
  return [...pieces.values()].map((own, at) => ({
    name: pieces.size > 1 ? `${name}, piece ${at + 1}` : name,
    faces: own,
  }))
}

/** Flags of the faces that lie over others anywhere in a set; null where none does. */
function overlappingFaces(mesh: Mesh, set: UvSet): Uint8Array | null {
  const { faces, pairCount } = findOverlaps([{ mesh, set, chosen: null }])
  if (pairCount === 0) return null
  const flags = new Uint8Array(mesh.faceOffsets.length - 1)
  for (const face of faces[0] ?? []) flags[face] = 1
  return flags
}

/** Whether a panel lies over itself, and not only over others. */
function liesOverItself(mesh: Mesh, set: UvSet, faces: readonly number[], isOver: Uint8Array): boolean {
  if (!faces.some((face) => isOver[face])) return false
  const chosen = new Uint8Array(mesh.faceOffsets.length - 1)
  for (const face of faces) chosen[face] = 1
  return findOverlaps([{ mesh, set, chosen }]).pairCount > 0
}
