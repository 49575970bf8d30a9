/** Measures of a UV set: areas, seams, stretch, density. UV units throughout: 1 is the side of a tile. */
import type { MeshFacts } from '../mesh/relations/mesh-facts.ts'
import { nextCorner } from '../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../scene/mesh.ts'

/** True where every corner of the face has a UV and all of them are finite numbers. */
export function isMapped(mesh: Mesh, set: UvSet, face: number): boolean {
  for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
    const uv = set.indices[corner]!
    if (uv < 0 || !Number.isFinite(set.values[2 * uv]! + set.values[2 * uv + 1]!)) return false
  }
  return true
}

/** faceCount signed areas, positive where the UVs wind as the face does; NaN for faces not wholly mapped. */
export function uvAreas(mesh: Mesh, set: UvSet): Float64Array {
  const faceCount = mesh.faceOffsets.length - 1
  const areas = new Float64Array(faceCount)
  const { values, indices } = set
  for (let face = 0; face < faceCount; face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    const first = indices[start]!
    if (first < 0) {
      areas[face] = NaN
      continue
    }
    const ou = values[2 * first]!
    const ov = values[2 * first + 1]!
    let doubled = 0
    let au = 0
    let av = 0
    for (let corner = start + 1; corner < end; corner++) {
      const uv = indices[corner]!
      if (uv < 0) {
        doubled = NaN
        break
      }
      const bu = values[2 * uv]! - ou
      const bv = values[2 * uv + 1]! - ov
      doubled += au * bv - av * bu
      au = bu
      av = bv
    }
    areas[face] = Number.isFinite(doubled) ? doubled / 2 : NaN
  }
  return areas
}

/** edgeCount flags: 1 where the two faces of an edge have other UVs at one of its points. Borders are none. */
export function findSeams(facts: MeshFacts, set: UvSet): Uint8Array {
  const { mesh } = facts
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const seams = new Uint8Array(edgeCount)
  const differ = (a: number, b: number): boolean => {
    const i = set.indices[a]!
    const j = set.indices[b]!
    if (i === j) return false
    if (i < 0 || j < 0) return true
    return set.values[2 * i] !== set.values[2 * j] || set.values[2 * i + 1] !== set.values[2 * j + 1]
  }
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 2) continue
    const a = edgeCorners[2 * edge]!
    const b = edgeCorners[2 * edge + 1]!
    const aNext = nextCorner(mesh, cornerFaces[a]!, a)
    const bNext = nextCorner(mesh, cornerFaces[b]!, b)
    const same = mesh.faceVertices[a] === mesh.faceVertices[b]
    if (differ(a, same ? b : bNext) || differ(aNext, same ? bNext : b)) seams[edge] = 1
  }
  return seams
}

export interface Stretch {
  /** faceCount; area in UV by area on the model, about the mean of the part: 1 is even, NaN unmapped. */
  readonly area: Float64Array
  /**
   * faceCount; how much a small circle becomes an ellipse, longer by shorter axis, 1 at least; the mean over
   * the polygon's fan weighted by area. (Sander et al. 2001, "Texture mapping progressive meshes": the
   * singular values of the map from UV to the surface.)
   */
  readonly angle: Float64Array
}

/**
 * How much room each face has in the tile beside its share of the surface: 1 is even. Faces without area or UVs have
 * none.
 */
export function measureStretch(facts: MeshFacts, set: UvSet): Stretch {
  const { mesh, faceCount } = facts
  const points = facts.points()
  const surface = facts.faceAreas()
  const flat = uvAreas(mesh, set)
  let sumFlat = 0
  let sumSurface = 0
  for (let face = 0; face < faceCount; face++)
    if (Number.isFinite(flat[face])) {
      sumFlat += Math.abs(flat[face]!)
      sumSurface += surface[face]!
    }
  const even = sumSurface > 0 ? sumFlat / sumSurface : 0
  const area = new Float64Array(faceCount).fill(NaN)
  const angle = new Float64Array(faceCount).fill(NaN)
  for (let face = 0; face < faceCount; face++) {
    if (!Number.isFinite(flat[face]) || !(surface[face]! > 0) || even === 0) continue
    area[face] = Math.abs(flat[face]!) / surface[face]! / even
    const start = mesh.faceOffsets[face]!
    let weighted = 0
    let weights = 0
    for (let corner = start + 1; corner + 1 < mesh.faceOffsets[face + 1]!; corner++) {
      const bent = triangleAnisotropy(mesh, set, points, start, corner, corner + 1)
      if (bent === null) continue
      weighted += bent.ratio * bent.area
      weights += bent.area
    }
    angle[face] = weights > 0 ? weighted / weights : Infinity
  }
  return { area, angle }
}

function triangleAnisotropy(
  mesh: Mesh,
  set: UvSet,
  points: Float64Array,
  a: number,
  b: number,
  c: number,
): { ratio: number; area: number } | null {
  const p = 3 * mesh.faceVertices[a]!
  const q = 3 * mesh.faceVertices[b]!
  const r = 3 * mesh.faceVertices[c]!
  const i = 2 * set.indices[a]!
  const j = 2 * set.indices[b]!
  const k = 2 * set.indices[c]!
  const { values } = set
  const s1 = values[j]! - values[i]!
  const t1 = values[j + 1]! - values[i + 1]!
  const s2 = values[k]! - values[i]!
  const t2 = values[k + 1]! - values[i + 1]!
  const doubled = s1 * t2 - s2 * t1
  if (doubled === 0) return null
  let ss = 0
  let tt = 0
  let st = 0
  let e11 = 0
  let e22 = 0
  let e12 = 0
  for (let axis = 0; axis < 3; axis++) {
    const e1 = points[q + axis]! - points[p + axis]!
    const e2 = points[r + axis]! - points[p + axis]!
    const along = (e1 * t2 - e2 * t1) / doubled
    const across = (e2 * s1 - e1 * s2) / doubled
    ss += along * along
    tt += across * across
    st += along * across
    e11 += e1 * e1
    e22 += e2 * e2
    e12 += e1 * e2
  }
  const area = Math.sqrt(Math.max(0, e11 * e22 - e12 * e12)) / 2
  const root = Math.sqrt((ss - tt) ** 2 + 4 * st * st)
  const larger = Math.sqrt((ss + tt + root) / 2)
  const smaller = Math.sqrt(Math.max(0, (ss + tt - root) / 2))
  return smaller > 0 ? { ratio: larger / smaller, area } : null
}
