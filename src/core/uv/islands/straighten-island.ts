/** Islands of quads in rows and columns, straightened to a grid. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { applySimilarity, fitFlat } from './fit-flat.ts'
import type { LaidIsland } from './laid-island.ts'

/**
 * Every quad becomes an upright rectangle: rows are as high and columns as wide as their sides are on the model in the
 * mean. The island stays where it is, as large as it is.
 *
 * @returns null where its polygons are no grid: not all quads, or rows that don't fit together.
 */
export function straightenIsland(facts: MeshFacts, { net, flat }: LaidIsland): LaidIsland | null {
  const { mesh } = facts
  const points = facts.points()
  const { edgeCorners, edgeSides, cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const faceCount = net.faces.length
  const local = new Map<number, number>()
  for (let at = 0; at < faceCount; at++) {
    if (net.faceStarts[at + 1]! - net.faceStarts[at]! !== 4) return null
    local.set(net.faces[at]!, at)
  }
  // the place of each quad's first corner, and which of its sides runs along the row
  const columns = new Int32Array(faceCount)
  const rows = new Int32Array(faceCount)
  const turns = new Int32Array(faceCount).fill(-1)
  /** Columns and rows of a quad's corners as they stand from a corner on, counter-clockwise. */
  const across = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ] as const
  const placeOf = (at: number, k: number): [number, number] => {
    const [c, r] = across[(k + turns[at]!) & 3]!
    return [columns[at]! + c, rows[at]! + r]
  }
  const vertexOf = (at: number, k: number): number => net.vertices[net.faceStarts[at]! + (k & 3)]!
  const gridOf = new Map<number, readonly [number, number]>()
  const note = (at: number): boolean => {
    for (let k = 0; k < 4; k++) {
      const place = placeOf(at, k)
      const known = gridOf.get(vertexOf(at, k))
      if (known && (known[0] !== place[0] || known[1] !== place[1])) return false
      gridOf.set(vertexOf(at, k), place)
    }
    return true
  }
  turns[0] = 0
  if (!note(0)) return null
  const queue = [0]
  for (let head = 0; head < queue.length; head++) {
    const at = queue[head]!
    const start = mesh.faceOffsets[net.faces[at]!]!
    for (let k = 0; k < 4; k++) {
      const edge = cornerEdges[start + k]!
      if (edgeSides[edge] !== 2) continue
      const b = edgeCorners[2 * edge] === start + k ? edgeCorners[2 * edge + 1]! : edgeCorners[2 * edge]!
      const other = local.get(cornerFaces[b]!)
      if (other === undefined || other === at) continue
      const kb = b - mesh.faceOffsets[net.faces[other]!]!
      // over a seam there is no neighbour
      if (vertexOf(other, kb + 1) !== vertexOf(at, k) || vertexOf(other, kb) !== vertexOf(at, k + 1)) continue
      if (turns[other]! >= 0) continue
      // the shared side runs the other way round there
      const [c0, r0] = placeOf(at, (k + 1) & 3)
      const [c1, r1] = placeOf(at, k)
      const step = [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ].findIndex(([c, r]) => c === c1 - c0 && r === r1 - r0)
      turns[other] = (step - kb + 8) & 3
      const [c, r] = across[(kb + turns[other]!) & 3]!
      columns[other] = c0 - c
      rows[other] = r0 - r
      if (!note(other)) return null
      queue.push(other)
    }
  }
  if (queue.length !== faceCount) return null
  // two vertices on one place of the grid: it winds round
  if (new Set([...gridOf.values()].map(([c, r]) => `${c} ${r}`)).size !== gridOf.size) return null
  const widths = new Map<number, { sum: number; count: number }>()
  const heights = new Map<number, { sum: number; count: number }>()
  for (let at = 0; at < faceCount; at++)
    for (let k = 0; k < 4; k++) {
      const [a, b] = [placeOf(at, k), placeOf(at, (k + 1) & 3)]
      const [p, q] = [3 * net.vertexPoints[vertexOf(at, k)]!, 3 * net.vertexPoints[vertexOf(at, k + 1)]!]
      const length = Math.hypot(
        points[q]! - points[p]!,
        points[q + 1]! - points[p + 1]!,
        points[q + 2]! - points[p + 2]!,
      )
      const [into, key] = a[1] === b[1] ? [widths, Math.min(a[0], b[0])] : [heights, Math.min(a[1], b[1])]
      const held = into.get(key) ?? { sum: 0, count: 0 }
      into.set(key, { sum: held.sum + length, count: held.count + 1 })
    }
  const placesAlong = (of: Map<number, { sum: number; count: number }>): Map<number, number> => {
    const keys = [...of.keys()].sort((a, b) => a - b)
    const all = [...of.values()].reduce((sum, one) => sum + one.sum / one.count, 0)
    const places = new Map<number, number>()
    let sum = 0
    for (const key of keys) {
      places.set(key, sum)
      const { sum: total, count } = of.get(key)!
      // a row of no height would lie on its neighbour
      sum += Math.max(total / count, 1e-6 * all || 1)
      places.set(key + 1, sum)
    }
    return places
  }
  const [us, vs] = [placesAlong(widths), placesAlong(heights)]
  const straight = new Float64Array(2 * net.vertexCount)
  for (const [vertex, [c, r]] of gridOf) {
    straight[2 * vertex] = us.get(c)!
    straight[2 * vertex + 1] = vs.get(r)!
  }
  // turned by quarters only, so that rows run along the axes
  const fit = fitFlat(straight, flat, false, isMirrored(net, flat))
  const quarter = Math.PI / 2
  const angle = Math.round(Math.atan2(fit.b, fit.a) / quarter) * quarter
  const size = Math.hypot(fit.a, fit.b) || 1
  const turned = applySimilarity(straight, {
    ...fit,
    a: size * Math.cos(angle),
    b: size * Math.sin(angle),
    u: 0,
    v: 0,
  })
  const [u, v] = [0, 1].map((axis) => mean(flat, axis) - mean(turned, axis)) as [number, number]
  return { net, flat: turned.map((value, at) => value + (at % 2 ? v : u)) }
}

const mean = (flat: Float64Array, axis: number): number => {
  let sum = 0
  for (let at = axis; at < flat.length; at += 2) sum += flat[at]!
  return sum / (flat.length / 2)
}

function isMirrored({ triangles }: LaidIsland['net'], flat: Float64Array): boolean {
  let sum = 0
  for (let at = 0; at < triangles.length; at += 3) {
    const [i, j, k] = [2 * triangles[at]!, 2 * triangles[at + 1]!, 2 * triangles[at + 2]!]
    sum +=
      (flat[j]! - flat[i]!) * (flat[k + 1]! - flat[i + 1]!) -
      (flat[j + 1]! - flat[i + 1]!) * (flat[k]! - flat[i]!)
  }
  return sum < 0
}
