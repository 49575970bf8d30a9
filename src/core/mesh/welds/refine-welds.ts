import { findDuplicateFaces } from '../faults/find-duplicate-faces.ts'
import { isOneFan } from '../faults/find-pinched-points.ts'
import { createUnion } from '../relations/adjacency.ts'
import { createMeshFacts, previousCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'

/** Faces without those that a weld would take away (fewer than three corners) or lay over another face. */
function standingFaces(mesh: Mesh, target: Uint32Array): { mesh: Mesh; corners: Int32Array } {
  const faceOffsets = [0]
  const faceVertices: number[] = []
  const corners: number[] = []
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const first = faceVertices.length
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = target[mesh.faceVertices[corner]!]!
      if (faceVertices.length > first && faceVertices[faceVertices.length - 1] === point) continue
      faceVertices.push(point)
      corners.push(corner)
    }
    if (faceVertices.length - first > 1 && faceVertices[first] === faceVertices[faceVertices.length - 1]) {
      faceVertices.pop()
      corners.pop()
    }
    if (faceVertices.length - first < 3) faceVertices.length = corners.length = first
    else faceOffsets.push(faceVertices.length)
  }
  const whole: Mesh = {
    ...mesh,
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(faceVertices),
    smoothing: null,
    groups: null,
  }
  const doubled = new Set(findDuplicateFaces(createMeshFacts(whole)))
  if (doubled.size === 0) return { mesh: whole, corners: Int32Array.from(corners) }
  const offsets = [0]
  const kept: number[] = []
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    if (doubled.has(face)) continue
    for (let at = faceOffsets[face]!; at < faceOffsets[face + 1]!; at++) kept.push(at)
    offsets.push(kept.length)
  }
  return {
    mesh: {
      ...whole,
      faceOffsets: Uint32Array.from(offsets),
      faceVertices: Uint32Array.from(kept, (at) => faceVertices[at]!),
    },
    corners: Int32Array.from(kept, (at) => corners[at]!),
  }
}

/** Fans of polygons round a point, held together by edges of two sides; one number a corner. */
function fansOf(facts: MeshFacts, own: ArrayLike<number>): number[] {
  const { mesh } = facts
  const { cornerEdges, edgeSides } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const union = createUnion(own.length)
  const met = new Map<number, number>()
  for (let at = 0; at < own.length; at++) {
    const corner = own[at]!
    for (const edge of [
      cornerEdges[corner]!,
      cornerEdges[previousCorner(mesh, cornerFaces[corner]!, corner)]!,
    ]) {
      if (edgeSides[edge]! > 2) continue
      const other = met.get(edge)
      if (other === undefined) met.set(edge, at)
      else union.join(other, at)
    }
  }
  return Array.from(own, (_corner, at) => union.rootOf(at))
}

/**
 * A weld without what would make surfaces touch: where polygons of more than one surface would meet in a point, or
 * more than two in an edge, each surface is welded in itself alone. So what parts touching surfaces and what welds
 * don't undo each other. Polygons that the weld lays over each other count once: doubles are another fault.
 *
 * @param target n; the point each goes to, itself where it stays.
 * @returns the same kind of list; `target` itself where nothing would touch.
 */
export function refineWelds(facts: MeshFacts, target: Uint32Array): Uint32Array {
  const { mesh, corners } = standingFaces(facts.mesh, target)
  const welded = createMeshFacts(mesh)
  const { offsets, corners: around } = welded.pointCorners()
  const { edgeSides, cornerEdges } = welded.edges()
  const cornerFaces = welded.cornerFaces()
  const isMet = new Uint8Array(target.length)
  for (let point = 0; point < target.length; point++) if (target[point] !== point) isMet[target[point]!] = 1
  const touching: number[] = []
  for (let point = 0; point < target.length; point++) {
    if (!isMet[point]) continue
    const own = around.subarray(offsets[point]!, offsets[point + 1]!)
    if (own.length < 2) continue
    const isFull = own.some(
      (corner) =>
        edgeSides[cornerEdges[corner]!]! > 2 ||
        edgeSides[cornerEdges[previousCorner(mesh, cornerFaces[corner]!, corner)]!]! > 2,
    )
    if (isFull || !isOneFan(welded, own[0]!, own.length)) touching.push(point)
  }
  if (touching.length === 0) return target
  const members = new Map<number, number[]>(touching.map((point) => [point, []]))
  for (let point = 0; point < target.length; point++) members.get(target[point]!)?.push(point)
  const refined = target.slice()
  for (const point of touching) {
    const own = around.subarray(offsets[point]!, offsets[point + 1]!)
    const fans = fansOf(welded, own)
    const group = members.get(point)!
    const place = new Map(group.map((member, at) => [member, at]))
    const union = createUnion(group.length)
    // points of one fan are one; a point that is in two fans already holds them together
    const firstOf = new Map<number, number>()
    own.forEach((corner, at) => {
      const member = place.get(facts.mesh.faceVertices[corners[corner]!]!)
      if (member === undefined) return
      const first = firstOf.get(fans[at]!)
      if (first === undefined) firstOf.set(fans[at]!, member)
      else union.join(first, member)
    })
    // what no polygon of its own speaks for goes where it went
    const spoken = new Set([...own].map((corner) => place.get(facts.mesh.faceVertices[corners[corner]!]!)))
    const home = place.get(point)!
    group.forEach((_member, at) => {
      if (!spoken.has(at)) union.join(home, at)
    })
    const rootOf = new Map<number, number>([[union.rootOf(home), point]])
    group.forEach((member, at) => {
      const root = union.rootOf(at)
      if (!rootOf.has(root)) rootOf.set(root, member)
      refined[member] = rootOf.get(root)!
    })
  }
  return refined
}
