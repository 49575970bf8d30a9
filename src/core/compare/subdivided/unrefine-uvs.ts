/** UVs of a cage without what refining smooths of them, so that a layout that nobody touched is the one that left. */
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { UV_MODES } from '../../mesh/subdividing/subdivide-catmull-clark.ts'
import { EMPTY_MESH, faceCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'

/** UVs nearer than this are the same, in units of the tile: what six digits of text leave. */
const SAME_UV = 2e-6
/** The share of UVs that a way of refining has to explain to the last digits. */
const EXPLAINED = 0.5

/** For each corner of a mesh, the corner that its UV stands at after so many levels. */
export function refinedCorners(mesh: Mesh, levels: number): Uint32Array {
  const found = new Uint32Array(mesh.faceVertices.length)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    for (let corner = start; corner < end; corner++) {
      // children stand in the order of corners; that of a quad keeps its corner's place, others begin with it
      const place = end - start === 4 ? corner - start : 0
      let child = corner
      for (let level = 1; level < levels; level++) child = 4 * child + place
      found[corner] = 4 * child + place
    }
  }
  return found
}

const differs = (a: UvSet, uv: number, b: UvSet, other: number): boolean =>
  Math.abs(a.values[2 * uv]! - b.values[2 * other]!) > SAME_UV ||
  Math.abs(a.values[2 * uv + 1]! - b.values[2 * other + 1]!) > SAME_UV

/**
 * @param cornerToMaster one a corner of the cage; the master's corner, -1 for none.
 * @returns the cage with its first sets moved back by what refining the master's moves them, where a way of refining
 * explains most of them; else as it is.
 */
export function unrefineUvs(master: Mesh, cage: Mesh, levels: number, cornerToMaster: Int32Array): Mesh {
  const uvSets = cage.uvSets.map((set, at): UvSet => {
    const own = master.uvSets[at]
    if (!own) return set
    const corners = [...cornerToMaster.keys()].filter(
      (corner) =>
        cornerToMaster[corner]! >= 0 &&
        set.indices[corner]! >= 0 &&
        own.indices[cornerToMaster[corner]!]! >= 0,
    )
    const off = (expected: UvSet, expectedCorner: (corner: number) => number): number =>
      corners.filter((corner) =>
        differs(
          expected,
          expected.indices[expectedCorner(cornerToMaster[corner]!)]!,
          set,
          set.indices[corner]!,
        ),
      ).length
    let best = { off: off(own, (corner) => corner), expected: null as UvSet | null }
    if (best.off === 0) return set
    const there = refinedCorners(master, levels)
    for (const uvMode of UV_MODES) {
      const bare: Mesh = { ...EMPTY_MESH, points: master.points, faceOffsets: master.faceOffsets, faceVertices: master.faceVertices, uvSets: [own] } // prettier-ignore
      const [expected] = subdivideMesh(bare, { levels, uvMode, sharpCorners: false }).uvSets
      const found = off(expected!, (corner) => there[corner]!)
      if (found < best.off) best = { off: found, expected: expected! }
      if (found === 0) break
    }
    const { expected } = best
    if (!expected || best.off > corners.length * (1 - EXPLAINED)) return set
    // each corner has a UV of its own for that; equal ones are found again as such when they are compared
    const values = new Float64Array(2 * set.indices.length)
    const indices = set.indices.map((uv, corner) => (uv < 0 ? -1 : corner))
    set.indices.forEach((uv, corner) => {
      if (uv >= 0) values.set(set.values.subarray(2 * uv, 2 * uv + 2), 2 * corner)
    })
    for (const other of corners) {
      const corner = cornerToMaster[other]!
      const [from, to, was] = [own.indices[corner]!, expected.indices[there[corner]!]!, set.indices[other]!]
      for (let axis = 0; axis < 2; axis++) {
        const move = set.values[2 * was + axis]! - expected.values[2 * to + axis]!
        values[2 * other + axis] = own.values[2 * from + axis]! + (Math.abs(move) <= SAME_UV ? 0 : move)
      }
    }
    return { ...set, values, indices, depths: null }
  })
  return { ...cage, uvSets }
}
