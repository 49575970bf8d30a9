import { findDuplicateFaces } from '../faults/find-duplicate-faces.ts'
import { isOneFan } from '../faults/find-pinched-points.ts'
import { collapseFaces } from '../rebuilding/edit-faces.ts'
import { createUnion } from '../relations/adjacency.ts'
import { fansAround } from '../relations/fans.ts'
import { createMeshFacts, previousCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'

/** Faces without those that a weld would take away (fewer than three corners) or lay over another face. */
function standingFaces(mesh: Mesh, target: Uint32Array): { mesh: Mesh; corners: Int32Array } {
  const { faceOffsets, vertices: faceVertices, corners } = collapseFaces(mesh, (point) => target[point]!)
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

interface Welded {
  readonly facts: MeshFacts
  /** The corner before the weld of each corner that is left. */
  readonly corners: Int32Array
  /** Points that others go to and at which surfaces would touch. */
  readonly touching: readonly number[]
}

function weldAndLook(mesh: Mesh, target: Uint32Array): Welded {
  const { mesh: welded, corners } = standingFaces(mesh, target)
  const facts = createMeshFacts(welded)
  const { offsets, corners: around } = facts.pointCorners()
  const { edgeSides, cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
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
        edgeSides[cornerEdges[previousCorner(welded, cornerFaces[corner]!, corner)]!]! > 2,
    )
    if (isFull || !isOneFan(facts, own[0]!, own.length)) touching.push(point)
  }
  return { facts, corners, touching }
}

/** The points of each of these groups, the one that the others go to among them. */
function membersOf(target: Uint32Array, kept: readonly number[]): Map<number, number[]> {
  const members = new Map<number, number[]>(kept.map((point) => [point, []]))
  for (let point = 0; point < target.length; point++) members.get(target[point]!)?.push(point)
  return members
}

/** Welds of one group within each fan of polygons alone; a point that stands in two fans holds them together. */
function partGroup(
  mesh: Mesh,
  { facts, corners }: Welded,
  kept: number,
  group: readonly number[],
  refined: Uint32Array,
): void {
  const { offsets, corners: around } = facts.pointCorners()
  const own = around.subarray(offsets[kept]!, offsets[kept + 1]!)
  const fans = fansAround(facts, own, 2)
  const place = new Map(group.map((member, at) => [member, at]))
  const placeOf = (corner: number): number | undefined => place.get(mesh.faceVertices[corners[corner]!]!)
  const union = createUnion(group.length)
  const firstOf = new Map<number, number>()
  const spoken = new Set<number>()
  own.forEach((corner, at) => {
    const member = placeOf(corner)
    if (member === undefined) return
    spoken.add(member)
    const first = firstOf.get(fans[at]!)
    if (first === undefined) firstOf.set(fans[at]!, member)
    else union.join(first, member)
  })
  // what no polygon of its own speaks for goes where it went
  const home = place.get(kept)!
  group.forEach((_member, at) => {
    if (!spoken.has(at)) union.join(home, at)
  })
  const rootOf = new Map<number, number>([[union.rootOf(home), kept]])
  group.forEach((member, at) => {
    const root = union.rootOf(at)
    if (!rootOf.has(root)) rootOf.set(root, member)
    refined[member] = rootOf.get(root)!
  })
}

/**
 * A weld without what would make surfaces touch: where polygons of more than one surface would meet in a point, or
 * more than two in an edge, each surface is welded in itself alone, and where that isn't enough nothing is. So what
 * parts touching surfaces and what welds don't undo each other. Polygons that the weld lays over each other count once:
 * doubles are another fault.
 *
 * @param target n; the point each goes to, itself where it stays.
 * @returns the same kind of list; `target` itself where nothing would touch.
 */
export function refineWelds(facts: MeshFacts, target: Uint32Array): Uint32Array {
  const whole = weldAndLook(facts.mesh, target)
  if (whole.touching.length === 0) return target
  const refined = target.slice()
  for (const [kept, group] of membersOf(target, whole.touching))
    partGroup(facts.mesh, whole, kept, group, refined)
  // every round takes welds back, so there is an end
  for (;;) {
    const { touching } = weldAndLook(facts.mesh, refined)
    if (touching.length === 0) return refined
    for (const group of membersOf(refined, touching).values())
      for (const member of group) refined[member] = member
  }
}
