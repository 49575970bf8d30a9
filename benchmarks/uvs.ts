/** Surfaces unwrapped with found seams, beside the library watlas (charts by itself and packs) on the same triangles. */
import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import * as watlas from 'watlas'
import { QUIET } from '../src/app/host.ts'
import { readFiles } from '../src/app/read-files.ts'
import { completeIds } from '../src/core/scene/ids.ts'
import { createMeshFacts } from '../src/core/mesh/relations/mesh-facts.ts'
import { buildCourierHeron } from '../src/core/practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../src/core/practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../src/core/practice/demo/signal-kite.ts'
import { buildStormLantern } from '../src/core/practice/demo/storm-lantern.ts'
import { EMPTY_MESH, type Mesh } from '../src/core/scene/mesh.ts'
import { EMPTY_SCENE, rootNodes, type Scene } from '../src/core/scene/scene.ts'
import { runStep } from '../src/core/steps/run-steps.ts'
import { NODE_HOST } from '../src/host/node-host.ts'

const MAP_SIZE = 2048
const PADDING = 4
const MODELS = '/usr/share/assimp/models'
const FILES = [
  'OBJ/WusonOBJ.obj',
  'OBJ/spider.obj',
  'OBJ/regr01.obj',
  'FBX/huesitos.fbx',
  'FBX/global_settings.fbx',
]

/** A lumpy ball, closed, of rows x 2 rows quads. */
export function ball(rows: number): Mesh {
  const columns = 2 * rows
  const out = (a: number, b: number): number =>
    1 + 0.15 * Math.sin(5 * a) * Math.sin(4 * b) + 0.05 * Math.sin(17 * a + 3 * b) * Math.sin(a)
  const points = [0, 1, 0]
  for (let row = 1; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [a, b] = [(Math.PI * row) / rows, (Math.PI * column) / rows]
      const own = out(a, b)
      points.push(own * Math.sin(a) * Math.cos(b), own * Math.cos(a), -own * Math.sin(a) * Math.sin(b))
    }
  points.push(0, -1, 0)
  const at = (row: number, column: number): number =>
    row === 0 ? 0 : row === rows ? 1 + (rows - 1) * columns : 1 + (row - 1) * columns + (column % columns)
  const faceVertices: number[] = []
  const faceOffsets = [0]
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const corners = [at(row, column), at(row + 1, column), at(row + 1, column + 1), at(row, column + 1)]
      faceVertices.push(...new Set(corners))
      faceOffsets.push(faceVertices.length)
    }
  return {
    ...EMPTY_MESH,
    name: 'ball',
    points: Float64Array.from(points),
    faceVertices: Uint32Array.from(faceVertices),
    faceOffsets: Uint32Array.from(faceOffsets),
  }
}

const sceneWith = (meshes: readonly Mesh[]): Scene =>
  completeIds({ ...EMPTY_SCENE, meshes, nodes: rootNodes(meshes) })

const DEMO: Readonly<Record<string, () => Scene>> = {
  heron: buildCourierHeron,
  bollard: buildMooringBollard,
  lantern: buildStormLantern,
  kite: buildSignalKite,
}

function sceneNamed(name: string): Scene {
  if (DEMO[name]) return DEMO[name]()
  if (/^ball\d+$/.test(name)) return sceneWith([ball(Number(name.slice(4)))])
  const bytes = new Uint8Array(readFileSync(`${MODELS}/${name}`))
  return readFiles({ files: [{ name: basename(name), bytes }], options: {} }, QUIET, NODE_HOST).scene
}

/** All polygons of a scene's meshes as one mesh of triangles without UVs, so that both are asked the same. */
function trianglesOf(scene: Scene): Mesh {
  const points: number[] = []
  const faceVertices: number[] = []
  const done = runStep(scene, { step: 'triangulate', params: {} }).scene
  for (const mesh of done.meshes) {
    const first = points.length / 3
    for (const value of createMeshFacts(mesh).points()) points.push(value)
    for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
      const start = mesh.faceOffsets[face]!
      if (mesh.faceOffsets[face + 1]! - start !== 3) continue
      const own = [0, 1, 2].map((k) => first + mesh.faceVertices[start + k]!)
      const [p, q, r] = own.map((point) => points.slice(3 * point, 3 * point + 3)) as [
        number[],
        number[],
        number[],
      ]
      const [e, f] = [q.map((value, axis) => value - p[axis]!), r.map((value, axis) => value - p[axis]!)]
      const cross = Math.hypot(
        e[1]! * f[2]! - e[2]! * f[1]!,
        e[2]! * f[0]! - e[0]! * f[2]!,
        e[0]! * f[1]! - e[1]! * f[0]!,
      )
      // what has no area has no stretch either
      if (cross > 1e-12) faceVertices.push(...own)
    }
  }
  return {
    ...EMPTY_MESH,
    name: 'all',
    points: Float64Array.from(points),
    faceVertices: Uint32Array.from(faceVertices),
    faceOffsets: Uint32Array.from({ length: faceVertices.length / 3 + 1 }, (_, face) => 3 * face),
  }
}

export interface UvFigures {
  readonly milliseconds: number
  readonly islands: number
  /** Root of the mean of (1/a² + 1/b²) / 2, at the size where both areas are equal (Sander et al. 2001). */
  readonly stretch: number
  /** Length of seams by the root of the surface. */
  readonly seams: number
  readonly used: number
}

/** @param uvs 2 x 3 x triangle count, in the tile. */
function figuresOf(mesh: Mesh, uvs: Float64Array, milliseconds: number, islands: number): UvFigures {
  const count = mesh.faceVertices.length / 3
  let [surface, flat] = [0, 0]
  const sums: { weight: number; inverse: number }[] = []
  for (let face = 0; face < count; face++) {
    const [p, q, r] = [0, 1, 2].map((k) => 3 * mesh.faceVertices[3 * face + k]!) as [number, number, number]
    const [i, j, k] = [6 * face, 6 * face + 2, 6 * face + 4]
    const [s1, t1, s2, t2] = [
      uvs[j]! - uvs[i]!,
      uvs[j + 1]! - uvs[i + 1]!,
      uvs[k]! - uvs[i]!,
      uvs[k + 1]! - uvs[i + 1]!,
    ]
    const doubled = s1 * t2 - s2 * t1
    let [ss, tt, ee, ff, ef] = [0, 0, 0, 0, 0]
    for (let axis = 0; axis < 3; axis++) {
      const e = mesh.points[q + axis]! - mesh.points[p + axis]!
      const f = mesh.points[r + axis]! - mesh.points[p + axis]!
      const along = (e * t2 - f * t1) / doubled
      const across = (f * s1 - e * s2) / doubled
      ss += along * along
      tt += across * across
      ee += e * e
      ff += f * f
      ef += e * f
    }
    const weight = Math.sqrt(Math.max(0, ee * ff - ef * ef)) / 2
    surface += weight
    flat += Math.abs(doubled) / 2
    if (Number.isFinite(ss + tt)) sums.push({ weight, inverse: (ss + tt) / 2 })
    else sums.push({ weight, inverse: 1e6 * weight })
  }
  const scale = flat / surface
  const stretch = Math.sqrt(
    sums.reduce((sum, { weight, inverse }) => sum + weight * inverse * scale, 0) / surface,
  )
  const sides = new Map<string, string>()
  let seams = 0
  for (let face = 0; face < count; face++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [3 * face + k, 3 * face + ((k + 1) % 3)]
      const [p, q] = [mesh.faceVertices[a]!, mesh.faceVertices[b]!]
      const uv = (corner: number): string =>
        `${uvs[2 * corner]!.toFixed(7)} ${uvs[2 * corner + 1]!.toFixed(7)}`
      const key = p < q ? `${p} ${q}` : `${q} ${p}`
      const own = p < q ? `${uv(a)} ${uv(b)}` : `${uv(b)} ${uv(a)}`
      const known = sides.get(key)
      if (known === undefined) sides.set(key, own)
      else if (known !== own)
        seams += Math.hypot(
          mesh.points[3 * p]! - mesh.points[3 * q]!,
          mesh.points[3 * p + 1]! - mesh.points[3 * q + 1]!,
          mesh.points[3 * p + 2]! - mesh.points[3 * q + 2]!,
        )
    }
  return { milliseconds, islands, stretch, seams: seams / Math.sqrt(surface), used: flat }
}

function own(mesh: Mesh): UvFigures {
  const scene = sceneWith([mesh])
  const start = performance.now()
  const done = runStep(scene, { step: 'unwrap', params: { padding: PADDING, mapSize: MAP_SIZE } })
  const milliseconds = performance.now() - start
  const set = done.scene.meshes[0]!.uvSets[0]!
  const uvs = new Float64Array(2 * mesh.faceVertices.length)
  set.indices.forEach((uv, corner) => uvs.set(set.values.subarray(2 * uv, 2 * uv + 2), 2 * corner))
  return figuresOf(mesh, uvs, milliseconds, Number(/^([\d,]+) island/.exec(done.notes[0] ?? '')?.[1] ?? 0))
}

async function library(mesh: Mesh): Promise<UvFigures> {
  await watlas.Initialize()
  const start = performance.now()
  const atlas = new watlas.Atlas()
  atlas.addMesh({
    vertexPositionData: Float32Array.from(mesh.points),
    vertexCount: mesh.points.length / 3,
    vertexPositionStride: 12,
    indexData: mesh.faceVertices,
    indexCount: mesh.faceVertices.length,
  })
  atlas.generate({}, { padding: PADDING, resolution: MAP_SIZE })
  const milliseconds = performance.now() - start
  const made = atlas.getMesh(0)
  const indices = new Uint32Array(made.indexCount)
  made.getIndexArray(indices)
  const side = Math.max(atlas.width, atlas.height)
  const places = Array.from({ length: made.vertexCount }, (_, at) => made.getVertex(at).uv)
  const uvs = new Float64Array(2 * indices.length)
  indices.forEach((vertex, corner) =>
    uvs.set([places[vertex]![0]! / side, places[vertex]![1]! / side], 2 * corner),
  )
  const figures = figuresOf(mesh, uvs, milliseconds, atlas.chartCount)
  return figures
}

export const UV_MEASURES = {
  /** @param target a demo asset, ball<rows> or a file of assimp-testmodels. */
  uvsOwn: (target: string) => {
    const scene = sceneNamed(target)
    const start = performance.now()
    const done = runStep(scene, { step: 'unwrap', params: { padding: PADDING, mapSize: MAP_SIZE } })
    return { milliseconds: performance.now() - start, islands: done.changedCount }
  },
  uvsBoth: async (target: string) => {
    const mesh = trianglesOf(sceneNamed(target))
    const [a, b] = [own(mesh), await library(mesh)]
    return {
      triangles: mesh.faceVertices.length / 3,
      ...Object.fromEntries(Object.entries(a).map(([name, value]) => [`own ${name}`, value as number])),
      ...Object.fromEntries(Object.entries(b).map(([name, value]) => [`library ${name}`, value as number])),
    }
  },
}

interface Tools {
  readonly measure: (name: string, target: string) => Readonly<Record<string, number>>
  readonly seconds: (milliseconds: number) => string
}

export function printUvFigures({ measure, seconds }: Tools): void {
  console.log('UVs: found seams, flattened, packed, on one core\n')
  for (const [rows, target] of [
    [70, 2],
    [224, 30],
  ] as const) {
    const milliseconds = measure('uvsOwn', `ball${rows}`)['milliseconds']!
    console.log(
      `${(2 * rows * rows).toLocaleString('en-US').padStart(8)} quads   ${seconds(milliseconds)} (target ${target} s)`,
    )
  }
  console.log(
    '\nbeside watlas on the same triangles, ours / the library’s (at most its stretch and seams, at least its use)',
  )
  for (const name of [...Object.keys(DEMO), ...FILES, 'ball50', 'ball158']) {
    const figures = measure('uvsBoth', name)
    const pair = (of: keyof UvFigures, digits: number): string =>
      `${figures[`own ${of}`]!.toFixed(digits)} / ${figures[`library ${of}`]!.toFixed(digits)}`
    console.log(
      `${name.padEnd(24)} ${String(figures['triangles']).padStart(7)} triangles  stretch ${pair('stretch', 3)}  seams ${pair('seams', 1)}  used ${pair('used', 2)}  islands ${pair('islands', 0)}  ${seconds(figures['own milliseconds']!)} / ${seconds(figures['library milliseconds']!)}`,
    )
  }
}
