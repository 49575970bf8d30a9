import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { POSITION_REACH } from '../match/correspond.ts'
import { uvKey } from '../match/evidence/uv-keys.ts'
import { findShells } from '../regroup/shells.ts'
import { findCutCage } from './find-cut-cage.ts'
import type { CageCorrespondence } from './build-cage.ts'
import { chooseReading, readingEvidence } from './choose-reading.ts'
import { readingsOf, undoLevel, type Reading } from './undo-level.ts'
import { triangleReadingsOf, undoTriangles, type TriangleReading } from './undo-triangles.ts'

export const MOST_LEVELS = 5

export interface Cage {
  /** The returned mesh without its levels: points where those that descend from them lie now. */
  readonly mesh: Mesh
  /** Polygons that were edited after it was refined: they are in the mesh as fine as they came. */
  readonly rest?: number
  /** Which of its elements are the master's, where that was known before it was found; absent: it is found out. */
  readonly known?: CageCorrespondence
  /** Another reading of its polygons would give another cage as good. */
  readonly isGuess: boolean
  readonly levels: number
  readonly kind: Refinement['kinds'][number]
}

const usedByVertices = new WeakMap<Uint32Array, number>()

/** How many points a mesh's polygons use; asked for several times of the same polygons. */
function usedPoints(mesh: Mesh): number {
  const { faceVertices } = mesh
  const known = usedByVertices.get(faceVertices)
  if (known !== undefined) return known
  const used = new Uint8Array(pointCountOf(mesh))
  for (let corner = 0; corner < faceVertices.length; corner++) used[faceVertices[corner]!] = 1
  let count = 0
  for (let point = 0; point < used.length; point++) count += used[point]!
  usedByVertices.set(faceVertices, count)
  return count
}

/** What a mesh was refined into. */
export interface Refinement {
  readonly levels: number
  /** That it then has. */
  readonly points: number
  /** 'quads': polygons into quads; 'cut': those cut into triangles; 'triangles': triangles into four. */
  readonly kinds: readonly ('quads' | 'cut' | 'triangles')[]
}

/** Whether refining a mesh can give so many polygons: quads, those cut into triangles, or its triangles into four. */
export function isRefinedCount(master: Mesh, faces: number): boolean {
  const corners = cornerCountOf(master)
  return [corners, 2 * corners, 4 * (corners - 2 * faceCountOf(master))].some((first) =>
    Array.from({ length: MOST_LEVELS }, (_value, level) => first * 4 ** level).includes(faces),
  )
}

/** How many levels give as many polygons, and the points that it then has; null for none. */
export function levelsOf(master: Mesh, returned: Mesh): Refinement | null {
  const [corners, came] = [cornerCountOf(master), faceCountOf(returned)]
  const sides = cornerCountOf(returned) / Math.max(1, came)
  if (corners === 0 || (sides !== 3 && sides !== 4)) return null
  const found = new Map<string, { levels: number; points: number; kinds: Refinement['kinds'][number][] }>()
  const add = (levels: number, points: number, kind: Refinement['kinds'][number]): void => {
    const known = found.get(`${levels} ${points}`)
    if (known) known.kinds.push(kind)
    else found.set(`${levels} ${points}`, { levels, points, kinds: [kind] })
  }
  // edges are counted only where the polygons could be as many
  if (!isRefinedCount(master, came)) return null
  const edgeCount = edgesOf(master).edgeCount
  const triangleCount = corners - 2 * faceCountOf(master)
  let triangles = { faces: triangleCount, edges: edgeCount + corners - 3 * faceCountOf(master), points: usedPoints(master) } // prettier-ignore
  let quads = { faces: corners, edges: 2 * edgeCount + corners, points: usedPoints(master) + edgeCount + faceCountOf(master) } // prettier-ignore
  for (let levels = 1; levels <= MOST_LEVELS; levels++) {
    const { faces, edges, points } = triangles
    triangles = { faces: 4 * faces, edges: 2 * edges + 3 * faces, points: points + edges }
    if (sides === 3 && triangles.faces === came) add(levels, triangles.points, 'triangles')
    if (quads.faces * (sides === 3 ? 2 : 1) === came) add(levels, quads.points, sides === 3 ? 'cut' : 'quads')
    quads = { faces: 4 * quads.faces, edges: 2 * quads.edges + 4 * quads.faces, points: quads.points + quads.edges + quads.faces } // prettier-ignore
  }
  const [only] = found.values()
  // of two that fit by their polygons the one whose points fit
  return [...found.values()].find(({ points }) => points === usedPoints(returned)) ?? only ?? null
}

/** How many points and polygons, or triangles, each piece of a mesh has. */
function pieceCounts(mesh: Mesh, inTriangles: boolean): Set<string> {
  const shells = findShells(mesh)
  const points = new Uint32Array(shells.count)
  const polygons = new Uint32Array(shells.count)
  const seen = new Uint8Array(pointCountOf(mesh))
  shells.ofFace.forEach((shell, face) => {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    polygons[shell]! += inTriangles ? end - start - 2 : 1
    for (let corner = start; corner < end; corner++) {
      const point = mesh.faceVertices[corner]!
      if (!seen[point]) points[shell]!++
      seen[point] = 1
    }
  })
  return new Set(Array.from(points, (count, shell) => `${count} ${polygons[shell]}`))
}

/** Points that were split at seams joined, where it has as many as it should then; null where it never has. */
function withPoints(mesh: Mesh, pointCount: number): Mesh | null {
  if (usedPoints(mesh) === pointCount) return mesh
  if (usedPoints(mesh) < pointCount || !mesh.points.every(Number.isFinite)) return null
  const welds = findWelds(mesh.points, diagonalOf(boundsOf(mesh.points)) * POSITION_REACH * 0.01)
  if (countWelds(welds) === 0) return null
  const welded = mergePoints(mesh, welds)
  return usedPoints(welded) === pointCount && faceCountOf(welded) === faceCountOf(mesh) ? welded : null
}

/** The levels undone one after the other by how the polygons hang together; null where one can't be. */
export function undoLevels(
  master: Mesh,
  refined: Mesh,
  levels: number,
  kind: 'quads' | 'triangles',
): { readonly mesh: Mesh; readonly isGuess: boolean } | null {
  const inTriangles = kind === 'triangles'
  const [set] = master.uvSets
  const masterUvs = new Set(
    set ? Array.from({ length: set.values.length / 2 }, (_uv, at) => uvKey(set, at)) : [],
  )
  const wanted = pieceCounts(master, inTriangles)
  let isGuess = false
  const chosenOf = <One extends Reading | TriangleReading>(
    pieces: readonly One[][] | null,
    mesh: Mesh,
    fits: (reading: One) => boolean,
    onlyFitting: boolean,
  ): One[] | null => {
    const chosen: One[] = []
    const evidence = readingEvidence(master, mesh, levels, masterUvs)
    for (const readings of pieces ?? []) {
      const fitting = readings.filter(fits)
      // pieces that hang together over a point alone count as one on the other side
      const candidates = fitting.length || onlyFitting ? fitting : readings
      if (candidates.length === 0) return null
      const found = chooseReading(candidates, evidence)
      isGuess ||= found.isGuess
      chosen.push(found.reading)
    }
    return pieces && chosen
  }
  let mesh = refined
  for (let level = levels; level > 0; level--) {
    const counted = ({ points, polygons }: Reading | TriangleReading): boolean =>
      wanted.has(`${points} ${polygons}`)
    if (inTriangles) {
      const chosen = chosenOf(
        triangleReadingsOf(mesh),
        mesh,
        (reading) => level > 1 || counted(reading),
        false,
      )
      if (!chosen) return null
      mesh = undoTriangles(mesh, chosen)
    } else {
      const chosen = chosenOf(
        readingsOf(mesh),
        mesh,
        (reading) => (level > 1 ? reading.onlyQuads : counted(reading)),
        level > 1,
      )
      if (!chosen) return null
      mesh = undoLevel(mesh, chosen)
    }
  }
  return { mesh, isGuess }
}

/** As {@link undoLevels}; null as well where it has other points or polygons than the master then. */
function undoAll(
  master: Mesh,
  refined: Mesh,
  levels: number,
  kind: 'quads' | 'triangles',
): ReturnType<typeof undoLevels> {
  const undone = undoLevels(master, refined, levels, kind)
  const polygons = kind === 'triangles' ? cornerCountOf(master) - 2 * faceCountOf(master) : faceCountOf(master) // prettier-ignore
  return undone && faceCountOf(undone.mesh) === polygons && usedPoints(undone.mesh) === usedPoints(master) ? undone : null // prettier-ignore
}

/**
 * The cage of a mesh that came back subdivided, once to five times: into quads (Catmull-Clark or linear: both give the
 * same polygons), into those cut into triangles, or its triangles into four (Loop, or linear), found by how it hangs
 * together. Points that were split at seams are joined for it. A cage that was found among triangles of four is in
 * triangles itself.
 *
 * @returns null where the returned mesh is no such refinement of the master's.
 */
export function findCage(master: Mesh, returned: Mesh): Cage | null {
  const expected = levelsOf(master, returned)
  if (!expected) return null
  const { levels, kinds } = expected
  const refined = withPoints(returned, expected.points)
  if (!refined) return null
  for (const kind of ['quads', 'triangles', 'cut'] as const) {
    if (!kinds.includes(kind)) continue
    if (kind === 'cut') {
      const mesh = findCutCage(master, refined, levels)
      if (mesh) return { mesh, levels, kind, isGuess: false }
      continue
    }
    const undone = undoAll(master, refined, levels, kind)
    if (undone) return { ...undone, levels, kind }
  }
  return null
}
