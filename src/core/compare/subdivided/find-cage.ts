import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { POSITION_REACH } from '../match/correspond.ts'
import { uvKey } from '../match/evidence/by-uvs.ts'
import { findShells } from '../regroup/shells.ts'
import { readingsOf, undoLevel, type Reading } from './undo-level.ts'

export const MOST_LEVELS = 5

export interface Cage {
  /** The returned mesh without its levels: points where those that descend from them lie now. */
  readonly mesh: Mesh
  readonly levels: number
}

const usedPoints = (mesh: Mesh): number => {
  const used = new Uint8Array(pointCountOf(mesh))
  let count = 0
  for (const point of mesh.faceVertices)
    if (!used[point]) {
      used[point] = 1
      count++
    }
  return count
}

/** How many levels of quads give as many polygons, and the points that it then has; null for none. */
export function levelsOf(master: Mesh, returned: Mesh): { levels: number; points: number } | null {
  let faces = cornerCountOf(master)
  if (faces === 0 || cornerCountOf(returned) !== 4 * faceCountOf(returned)) return null
  let edges = edgesOf(master).edgeCount
  let points = usedPoints(master) + edges + faceCountOf(master)
  edges = 2 * edges + faces
  for (let levels = 1; levels <= MOST_LEVELS; levels++) {
    if (faces === faceCountOf(returned)) return { levels, points }
    points += edges + faces
    edges = 2 * edges + 4 * faces
    faces *= 4
  }
  return null
}

/** How many points and polygons each piece of a mesh has, and how often that is. */
function pieceCounts(mesh: Mesh): Map<string, number> {
  const shells = findShells(mesh)
  const points = new Uint32Array(shells.count)
  const polygons = new Uint32Array(shells.count)
  const seen = new Uint8Array(pointCountOf(mesh))
  shells.ofFace.forEach((shell, face) => {
    polygons[shell]!++
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      if (!seen[point]) points[shell]!++
      seen[point] = 1
    }
  })
  const counts = new Map<string, number>()
  points.forEach((count, shell) => {
    const key = `${count} ${polygons[shell]}`
    counts.set(key, (counts.get(key) ?? 0) + 1)
  })
  return counts
}

/** Of several readings the one whose corners have the master's UVs, or whose points stand first in the file. */
function choose(readings: readonly Reading[], mesh: Mesh, masterUvs: ReadonlySet<number | null>): Reading {
  if (readings.length === 1) return readings[0]!
  const [set] = mesh.uvSets
  const score = ({ faces, corners }: Reading): [uvs: number, order: number] => {
    let uvs = 0
    let order = 0
    faces.forEach((face, at) => {
      const corner = 4 * face + corners[at]!
      order += mesh.faceVertices[corner]!
      const uv = set ? set.indices[corner]! : -1
      if (set && uv >= 0 && masterUvs.has(uvKey(set, uv))) uvs++
    })
    return [uvs, order]
  }
  const scored = readings.map((reading) => ({ reading, score: score(reading) }))
  scored.sort((a, b) => b.score[0] - a.score[0] || a.score[1] - b.score[1])
  return scored[0]!.reading
}

/**
 * The cage of a mesh that came back subdivided into quads, once to five times (Catmull-Clark or linear: both give the
 * same polygons), found by how it hangs together. Points that were split at seams are joined for it.
 *
 * @returns null where the returned mesh is no such refinement of the master's.
 */
export function findCage(master: Mesh, returned: Mesh): Cage | null {
  const expected = levelsOf(master, returned)
  if (!expected) return null
  let mesh = returned
  if (usedPoints(mesh) !== expected.points) {
    if (usedPoints(mesh) < expected.points || !mesh.points.every(Number.isFinite)) return null
    const welds = findWelds(mesh.points, diagonalOf(boundsOf(mesh.points)) * POSITION_REACH * 0.01)
    if (countWelds(welds) === 0) return null
    mesh = mergePoints(mesh, welds)
    if (usedPoints(mesh) !== expected.points || faceCountOf(mesh) !== faceCountOf(returned)) return null
  }
  const [set] = master.uvSets
  const masterUvs = new Set(
    set ? Array.from({ length: set.values.length / 2 }, (_uv, at) => uvKey(set, at)) : [],
  )
  const wanted = pieceCounts(master)
  for (let level = expected.levels; level > 0; level--) {
    const pieces = readingsOf(mesh)
    if (!pieces) return null
    const chosen: Reading[] = []
    for (const readings of pieces) {
      const fitting = readings.filter((reading) =>
        level > 1 ? reading.onlyQuads : wanted.has(`${reading.points} ${reading.polygons}`),
      )
      // pieces that hang together over a point alone count as one on the other side
      const candidates = fitting.length || level > 1 ? fitting : readings
      if (candidates.length === 0) return null
      chosen.push(choose(candidates, mesh, masterUvs))
    }
    mesh = undoLevel(mesh, chosen)
  }
  return faceCountOf(mesh) === faceCountOf(master) && usedPoints(mesh) === usedPoints(master)
    ? { mesh, levels: expected.levels }
    : null
}
