/** Which of several ways to take a piece of a mesh for a refined one is meant. */
import { boundsOf } from '../../base/math/box.ts'
import { subdividedPoints } from '../../mesh/subdividing/subdivide-mesh.ts'
import { EMPTY_MESH, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { uvKey } from '../match/evidence/uv-keys.ts'
import { nearestIn } from '../whole/nearest-points.ts'
import type { Reading } from './undo-level.ts'
import type { TriangleReading } from './undo-triangles.ts'

/** The master's points that are looked for, about, and cells along the box for it. */
const [MOST_LOOKED_FOR, CELLS] = [2000, 32]
/** A reading is meant where so many times more of them than of any other, and no fewer than these, lie on its points. */
const [CLEARLY_MORE, LEAST] = [2, 3]

/** What tells readings apart, asked for where it is needed. */
export interface ReadingEvidence {
  readonly mesh: Mesh
  /** Keys of the master's UVs. */
  readonly uvs: ReadonlySet<number | null>
  /** One a point; 1 for those that a point of the master lies nearest to. */
  readonly anchors: () => Uint8Array
}

/** @param levels by which the master was refined, and `mesh` has still to be undone or was already. */
export function readingEvidence(
  master: Mesh,
  mesh: Mesh,
  levels: number,
  uvs: ReadonlySet<number | null>,
): ReadingEvidence {
  let known: Uint8Array | null = null
  return { mesh, uvs, anchors: () => (known ??= anchorsOf(master, mesh, levels)) }
}

/** Where the master's points lie once it is refined smoothly, and without that. */
const placesOf = (master: Mesh, levels: number): readonly Float64Array[] => {
  const bare: Mesh = { ...EMPTY_MESH, points: master.points, faceOffsets: master.faceOffsets, faceVertices: master.faceVertices } // prettier-ignore
  return [subdividedPoints(bare, { levels, uvMode: 'boundaries', sharpCorners: false }), master.points]
}

function anchorsOf(master: Mesh, mesh: Mesh, levels: number): Uint8Array {
  const box = boundsOf(mesh.points)
  let best = { flags: new Uint8Array(pointCountOf(mesh)), away: Infinity }
  if (!box) return best.flags
  const nearest = nearestIn(mesh.points, box, CELLS)
  const step = Math.max(1, Math.floor(pointCountOf(master) / MOST_LOOKED_FOR))
  for (const places of placesOf(master, levels)) {
    const flags = new Uint8Array(pointCountOf(mesh))
    let away = 0
    for (let at = 0; at < pointCountOf(master); at += step) {
      const found = nearest.of(places[3 * at]!, places[3 * at + 1]!, places[3 * at + 2]!)
      if (found.point >= 0) flags[found.point] = 1
      away += found.away
    }
    if (away < best.away) best = { flags, away }
  }
  return best.flags
}

/** How far the middle of an edge may lie from there, by the edge's length, where nothing was smoothed. */
const IN_THE_MIDDLE = 1e-4

/** Whether every point that a reading takes for the middle of an edge lies there: nothing was smoothed, or moved since. */
function liesInMiddles(
  { points, faceVertices }: Mesh,
  { faces, corners }: { readonly faces: ArrayLike<number>; readonly corners: ArrayLike<number> },
): boolean {
  /** Both ends of what lies in the middle, one above it; 0 for none yet. */
  const ends = new Uint32Array(2 * (points.length / 3))
  for (let at = 0; at < faces.length; at++)
    for (const step of [1, 3]) {
      const kept = faceVertices[4 * faces[at]! + corners[at]!]! + 1
      const middle = 2 * faceVertices[4 * faces[at]! + ((corners[at]! + step) & 3)]!
      if (ends[middle] === 0) ends[middle] = kept
      else if (ends[middle] !== kept) ends[middle + 1] = kept
    }
  let looked = 0
  for (let middle = 0; middle < ends.length; middle += 2) {
    const [a, b] = [3 * (ends[middle]! - 1), 3 * (ends[middle + 1]! - 1)]
    if (a < 0 || b < 0) continue
    looked++
    let [off, length] = [0, 0]
    for (let axis = 0; axis < 3; axis++) {
      off += (points[(3 * middle) / 2 + axis]! - (points[a + axis]! + points[b + axis]!) / 2) ** 2
      length += (points[a + axis]! - points[b + axis]!) ** 2
    }
    if (!(off <= length * IN_THE_MIDDLE ** 2)) return false
  }
  return looked > 0
}

/**
 * Of several readings the one whose corners have the master's UVs, whose points stand first in the file, whose edges have
 * their middles where they are when nothing is smoothed, or on whose points the master's come to lie.
 *
 * @returns with whether nothing but a mean of numbers speaks for it.
 */
export function chooseReading<One extends Reading | TriangleReading>(
  readings: readonly One[],
  { mesh, uvs, anchors }: ReadingEvidence,
): { readonly reading: One; readonly isGuess: boolean } {
  if (readings.length === 1) return { reading: readings[0]!, isGuess: false }
  const [set] = mesh.uvSets
  const sides = mesh.faceOffsets[1]!
  /** The corners of the coarser mesh; the triangle between three middles has none. */
  const cornersOf = ({ faces, corners }: One): number[] => {
    const found: number[] = []
    for (let at = 0; at < faces.length; at++)
      if (corners[at]! < sides) found.push(sides * faces[at]! + corners[at]!)
    return found
  }
  const scored = readings.map((reading) => {
    const corners = cornersOf(reading)
    return {
      reading,
      corners,
      order: corners.reduce((sum, corner) => sum + mesh.faceVertices[corner]!, 0),
      uvs: set ? corners.filter((corner) => set.indices[corner]! >= 0 && uvs.has(uvKey(set, set.indices[corner]!))).length : 0, // prettier-ignore
    }
  })
  scored.sort((a, b) => b.uvs - a.uvs || a.order - b.order)
  const [first, second] = scored as [(typeof scored)[0], (typeof scored)[0]]
  if (first.uvs > second.uvs) return { reading: first.reading, isGuess: false }
  const alike = scored
    .filter((one) => one.uvs === first.uvs)
    .map(({ reading, corners }) => ({
      reading,
      points: new Set(corners.map((corner) => mesh.faceVertices[corner]!)),
    }))
  // tools put the points of the coarser mesh first
  const last = alike.map(({ points }) => [...points].reduce((most, point) => Math.max(most, point), 0))
  const standsFirst = alike.filter(
    (one, at) =>
    alike.every((other) => other === one || [...other.points].every((point) => point > last[at]! || one.points.has(point))), // prettier-ignore
  )
  if (standsFirst.length === 1) return { reading: standsFirst[0]!.reading, isGuess: false }
  const unmoved = sides === 4 ? alike.filter(({ reading }) => liesInMiddles(mesh, reading)) : []
  if (unmoved.length === 1) return { reading: unmoved[0]!.reading, isGuess: false }
  const flags = anchors()
  const anchored = alike
    .map((one) => ({ one, count: [...one.points].filter((point) => flags[point]).length }))
    .sort((a, b) => b.count - a.count)
  const isClear = anchored[0]!.count >= Math.max(LEAST, CLEARLY_MORE * anchored[1]!.count)
  return isClear ? { reading: anchored[0]!.one.reading, isGuess: false } : { reading: first.reading, isGuess: true } // prettier-ignore
}
