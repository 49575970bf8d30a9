import { faceCorners, replaceFaces, type NewFace } from '../rebuilding/edit-faces.ts'
import type { Mesh } from '../../scene/mesh.ts'

/**
 * The polygons that were cut, put together again: sides that two pieces share go, the rest is walked round
 * from the first corner of the first piece. Pieces that no longer form one ring stay as they are.
 */
export function restorePolygons(mesh: Mesh): { mesh: Mesh; restored: number } {
  const { cutFrom } = mesh
  if (!cutFrom) return { mesh, restored: 0 }
  const pieces = new Map<number, number[]>()
  cutFrom.forEach((number, face) => {
    const held = pieces.get(number)
    if (held) held.push(face)
    else pieces.set(number, [face])
  })
  const faces: NewFace[] = []
  let restored = 0
  for (const group of pieces.values()) {
    const ring = group.length > 1 ? outline(mesh, group) : null
    if (ring) {
      restored++
      faces.push({ corners: ring, from: group[0]! })
    } else
      for (const face of group) {
        faces.push({ corners: faceCorners(mesh, face), from: face })
      }
  }
  return { mesh: { ...replaceFaces(mesh, faces), cutFrom: null }, restored }
}

/** Corners round several faces that hang together, in their winding; null where the border is not one loop. */
export function outline(mesh: Mesh, faces: readonly number[]): number[] | null {
  const sides = new Map<string, { corner: number; to: number }>()
  for (const face of faces)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const from = mesh.faceVertices[corner]!
      const next = corner + 1 < mesh.faceOffsets[face + 1]! ? corner + 1 : mesh.faceOffsets[face]!
      const to = mesh.faceVertices[next]!
      if (sides.has(`${from} ${to}`)) return null
      sides.set(`${from} ${to}`, { corner, to })
    }
  const out = new Map<number, { corner: number; to: number }>()
  for (const [key, side] of sides) {
    const [from, to] = key.split(' ') as [string, string]
    if (sides.has(`${to} ${from}`)) continue
    if (out.has(Number(from))) return null
    out.set(Number(from), side)
  }
  const first = mesh.faceVertices[mesh.faceOffsets[faces[0]!]!]!
  const ring: number[] = []
  let at = first
  do {
    const side = out.get(at)
    if (!side || ring.length > out.size) return null
    ring.push(side.corner)
    at = side.to
  } while (at !== first)
  return ring.length === out.size && ring.length > 2 ? ring : null
}
