/**
 * Parts drawn together: pieces of many parts in one geometry, sorted by look, so that thousands of small parts cost
 * as few calls as one large part; which part a triangle belongs to is known by where it stands.
 */
import * as THREE from 'three'
import type { DrawPiece } from '../../core/view/prepare-mesh.ts'
import type { DrawnMaterials } from './drawn-materials.ts'
import type { LoadedPart } from './loaded-part.ts'

/** Triangles of one batch: few enough to go to the graphics memory within a frame. */
export const BATCH_TRIANGLES = 100000

export interface Batch {
  readonly solid: THREE.Mesh
  /** Number of the look of each of its groups. */
  readonly looks: readonly number[]
  /** The part and the face of a triangle of the solid. */
  readonly at: (triangle: number) => { part: LoadedPart; face: number }
}

interface Entry {
  readonly part: LoadedPart
  readonly piece: DrawPiece
}

const WHITE_16 = 65535

export function buildBatch(entries: readonly Entry[], materials: DrawnMaterials): Batch {
  let vertexCount = 0
  let indexCount = 0
  for (const { piece } of entries) {
    vertexCount += piece.positions.length / 3
    indexCount += piece.indices.length
  }
  const [only] = entries.length === 1 ? entries : []
  const positions = only ? only.piece.positions : new Float32Array(3 * vertexCount)
  const normals = only ? only.piece.normals : new Float32Array(3 * vertexCount)
  const uvs = only ? only.piece.uvs : new Float32Array(2 * vertexCount)
  const moreUvs = (entries[0]?.piece.moreUvs ?? []).map((own) =>
    only ? own : new Float32Array(2 * vertexCount),
  )
  const colors = new Uint16Array(3 * vertexCount)
  const indices = new Uint32Array(indexCount)
  const faces = new Uint32Array(indexCount / 3)
  const firstVertex: number[] = []
  let at = 0
  for (const { piece } of entries) {
    firstVertex.push(at)
    if (!only) {
      positions.set(piece.positions, 3 * at)
      normals.set(piece.normals, 3 * at)
      uvs.set(piece.uvs, 2 * at)
      for (const [set, values] of moreUvs.entries()) values.set(piece.moreUvs[set]!, 2 * at)
    }
    at += piece.positions.length / 3
  }
  const runs = entries.flatMap(({ piece }, entry) =>
    piece.runs.map((run) => ({ entry, run, look: materials.lookOf(run.material) })),
  )
  runs.sort((a, b) => a.look - b.look)
  const geometry = new THREE.BufferGeometry()
  /** First triangle of each run, rising. */
  const starts: number[] = []
  const looks: number[] = []
  let place = 0
  let groupStart = 0
  for (const [index, { entry, run, look }] of runs.entries()) {
    const { piece } = entries[entry]!
    const base = firstVertex[entry]!
    const color = materials
      .colorOf(run.material)
      .map((value) => Math.round(Math.min(1, Math.max(0, value)) * WHITE_16))
    starts.push(place / 3)
    for (let from = run.start; from < run.start + run.size; from++, place++) {
      const vertex = piece.indices[from]! + base
      indices[place] = vertex
      colors[3 * vertex] = color[0]!
      colors[3 * vertex + 1] = color[1]!
      colors[3 * vertex + 2] = color[2]!
    }
    faces.set(piece.triangleFaces.subarray(run.start / 3, (run.start + run.size) / 3), starts[index]!)
    if (runs[index + 1]?.look !== look) {
      geometry.addGroup(groupStart, place - groupStart, looks.length)
      looks.push(look)
      groupStart = place
    }
  }
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3))
  geometry.setAttribute('uv', new THREE.BufferAttribute(uvs, 2))
  for (const [set, values] of moreUvs.entries())
    geometry.setAttribute(`uv${set + 1}`, new THREE.BufferAttribute(values, 2))
  geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3, true))
  geometry.setIndex(new THREE.BufferAttribute(indices.subarray(0, place), 1))
  return {
    solid: new THREE.Mesh(
      geometry,
      looks.map((look) => materials.looks[look]!),
    ),
    looks,
    at(triangle) {
      let low = 0
      let high = starts.length - 1
      while (low < high) {
        const middle = (low + high + 1) >> 1
        if (starts[middle]! <= triangle) low = middle
        else high = middle - 1
      }
      return { part: entries[runs[low]!.entry]!.part, face: faces[triangle]! }
    },
  }
}

/** Edges of several parts as one drawing. */
export function buildEdgeLines(
  parts: readonly LoadedPart[],
  material: THREE.LineBasicMaterial,
): THREE.LineSegments | null {
  let pointLength = 0
  let edgeLength = 0
  for (const { drawn } of parts) {
    pointLength += drawn.pointPositions.length
    edgeLength += drawn.edges().length
  }
  if (edgeLength === 0) return null
  const [only] = parts.length === 1 ? parts : []
  const positions = only ? only.drawn.pointPositions : new Float32Array(pointLength)
  const edges = only ? only.drawn.edges() : new Uint32Array(edgeLength)
  if (!only) {
    let point = 0
    let edge = 0
    for (const { drawn } of parts) {
      positions.set(drawn.pointPositions, point)
      for (const end of drawn.edges()) edges[edge++] = end + point / 3
      point += drawn.pointPositions.length
    }
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3))
  geometry.setIndex(new THREE.BufferAttribute(edges, 1))
  return new THREE.LineSegments(geometry, material)
}
