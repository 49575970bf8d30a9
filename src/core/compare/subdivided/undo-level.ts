/**
 * One level of a subdivision into quads undone by how the quads hang together: in each of them a point of the coarser
 * mesh lies opposite the middle of a polygon, with the middles of two edges between them, and what is which in one quad
 * says it for its neighbours. Works from any numbering, whatever was moved.
 */
import { growingInt32, pushInt32 } from '../../base/bytes/growing.ts'
import { edgesOf, type Edges } from '../../mesh/relations/adjacency.ts'
import { plainSources, rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { faceCountOf, pointCountOf, type Mesh, type Smoothing } from '../../scene/mesh.ts'
import { createTelling } from './telling-face.ts'

const [POINT, EDGE, FACE] = [1, 2, 3] as const

/** One way to take a piece of the mesh for a refined one. */
export interface Reading {
  /** The quads of the piece. */
  readonly faces: Uint32Array
  /** For each of them, which of its four corners is a point of the coarser mesh. */
  readonly corners: Uint8Array
  /** Points and polygons that the coarser piece would have. */
  readonly points: number
  readonly polygons: number
  /** All of its polygons would be quads. */
  readonly onlyQuads: boolean
}

/** Quads that hang together over edges, in the order in which they are come to from the first. */
interface Piece {
  readonly faces: Uint32Array
  /** Four a quad: its points. */
  readonly points: Uint32Array
  /** One a quad: which of its sides it was come to over. */
  readonly entries: Uint8Array
  /** One a quad: a bit for each side that has just one other quad behind it. */
  readonly inner: Uint8Array
}

/** Room for all quads of a mesh, piece after piece. */
interface Gathered {
  readonly faces: Uint32Array
  readonly entries: Uint8Array
  readonly inner: Uint8Array
  count: number
}

function pieceFrom(
  start: number,
  { faceVertices }: Mesh,
  { edgeCorners, cornerEdges, edgeSides }: Edges,
  hasMoreSides: boolean,
  seen: Uint8Array,
  gathered: Gathered,
): Piece {
  // the piece is gathered behind those before it
  const { faces, entries, inner } = gathered
  const from = gathered.count
  let count = from
  faces[count] = start
  entries[count++] = 0
  seen[start] = 1
  for (let at = from; at < count; at++) {
    let bits = 0
    for (let step = 0; step < 4; step++) {
      const edge = cornerEdges[4 * faces[at]! + step]!
      if (edgeCorners[2 * edge + 1]! >= 0 && (!hasMoreSides || edgeSides[edge] === 2)) bits |= 1 << step
      for (let side = 0; side < 2; side++) {
        const other = edgeCorners[2 * edge + side]!
        if (other < 0) continue
        const face = other >> 2
        if (seen[face]) continue
        seen[face] = 1
        faces[count] = face
        entries[count++] = other & 3
      }
    }
    inner[at] = bits
  }
  gathered.count = count
  const own = faces.subarray(from, count)
  // side by side, as they are gone through several times
  const points = new Uint32Array(4 * own.length)
  for (let at = 0; at < own.length; at++)
    for (let step = 0; step < 4; step++) points[4 * at + step] = faceVertices[4 * own[at]! + step]!
  return { faces: own, points, entries: entries.subarray(from, count), inner: inner.subarray(from, count) }
}

/** What is worked on, laid out once for all tries. */
interface Scratch {
  /** One a point. */
  readonly labels: Uint8Array
  /** Points that have a label, as many as have one. */
  readonly labelled: Uint32Array
  /** Two a point: the ends of the edge that it is the middle of, counted from 1; 0 for none. */
  readonly ends: Uint32Array
  /** One a point: quads round the middle of a polygon. */
  readonly quads: Uint16Array
}

/** @returns null where the start can't be so, or the piece is no refined one. */
function readPiece(
  { faces, points: corners, entries, inner }: Piece,
  first: number,
  { labels, labelled, ends, quads }: Scratch,
): Reading | null {
  const turns = new Uint8Array(faces.length)
  let labelledCount = 0
  const forget = (): null => {
    for (let at = 0; at < labelledCount; at++) labels[labelled[at]!] = 0
    return null
  }
  const say = (point: number, label: number): boolean => {
    if (labels[point] === 0) {
      labels[point] = label
      labelled[labelledCount++] = point
    }
    return labels[point] === label
  }
  for (let at = 0; at < faces.length; at++) {
    let turn = -1
    if (at === 0) turn = first
    else
      // the shared edge runs between an edge's middle and one of the other two
      for (let end = 0; end < 2; end++) {
        const step = (entries[at]! + end) & 3
        const label = labels[corners[4 * at + step]!]
        if (label === POINT) turn = step
        else if (label === FACE) turn = (step + 2) & 3
      }
    if (turn < 0) return forget()
    turns[at] = turn
    // both sides at the middle of its polygon have a quad behind them; that ends most wrong tries at once
    if (((inner[at]! >> ((turn + 1) & 3)) & 1) === 0 || ((inner[at]! >> ((turn + 2) & 3)) & 1) === 0)
      return forget()
    const corner = (step: number): number => corners[4 * at + ((turn + step) & 3)]!
    if (!say(corner(0), POINT) || !say(corner(1), EDGE) || !say(corner(2), FACE) || !say(corner(3), EDGE))
      return forget()
  }
  // a middle of an edge has two ends, a middle of a polygon quads all round
  const known = labelled.subarray(0, labelledCount)
  for (const point of known) ends[2 * point] = ends[2 * point + 1] = quads[point] = 0
  for (let at = 0; at < faces.length; at++) {
    const turn = turns[at]!
    const own = corners[4 * at + turn]! + 1
    for (let step = 1; step < 4; step += 2) {
      const middle = 2 * corners[4 * at + ((turn + step) & 3)]!
      if (ends[middle] === 0) ends[middle] = own
      else if (ends[middle] !== own && ends[middle + 1] === 0) ends[middle + 1] = own
      else if (ends[middle] !== own && ends[middle + 1] !== own) return forget()
    }
    quads[corners[4 * at + ((turn + 2) & 3)]!]!++
  }
  let points = 0
  let polygons = 0
  let onlyQuads = true
  for (const point of known) {
    if (labels[point] === POINT) points++
    else if (labels[point] === EDGE) {
      if (ends[2 * point + 1] === 0) return forget()
    } else {
      polygons++
      if (quads[point]! < 3) return forget()
      if (quads[point] !== 4) onlyQuads = false
    }
  }
  forget()
  return { faces, corners: turns, points, polygons, onlyQuads }
}

/** For each piece of a mesh of quads alone, the ways to take it for a refined one; null where one has none. */
export function readingsOf(mesh: Mesh): Reading[][] | null {
  const faceCount = faceCountOf(mesh)
  if (mesh.faceVertices.length !== 4 * faceCount || faceCount === 0) return null
  for (let face = 0; face < faceCount; face++) if (mesh.faceOffsets[face] !== 4 * face) return null
  const edges = edgesOf(mesh)
  const hasMoreSides = edges.edgeSides.some((sides) => sides > 2)
  const seen = new Uint8Array(faceCount)
  const scratch: Scratch = {
    labels: new Uint8Array(pointCountOf(mesh)),
    labelled: new Uint32Array(pointCountOf(mesh)),
    ends: new Uint32Array(2 * pointCountOf(mesh)),
    quads: new Uint16Array(pointCountOf(mesh)),
  }
  const gathered: Gathered = {
    faces: new Uint32Array(faceCount),
    entries: new Uint8Array(faceCount),
    inner: new Uint8Array(faceCount),
    count: 0,
  }
  const pieces: Reading[][] = []
  for (let start = 0; start < faceCount; start++) {
    if (seen[start]) continue
    const piece = pieceFrom(start, mesh, edges, hasMoreSides, seen, gathered)
    const readings = [0, 1, 2, 3].flatMap((first) => readPiece(piece, first, scratch) ?? [])
    if (readings.length === 0) return null
    pieces.push(readings)
  }
  return pieces
}

/** Hard edges whose halves are both hard. */
function coarseSmoothing(smoothing: Smoothing | null, ends: Uint32Array): Smoothing | null {
  if (smoothing?.kind !== 'edges') return smoothing
  const halves = new Map<number, number>()
  const whole: number[] = []
  const { hardEdgePoints } = smoothing
  for (let at = 0; at < hardEdgePoints.length; at += 2)
    for (const middle of [hardEdgePoints[at]!, hardEdgePoints[at + 1]!]) {
      if (ends[2 * middle + 1] === 0) continue
      halves.set(middle, (halves.get(middle) ?? 0) + 1)
      if (halves.get(middle) === 2) whole.push(ends[2 * middle]! - 1, ends[2 * middle + 1]! - 1)
    }
  return { kind: 'edges', hardEdgePoints: Uint32Array.from(whole) }
}

/**
 * The coarser mesh, its points where those that descend from them lie now, with what its corners and polygons had.
 * Normals go: they are of the finer surface. Creases go, since what is left of their sharpness does not say what it was.
 */
export function undoLevel(mesh: Mesh, pieces: readonly Reading[]): Mesh {
  const { faceVertices } = mesh
  const pointCount = pointCountOf(mesh)
  const { cornerEdges, edgeCorners } = edgesOf(mesh)
  const faceCount = faceCountOf(mesh)
  const turnOf = new Int8Array(faceCount).fill(-1)
  const kept = new Uint8Array(pointCount)
  const ends = new Uint32Array(2 * pointCount)
  const nextQuad = new Int32Array(faceCount).fill(-1)
  const firstAt = new Int32Array(pointCount).fill(-1)
  const centres: number[] = []
  for (const { faces, corners } of pieces)
    for (let at = 0; at < faces.length; at++) {
      const face = faces[at]!
      const turn = corners[at]!
      turnOf[face] = turn
      const point = faceVertices[4 * face + turn]!
      kept[point] = 1
      for (let step = 1; step < 4; step += 2) {
        const middle = 2 * faceVertices[4 * face + ((turn + step) & 3)]!
        if (ends[middle] === 0) ends[middle] = point + 1
        else if (ends[middle] !== point + 1) ends[middle + 1] = point + 1
      }
      const centre = faceVertices[4 * face + ((turn + 2) & 3)]!
      if (firstAt[centre]! < 0) {
        firstAt[centre] = face
        centres.push(centre)
      }
      // over the edge from the middle of the polygon's next edge to its own middle stands its next corner
      const edge = cornerEdges[4 * face + ((turn + 1) & 3)]!
      for (let side = 0; side < 2; side++) {
        const other = edgeCorners[2 * edge + side]!
        if (other >= 0 && other >> 2 !== face) nextQuad[face] = other >> 2
      }
    }
  const faceOffsets = new Uint32Array(centres.length + 1)
  // each quad stands for one corner, but for what no polygon closes round
  const cornerSources = growingInt32(faceCount)
  const faceSources = new Int32Array(centres.length)
  const tellingFace = createTelling(mesh)
  const finer: number[] = []
  for (let polygon = 0; polygon < centres.length; polygon++) {
    const first = firstAt[centres[polygon]!]!
    let face = first
    finer.length = 0
    do {
      finer.push(face)
      pushInt32(cornerSources, 4 * face + turnOf[face]!)
      face = nextQuad[face]!
    } while (face !== first && face >= 0 && cornerSources.length - faceOffsets[polygon]! <= pointCount)
    faceOffsets[polygon + 1] = cornerSources.length
    faceSources[polygon] = tellingFace(finer)
  }
  return rebuildCoarse(mesh, {
    kept,
    ends,
    faceOffsets,
    cornerSources: cornerSources.array.slice(0, cornerSources.length),
    faceSources,
  })
}

/** A coarser mesh as elements of the finer one. */
export interface Coarse {
  /** One a point of the finer mesh; 1 for those that stay. */
  readonly kept: Uint8Array
  /** Two a point: the ends of the edge that it is the middle of, counted from 1; 0 for none. */
  readonly ends: Uint32Array
  readonly faceOffsets: Uint32Array
  /** One a coarse corner; a corner of the finer mesh at a point that stays. */
  readonly cornerSources: Int32Array
  readonly faceSources: Int32Array
}

/** The coarser mesh with what its corners and polygons had; normals and creases go. */
export function rebuildCoarse(
  mesh: Mesh,
  { kept, ends, faceOffsets, cornerSources, faceSources }: Coarse,
): Mesh {
  const newOf = new Int32Array(kept.length).fill(-1)
  let count = 0
  for (let point = 0; point < kept.length; point++) if (kept[point]) newOf[point] = count++
  const sources = new Int32Array(count)
  for (let point = 0; point < kept.length; point++) if (kept[point]) sources[newOf[point]!] = point
  const faceVertices = new Uint32Array(cornerSources.length)
  for (let corner = 0; corner < faceVertices.length; corner++)
    faceVertices[corner] = newOf[mesh.faceVertices[cornerSources[corner]!]!]!
  const rebuilt = rebuildMesh(
    {
      ...mesh,
      normals: null,
      creases: null,
      smoothing: mesh.smoothing?.kind === 'edges' ? null : mesh.smoothing,
    },
    {
      pointSources: plainSources(sources),
      faceOffsets,
      faceVertices,
      cornerSources: plainSources(cornerSources),
      faceSources,
    },
  )
  if (mesh.smoothing?.kind !== 'edges') return rebuilt
  const coarse = coarseSmoothing(mesh.smoothing, ends) as Extract<Smoothing, { kind: 'edges' }>
  return {
    ...rebuilt,
    smoothing: { kind: 'edges', hardEdgePoints: coarse.hardEdgePoints.map((point) => newOf[point]!) },
  }
}
