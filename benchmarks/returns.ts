/** How long it takes to recognise and compare what comes back, beside reading one file of it in the same process. */
import { readFileSync } from 'node:fs'
import { compareScenes } from '../src/core/compare/compare-scenes.ts'
import { recogniseReturn } from '../src/core/compare/recognise/recognise-return.ts'
import { triangulateScene } from '../src/core/formats/arrange/arrange-scene.ts'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import { plainSources, rebuildMesh } from '../src/core/mesh/rebuilding/rebuild-mesh.ts'
import { subdivideMesh } from '../src/core/mesh/subdividing/subdivide-mesh.ts'
import { splitCorners } from '../src/core/practice/standins/engine.ts'
import { carvePoints } from '../src/core/practice/faults/carve-points.ts'
import { renumberMesh } from '../src/core/practice/standins/sculptor.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../src/core/scene/mesh.ts'
import type { Scene } from '../src/core/scene/scene.ts'

const withMesh = (scene: Scene, mesh: Mesh): Scene => ({ ...scene, meshes: [{ ...mesh, id: '' }] })
const carved = (mesh: Mesh): Mesh => ({ ...mesh, points: carvePoints(mesh, 0.004), normals: null })

/** An edge loop through the middle column of a square sheet: each of its quads becomes two. */
function withLoop(mesh: Mesh): Mesh {
  const side = Math.round(Math.sqrt(faceCountOf(mesh)))
  const column = side >> 1
  const [pointCount, faceCount] = [pointCountOf(mesh), faceCountOf(mesh)]
  // a column's quad has its corners at (i, j), (i, j + 1), (i + 1, j + 1), (i + 1, j)
  const middles = (row: number): number => pointCount + row
  const first: number[] = Array.from({ length: pointCount + side + 1 }, (_point, at) => at)
  const second = new Int32Array(first.length).fill(-1)
  for (let row = 0; row <= side; row++) {
    const face = Math.min(row, side - 1) * side + column
    const near = row < side ? 0 : 1
    first[middles(row)] = mesh.faceVertices[4 * face + near]!
    second[middles(row)] = mesh.faceVertices[4 * face + (3 - near)]!
  }
  const faceVertices: number[] = []
  const cornerFirst: number[] = []
  const cornerSecond: number[] = []
  const faceSources: number[] = []
  const corner = (point: number, a: number, b = -1): void => {
    faceVertices.push(point)
    cornerFirst.push(a)
    cornerSecond.push(b)
  }
  for (let face = 0; face < faceCount; face++) {
    const at = (step: number): number => 4 * face + step
    const point = (step: number): number => mesh.faceVertices[at(step)]!
    if (face % side !== column) for (let step = 0; step < 4; step++) corner(point(step), at(step))
    else {
      const row = Math.floor(face / side)
      const [low, high] = [middles(row), middles(row + 1)]
      corner(point(0), at(0))
      corner(point(1), at(1))
      corner(high, at(1), at(2))
      corner(low, at(0), at(3))
      corner(low, at(0), at(3))
      corner(high, at(1), at(2))
      corner(point(2), at(2))
      corner(point(3), at(3))
      faceSources.push(face)
    }
    faceSources.push(face)
  }
  return rebuildMesh(
    { ...mesh, normals: null },
    {
      pointSources: {
        first: Int32Array.from(first),
        second,
        share: new Float64Array(first.length).fill(0.5),
      },
      faceOffsets: Uint32Array.from({ length: faceSources.length + 1 }, (_offset, at) => 4 * at),
      faceVertices: Uint32Array.from(faceVertices),
      cornerSources: {
        first: Int32Array.from(cornerFirst),
        second: Int32Array.from(cornerSecond),
        share: new Float64Array(cornerFirst.length).fill(0.5),
      },
      faceSources: Int32Array.from(faceSources),
      pointOldToNew: Uint32Array.from({ length: pointCount }, (_point, at) => at) as unknown as Int32Array,
    },
  )
}

/** Every second quad of every second row and column, as one: the same surface in other polygons. */
function otherPolygons(mesh: Mesh): Mesh {
  const side = Math.round(Math.sqrt(faceCountOf(mesh)))
  const half = side >> 1
  const cornerSources: number[] = []
  for (let row = 0; row < half; row++)
    for (let column = 0; column < half; column++) {
      const face = (r: number, c: number): number => (2 * row + r) * side + 2 * column + c
      cornerSources.push(4 * face(0, 0), 4 * face(1, 0) + 1, 4 * face(1, 1) + 2, 4 * face(0, 1) + 3)
    }
  const coarse = rebuildMesh(
    { ...mesh, normals: null, uvSets: [] },
    {
      pointSources: plainSources(Int32Array.from({ length: pointCountOf(mesh) }, (_point, at) => at)),
      faceOffsets: Uint32Array.from({ length: half * half + 1 }, (_offset, at) => 4 * at),
      faceVertices: Uint32Array.from(cornerSources, (at) => mesh.faceVertices[at]!),
      cornerSources: plainSources(Int32Array.from(cornerSources)),
      faceSources: Int32Array.from({ length: half * half }, (_face, at) => cornerSources[4 * at]! >> 2),
    },
  )
  // a little off everywhere, so that no point lies where one lay
  return { ...coarse, points: coarse.points.map((value, at) => (at % 3 === 1 ? value + 1e-3 : value + 3e-3)) }
}

const bytesOf = (mesh: Mesh): number =>
  [
    mesh.points,
    mesh.faceOffsets,
    mesh.faceVertices,
    ...mesh.uvSets.flatMap((set) => [set.values, set.indices]),
  ].reduce((sum, array) => sum + array.byteLength, 0)

/** @param change of the mesh that was read; what it gives comes back. @param least polygons that have to be found again, as a share. */
function measureReturn(path: string, change: (mesh: Mesh) => Mesh, least: number): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const { scene } = readObj({ name: 'grid.obj', bytes })
  const readMilliseconds = performance.now() - start
  const mesh = scene.meshes[0]!
  const returned = withMesh(scene, change(mesh))
  const before = process.resourceUsage().maxRSS * 1024
  const middle = performance.now()
  const recognised = recogniseReturn(scene, returned)
  const ledger = compareScenes(scene, recognised.returned, () => {}, recognised.matching)
  const milliseconds = performance.now() - middle
  const [part] = recognised.matching.matched
  const found = part ? part.correspondence.matchedFaceCount / faceCountOf(mesh) : 0
  if (found < least)
    throw new Error(`only ${found} of the polygons were found again (${part?.correspondence.kind})`)
  return {
    milliseconds,
    readMilliseconds,
    found,
    rows: ledger.rows.length,
    grown: (process.resourceUsage().maxRSS * 1024 - before) / (bytesOf(mesh) + bytesOf(returned.meshes[0]!)),
  }
}

export const RETURN_MEASURES: Record<string, (path: string) => Record<string, number>> = {
  renumbered: (path) => measureReturn(path, (mesh) => renumberMesh(mesh, 3), 1),
  cutAndSplit: (path) =>
    measureReturn(
      path,
      (mesh) => renumberMesh(splitCorners(triangulateScene(withMeshOnly(mesh)).meshes[0]!), 3),
      1,
    ),
  movedAndLooped: (path) => measureReturn(path, (mesh) => renumberMesh(carved(withLoop(mesh)), 3), 0.99),
  subdivided: (path) =>
    measureReturn(
      path,
      (mesh) =>
        renumberMesh(
          carved(
            subdivideMesh(
              { ...mesh, normals: null },
              { levels: 1, uvMode: 'boundaries', sharpCorners: false },
            ),
          ),
          3,
        ),
      1,
    ),
  otherPolygons: (path) => measureReturn(path, otherPolygons, 0),
}

const withMeshOnly = (mesh: Mesh): Scene =>
  ({ ...readObj({ name: 'x.obj', bytes: new TextEncoder().encode('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') }).scene, meshes: [mesh] }) // prettier-ignore

const LINES = [
  ['renumbered', 'renumbered', 3, 'path'],
  ['cutAndSplit', 'renumbered, in triangles, unwelded', 5, 'path'],
  ['movedAndLooped', 'moved, renumbered, an edge loop', 6, 'path'],
  ['subdivided', 'subdivided, 250 k to 1 M', 5, 'quarter'],
  ['otherPolygons', 'in other polygons', 15, 'path'],
] as const

/** @param path of one million quads. @param quarter of a quarter of them. */
export function printReturnFigures(
  path: string,
  quarter: string,
  {
    medianOf,
    measure: measureOnce,
    seconds,
  }: {
    readonly medianOf: (runs: number, once: () => Record<string, number>) => Record<string, number>
    readonly measure: (name: string, path: string) => Record<string, number>
    readonly seconds: (milliseconds: number) => string
  },
): void {
  console.log(
    '\nwhat comes back, recognised and compared, medians of 3 runs, beside reading one file in the same processes',
  )
  const measure = (name: string, file: string): Record<string, number> => medianOf(3, () => measureOnce(name, file)) // prettier-ignore
  // what is subdivided to a million comes beside the reading of a million
  const whole = measure('read', path)
  for (const [name, title, target, which] of LINES) {
    const found = measure(name, which === 'path' ? path : quarter)
    const read = which === 'path' ? found.readMilliseconds! : whole.milliseconds!
    console.log(
      `${title.padEnd(36)} ${seconds(found.milliseconds!)}   ${(found.milliseconds! / read).toFixed(2)} times reading (target below ${target}); ${(100 * found.found!).toFixed(1)} % of the polygons found again; memory grew by ${found.grown!.toFixed(1)} times the arrays of both (target below 8)`,
    )
  }
}
