/** Faces laid flat, island by island, whatever shape they come in. */
import { createUnion } from '../../mesh/relations/adjacency.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { worstStretch } from './worst-stretch.ts'
import { bordersCross } from '../flatten/borders-cross.ts'
import type { FlattenMethod } from '../flatten/distortion.ts'
import { flattenFaces, isSound, type FlatNet } from '../flatten/flatten-net.ts'
import { islandNet, piecesBetween, type IslandNet } from '../flatten/island-net.ts'
import { memoKey, type FlatMemo } from '../seams/join-charts.ts'
import { joints } from '../seams/chart-graph.ts'
import { cutsBetweenLoops } from '../seams/cut-holes.ts'
import { findCharts, seamCosts } from '../seams/find-charts.ts'
import type { LaidIsland } from './laid-island.ts'

/** Side of what has no shape, by the mean side of a polygon. */
const SMALL = 0.2

export interface LayOptions {
  readonly method: FlattenMethod
  /** How much a found island may be stretched, see `FlatStretch`. */
  readonly distortion: number
  readonly rounds: number
  /** How many times larger, smaller or longer than even a polygon may lie; an island with one beyond it is cut further. */
  readonly worst?: number | null
  /** Found islands that sprawl are cut in half. */
  readonly halves?: boolean
  /** Which way is up in the mesh's own space: from below seams are seen least. */
  readonly up?: readonly [number, number, number] | null
  /** false: pieces with holes are cut open even where they lie flat as they are. */
  readonly ringsWhole?: boolean
}

export interface LaidFaces {
  readonly islands: readonly LaidIsland[]
  /** Pieces that were closed or had holes, and were cut so that they can lie flat. */
  readonly cutOpen: number
  /** Pieces that would have lain over themselves or turned over, and were cut into smaller ones. */
  readonly cutApart: number
  /** Faces without a shape of their own, which lie as small regular ones. */
  readonly shapeless: readonly number[]
  /** Edges that more than two faces share, or two that face opposite ways; cut there. */
  readonly cutEdges: number
}

/** Rounds after which it is looked whether the island lies over itself; the last state that doesn't is kept. */
const STAGES = [6, 14]

/**
 * @param isOwn faceCount flags; null: all faces.
 * @param isSeam edgeCount flags; null: seams are found, but never across those in `isBarrier`.
 */
export function layFaces(
  facts: MeshFacts,
  isOwn: Uint8Array | null,
  isSeam: Uint8Array | null,
  isBarrier: Uint8Array | null,
  options: LayOptions,
): LaidFaces {
  const { edgeCount } = facts.edges()
  const { faceCount } = facts
  const islands: LaidIsland[] = []
  const shapeless: number[] = []
  let [cutOpen, cutApart] = [0, 0]
  // cuts that a piece needs are noted in it for as long as it is laid
  const seams = (isSeam ?? isBarrier)?.slice() ?? new Uint8Array(edgeCount)
  let costs: Float64Array | null = null
  const costsOf = (): Float64Array => (costs ??= seamCosts(facts, joints(facts), options.up ?? null))
  let small = 0
  /** What has no shape is drawn smaller than what has one, and not too small to be seen. */
  const smallSize = (): number => {
    if (small > 0) return small
    const side = Math.sqrt(facts.faceAreas().reduce((sum, area) => sum + area, 0) / faceCount)
    const diagonal = facts.diagonal()
    small = SMALL * (side > DOT * diagonal ? side : diagonal || 1)
    return small
  }
  let open: number[][]
  let kept: FlatMemo = new Map()
  if (isSeam) {
    const { facePieces, pieceCount } = piecesBetween(facts, isSeam)
    open = listsOf(
      Int32Array.from(facePieces, (piece, face) => (!isOwn || isOwn[face] ? piece : -1)),
      pieceCount,
    )
    // of a piece some faces may be left out: what is left may be several
    if (isOwn) open = open.flatMap((faces) => connected(facts, faces, isSeam))
  } else {
    const found = findCharts(facts, {
      distortion: options.distortion,
      isBarrier: seams,
      isOwn,
      costs: costsOf(),
      halves: options.halves === true,
    })
    kept = found.kept
    open = listsOf(found.faceCharts, found.chartCount)
  }
  for (let pass = 0; open.length > 0; pass++) {
    const bent = new Uint8Array(faceCount)
    let bentCount = 0
    for (const faces of open) {
      if (hasNoSize(facts, faces)) {
        for (const face of faces) {
          islands.push(regular(facts, face, seams, smallSize()))
          shapeless.push(face)
        }
        continue
      }
      const laid = layPiece(facts, faces, seams, options, costsOf, kept)
      if (laid) {
        islands.push(laid.island)
        if (laid.wasCut) cutOpen++
      } else if (faces.length === 1) {
        islands.push(regular(facts, faces[0]!, seams, smallSize()))
        shapeless.push(faces[0]!)
      } else {
        bentCount++
        for (const face of faces) bent[face] = 1
        if (isClosed(facts, faces, seams)) cutOpen++
        else cutApart++
      }
    }
    if (bentCount === 0) break
    // in charts first, then face by face: that always ends
    if (pass === 0) {
      const { faceCharts, chartCount } = findCharts(facts, {
        distortion: options.distortion / (isSeam ? 1 : 2),
        isBarrier: seams,
        isOwn: bent,
        costs: costsOf(),
      })
      open = listsOf(faceCharts, chartCount)
    } else open = Array.from(bent, (flag, face) => (flag ? [face] : [])).filter(({ length }) => length > 0)
  }
  islands.sort((a, b) => a.net.faces[0]! - b.net.faces[0]!)
  return { islands, cutOpen, cutApart, shapeless, cutEdges: countCutEdges(facts, isOwn) }
}

function countCutEdges(facts: MeshFacts, isOwn: Uint8Array | null): number {
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const { faceVertices } = facts.mesh
  let count = 0
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge]! < 2) continue
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    if (isOwn && !(isOwn[cornerFaces[a]!] && isOwn[cornerFaces[b]!])) continue
    if (edgeSides[edge]! > 2 || (faceVertices[a] === faceVertices[b] && cornerFaces[a] !== cornerFaces[b]))
      count++
  }
  return count
}

function listsOf(numbers: Int32Array, count: number): number[][] {
  const lists: number[][] = Array.from({ length: count }, () => [])
  numbers.forEach((number, face) => {
    if (number >= 0) lists[number]!.push(face)
  })
  return lists.filter(({ length }) => length > 0)
}

/** Faces by what hangs together among them. */
function connected(facts: MeshFacts, faces: readonly number[], isSeam: Uint8Array): number[][] {
  const net = islandNet(facts, faces, isSeam, false)
  const union = createUnion(faces.length)
  const holders = new Int32Array(net.vertexCount).fill(-1)
  faces.forEach((_, at) => {
    for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
      const vertex = net.vertices[k]!
      if (holders[vertex]! < 0) holders[vertex] = at
      else union.join(holders[vertex]!, at)
    }
  })
  const lists = new Map<number, number[]>()
  faces.forEach((face, at) => {
    const root = union.rootOf(at)
    const held = lists.get(root)
    if (held) held.push(face)
    else lists.set(root, [face])
  })
  return [...lists.values()]
}

const isClosed = (facts: MeshFacts, faces: readonly number[], isSeam: Uint8Array): boolean =>
  islandNet(facts, faces, isSeam, false).loops.length === 0

/** @returns null where the piece has to be cut first. */
function layPiece(
  facts: MeshFacts,
  faces: readonly number[],
  isSeam: Uint8Array,
  options: LayOptions,
  costsOf: () => Float64Array,
  kept: FlatMemo,
): { island: LaidIsland; wasCut: boolean } | null {
  const net = islandNet(facts, faces, isSeam, false)
  if (net.loops.length === 0 || net.euler !== 2 - net.loops.length) return null
  const alone = faces.length === 1 ? asItIs(facts, net) : null
  if (alone) return { island: { net, flat: alone }, wasCut: false }
  const whole = relaxed(facts, faces, isSeam, options, kept.get(memoKey(faces)))
  const isRing = net.loops.length > 1
  const staysRing = options.ringsWhole !== false && whole !== null && whole.mean <= options.distortion
  if (whole && (!isRing || staysRing)) return { island: whole.island, wasCut: false }
  if (!isRing) return null
  const cuts = cutsBetweenLoops(facts, net, costsOf())
  if (cuts.length === 0) return null
  for (const edge of cuts) isSeam[edge] = 1
  const cut = relaxed(facts, faces, isSeam, options)
  for (const edge of cuts) isSeam[edge] = 0
  return cut ? { island: cut.island, wasCut: true } : null
}

const isGood = (flat: FlatNet): boolean =>
  isSound(flat.net, flat.flat()) && !bordersCross(flat.net, flat.flat())

/** How far corners may lie off a polygon's plane for it to be flat, as a share of its size. */
const PLANE = 1e-6

/** A flat polygon seen from its front; null where it is bent, or turns over when it is cut into triangles. */
function asItIs(facts: MeshFacts, net: IslandNet): Float64Array | null {
  const points = facts.points()
  const face = 3 * net.faces[0]!
  const normals = facts.faceNormals()
  const length = Math.hypot(normals[face]!, normals[face + 1]!, normals[face + 2]!)
  if (!(length > 0)) return null
  const [x, y, z] = [0, 1, 2].map((axis) => normals[face + axis]! / length) as [number, number, number]
  // two directions across it (Duff et al. 2017)
  const sign = z < 0 ? -1 : 1
  const a = -1 / (sign + z)
  const b = x * y * a
  const [ux, uy, uz] = [1 + sign * x * x * a, sign * b, -sign * x]
  const [vx, vy, vz] = [b, sign + y * y * a, -y]
  const first = 3 * net.vertexPoints[0]!
  const flat = new Float64Array(2 * net.vertexCount)
  let [off, size] = [0, 0]
  for (let vertex = 0; vertex < net.vertexCount; vertex++) {
    const at = 3 * net.vertexPoints[vertex]!
    const [px, py, pz] = [0, 1, 2].map((axis) => points[at + axis]! - points[first + axis]!) as [
      number,
      number,
      number,
    ]
    flat[2 * vertex] = ux * px + uy * py + uz * pz
    flat[2 * vertex + 1] = vx * px + vy * py + vz * pz
    off = Math.max(off, Math.abs(x * px + y * py + z * pz))
    size = Math.max(size, Math.hypot(px, py, pz))
  }
  return off <= PLANE * size && isSound(net, flat) && !bordersCross(net, flat) ? flat : null
}

function relaxed(
  facts: MeshFacts,
  faces: readonly number[],
  isSeam: Uint8Array,
  { method, rounds, worst = null }: LayOptions,
  laid: FlatNet | null = null,
): { island: LaidIsland; mean: number } | null {
  const flat = laid ?? flattenFaces(facts, faces, isSeam)
  if (!flat) return null
  let best = isGood(flat) ? flat.flat() : null
  let done = 0
  for (const most of [...STAGES, Infinity]) {
    const some = Math.min(most, rounds - done)
    if (some <= 0) break
    const took = flat.relax(method, some)
    done += took
    if (isGood(flat)) best = flat.flat()
    if (took < some) break
  }
  if (!best || (worst !== null && worstStretch(facts, { net: flat.net, flat: best }) > worst)) return null
  return { island: { net: flat.net, flat: best }, mean: flat.stretch().mean }
}

/** Area by squared sides below which faces are needles or lines, and side by the model's diagonal below which they are dots. */
const [NEEDLE, DOT] = [1e-9, 1e-8]

/** Whether faces together have no shape to speak of: they lie on a line, or on one spot. */
export function hasNoSize(facts: MeshFacts, faces: ArrayLike<number>): boolean {
  const areas = facts.faceAreas()
  const points = facts.points()
  const { faceOffsets, faceVertices } = facts.mesh
  let [area, squares] = [0, 0]
  for (let at = 0; at < faces.length; at++) {
    area += areas[faces[at]!]!
    const [start, end] = [faceOffsets[faces[at]!]!, faceOffsets[faces[at]! + 1]!]
    for (let corner = start; corner < end; corner++) {
      const p = 3 * faceVertices[corner]!
      const q = 3 * faceVertices[corner + 1 < end ? corner + 1 : start]!
      squares +=
        (points[q]! - points[p]!) ** 2 +
        (points[q + 1]! - points[p + 1]!) ** 2 +
        (points[q + 2]! - points[p + 2]!) ** 2
    }
  }
  return !(area > NEEDLE * squares && area > (DOT * facts.diagonal()) ** 2)
}

/** A face that nothing can be said of, as a small regular polygon. */
function regular(facts: MeshFacts, face: number, isSeam: Uint8Array, size: number): LaidIsland {
  const net: IslandNet = islandNet(facts, [face], isSeam, false)
  const flat = new Float64Array(2 * net.vertexCount)
  const count = net.faceStarts[1]!
  for (let corner = 0; corner < count; corner++) {
    const angle = (2 * Math.PI * corner) / Math.max(3, count)
    flat[2 * net.vertices[corner]!] = (size / 2) * Math.cos(angle)
    flat[2 * net.vertices[corner]! + 1] = (size / 2) * Math.sin(angle)
  }
  return { net, flat }
}
