/**
 * Figures beside other libraries, on the same file in the same run. Every single measurement is a process of
 * its own, so that nobody profits from what another has warmed up; medians of three.
 */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs'
import { availableParallelism, tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { BufferAttribute, BufferGeometry } from 'three'
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js'
import { mergeVertices } from 'three/addons/utils/BufferGeometryUtils.js'
import { CHECKS } from '../src/core/checks/registry.ts'
import { runChecks } from '../src/core/checks/run-checks.ts'
import { countWelds, findWelds } from '../src/core/mesh/welds/find-welds.ts'
import {
  describeTopology,
  refineTopology,
  refineValues,
  sharpenSingleFacePoints,
} from '../src/core/mesh/subdividing/subdivide-catmull-clark.ts'
import { findOverlaps } from '../src/core/uv/find-overlaps.ts'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import type { PieceReader } from '../src/core/formats/descriptor.ts'
import { NODE_PIECES } from '../src/host/node-pieces.ts'
import { writeObj } from '../src/core/formats/obj/write-obj.ts'
import { compareScenes } from '../src/core/compare/compare-scenes.ts'
import { FBX_MEASURES, printFbxFigures } from './fbx.ts'
import { INTERCHANGE_MEASURES, printInterchangeFigures } from './interchange.ts'
import { writeGridObj } from './make-grid.ts'
import { printReturnFigures, RETURN_MEASURES } from './returns.ts'
import { printSurfaceFigures, SURFACE_MEASURES } from './surfaces.ts'
import { printUvFigures, UV_MEASURES } from './uvs.ts'

function measureReading(path: string, pieces: PieceReader | null): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const { scene } = readObj({ name: 'grid.obj', bytes }, [], {}, pieces)
  const milliseconds = performance.now() - start
  return {
    milliseconds,
    faces: scene.meshes[0]!.faceOffsets.length - 1,
    peakBytes: process.resourceUsage().maxRSS * 1024,
  }
}

type Figures = Record<string, number>
const MEASURES: Record<string, (path: string) => Figures | Promise<Figures>> = {
  ...SURFACE_MEASURES,
  ...UV_MEASURES,
  ...FBX_MEASURES,
  ...INTERCHANGE_MEASURES,
  ...RETURN_MEASURES,
  read: (path) => measureReading(path, null),
  readInPieces: (path) => measureReading(path, NODE_PIECES),
  three(path) {
    const text = readFileSync(path, 'latin1')
    const start = performance.now()
    const group = new OBJLoader().parse(text)
    return {
      milliseconds: performance.now() - start,
      faces: group.children.length,
      peakBytes: process.resourceUsage().maxRSS * 1024,
    }
  },
  write(path) {
    const { scene } = readObj({ name: 'grid.obj', bytes: readFileSync(path) })
    const start = performance.now()
    const { files } = writeObj(scene, 'grid.obj')
    return { milliseconds: performance.now() - start, bytes: files[0]!.bytes.length }
  },
  compare(path) {
    const bytes = readFileSync(path)
    const a = readObj({ name: 'grid.obj', bytes }).scene
    const start = performance.now()
    const b = readObj({ name: 'grid.obj', bytes }).scene
    const middle = performance.now()
    const ledger = compareScenes(a, b)
    const same = Object.values(ledger.rows[0]!.cells).every((cell) => cell!.state === 'same')
    if (!same) throw new Error('two readings of one file differ')
    return { milliseconds: performance.now() - middle, readMilliseconds: middle - start }
  },
  checks(path) {
    const bytes = readFileSync(path)
    const start = performance.now()
    const { scene } = readObj({ name: 'grid.obj', bytes })
    const middle = performance.now()
    const findings = runChecks(scene, {
      checks: CHECKS.filter((check) => check.area === 'mesh').map((check) => check.id),
    })
    return {
      milliseconds: performance.now() - middle,
      readMilliseconds: middle - start,
      findings: findings.length,
    }
  },
  overlaps(path) {
    const bytes = readFileSync(path)
    const start = performance.now()
    const mesh = readObj({ name: 'grid.obj', bytes }).scene.meshes[0]!
    const middle = performance.now()
    const { pairCount, complete } = findOverlaps([{ mesh, set: mesh.uvSets[0]!, chosen: null }])
    if (!complete) throw new Error('the search for overlaps was cut short')
    return { milliseconds: performance.now() - middle, readMilliseconds: middle - start, pairCount }
  },
  weld() {
    const points = weldPoints()
    const start = performance.now()
    const target = findWelds(points, WELD_DISTANCE)
    const milliseconds = performance.now() - start
    return { milliseconds, left: points.length / 3 - countWelds(target) }
  },
  threeWeld() {
    const geometry = new BufferGeometry()
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(weldPoints()), 3))
    const start = performance.now()
    const merged = mergeVertices(geometry, WELD_DISTANCE)
    return { milliseconds: performance.now() - start, left: merged.attributes.position!.count }
  },
  subdivide() {
    const side = 100
    const points = new Float64Array(3 * (side + 1) ** 2)
    const faceVertices = new Uint32Array(4 * side * side)
    for (let j = 0; j <= side; j++)
      for (let i = 0; i <= side; i++)
        points.set([i, Math.sin(i * 0.3) * Math.cos(j * 0.2), -j], 3 * (j * (side + 1) + i))
    for (let j = 0; j < side; j++)
      for (let i = 0; i < side; i++) {
        const a = j * (side + 1) + i
        faceVertices.set([a, a + 1, a + side + 2, a + side + 1], 4 * (j * side + i))
      }
    const faceOffsets = Uint32Array.from({ length: side * side + 1 }, (_value, face) => 4 * face)
    const start = performance.now()
    let topology = describeTopology(points.length / 3, faceOffsets, faceVertices)
    sharpenSingleFacePoints(topology)
    let values: Float64Array = points
    for (let level = 0; level < 3; level++) {
      values = refineValues(values, 3, topology)
      topology = refineTopology(topology)
    }
    return { milliseconds: performance.now() - start, faces: topology.faceCount, points: values.length / 3 }
  },
}

const WELD_DISTANCE = 1e-3

/** A million points: half a million, and each again a little beside itself, closer than the distance. */
function weldPoints(): Float64Array {
  const points = new Float64Array(3000000)
  let state = 12345
  const random = (): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 4294967296
  }
  for (let at = 0; at < 1500000; at += 3) {
    const [x, y, z] = [random() * 100, random() * 100, random()]
    points.set([x, y, z], at)
    points.set([x + 0.0008 * (random() - 0.5), y + 0.0008 * (random() - 0.5), z], at + 1500000)
  }
  return points
}

/** Milliseconds that the native OpenSubdiv library takes for the same; NaN where it can't be built. */
function nativeSubdivide(folder: string): { milliseconds: number; faces: number } {
  const program = join(folder, 'subdivide')
  const source = join(fileURLToPath(import.meta.url), '../../../benchmarks/native/subdivide.cpp')
  const built = spawnSync('g++', ['-O2', '-o', program, source, '-losdCPU'], { encoding: 'utf8' })
  if (built.status !== 0) return { milliseconds: NaN, faces: 0 }
  const [milliseconds, faces] = spawnSync(program, ['100', '3'], { encoding: 'utf8' })
    .stdout.trim()
    .split(' ')
  return { milliseconds: Number(milliseconds), faces: Number(faces) }
}

const self = fileURLToPath(import.meta.url)

function measure(name: string, path: string): Record<string, number> {
  const result = spawnSync(process.execPath, ['--max-old-space-size=16000', self, '--measure', name, path], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  })
  const line = result.stdout.trim().split('\n').pop() ?? ''
  if (result.status !== 0) throw new Error(`${name}: ${result.stderr.slice(0, 2000)}`)
  return JSON.parse(line) as Record<string, number>
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!

function medianOf(runs: number, once: () => Record<string, number>): Record<string, number> {
  const results = Array.from({ length: runs }, once)
  return Object.fromEntries(
    Object.keys(results[0]!).map((key) => [key, median(results.map((result) => result[key]!))]),
  )
}

/** Seconds of a whole process. */
function timeProcess(program: string, args: readonly string[]): { milliseconds: number } {
  const start = performance.now()
  const result = spawnSync(program, args, { stdio: 'ignore' })
  if (result.status !== 0) throw new Error(`${program} ended with ${result.status}`)
  return { milliseconds: performance.now() - start }
}

const seconds = (milliseconds: number): string => `${(milliseconds / 1000).toFixed(2)} s`

async function main(): Promise<void> {
  const [flag, name, target] = process.argv.slice(2)
  if (flag === '--measure') {
    console.log(JSON.stringify(await MEASURES[name!]!(target!)))
    return
  }
  if (flag === '--grid') return writeGridObj(name!, 1000)
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-benchmark-'))
  try {
    if (process.argv.includes('--uvs')) return printUvFigures({ measure, seconds })
    if (process.argv.includes('--surfaces')) return await printSurfaceFigures(folder, { measure, seconds })
    const path = join(folder, 'grid.obj')
    writeGridObj(path, 1000)
    if (process.argv.includes('--fbx')) {
      const small = join(folder, 'small.obj')
      writeGridObj(small, 316)
      return printFbxFigures(folder, small, { medianOf, measure, timeProcess, seconds })
    }
    if (process.argv.includes('--interchange'))
      return printInterchangeFigures(path, { medianOf, measure, timeProcess, seconds })
    const quarter = join(folder, 'quarter.obj')
    writeGridObj(quarter, 500)
    if (process.argv.includes('--returns'))
      return printReturnFigures(path, quarter, { medianOf, measure, seconds })
    const size = statSync(path).size
    console.log(
      `One million quads with UVs, normals, groups and materials: ${(size / 1e6).toFixed(0)} MB, medians of 3\n`,
    )
    const read = medianOf(3, () => measure('read', path))
    console.log(`read OBJ, kelbo                ${seconds(read.milliseconds!)}`)
    const inPieces = medianOf(3, () => measure('readInPieces', path))
    console.log(
      `read OBJ, kelbo, on ${availableParallelism()} cores     ${seconds(inPieces.milliseconds!)}   ${(inPieces.milliseconds! / read.milliseconds!).toFixed(2)} of the time of one, ${(inPieces.peakBytes! / size).toFixed(2)} times the file in memory`,
    )
    const three = medianOf(3, () => measure('three', path))
    console.log(
      `read OBJ, three OBJLoader      ${seconds(three.milliseconds!)}   kelbo is ${(three.milliseconds! / read.milliseconds!).toFixed(1)} times as fast (target 5)`,
    )
    const hasAssimp = existsSync('/usr/bin/assimp')
    let assimpRead = NaN
    if (hasAssimp) {
      assimpRead = medianOf(3, () => timeProcess('assimp', ['info', path, '-r', '-s'])).milliseconds!
      console.log(
        `read OBJ, native assimp        ${seconds(assimpRead)}   kelbo / assimp ${(read.milliseconds! / assimpRead).toFixed(2)} (target at most 1; assimp's figure is its whole process, file reading included)`,
      )
    } else console.log('native assimp is not installed (Debian package assimp-utils): left out')
    console.log(
      `peak memory of reading         ${(read.peakBytes! / 1e6).toFixed(0)} MB, ${(read.peakBytes! / size).toFixed(2)} times the file (target at most 4); three ${(three.peakBytes! / size).toFixed(2)} times`,
    )
    const write = medianOf(3, () => measure('write', path))
    console.log(`\nwrite OBJ, kelbo               ${seconds(write.milliseconds!)}`)
    if (hasAssimp) {
      const both = medianOf(3, () =>
        timeProcess('assimp', ['export', path, join(folder, 'out.obj')]),
      ).milliseconds!
      const alone = both - assimpRead
      console.log(
        `write OBJ, native assimp       ${seconds(alone)}   kelbo is ${(alone / write.milliseconds!).toFixed(1)} times as fast (target 4; read-and-write less read)`,
      )
    }
    const compare = medianOf(3, () => measure('compare', path))
    console.log(
      `\ncompare two in the same order  ${seconds(compare.milliseconds!)}   compare / read ${(compare.milliseconds! / compare.readMilliseconds!).toFixed(2)} (target below 1, in the same process)`,
    )
    const checks = medianOf(3, () => measure('checks', path))
    console.log(
      `\nall mesh checks together        ${seconds(checks.milliseconds!)}   checks / read ${(checks.milliseconds! / checks.readMilliseconds!).toFixed(2)} (target below 4, in the same process)`,
    )
    const overlaps = medianOf(3, () => measure('overlaps', path))
    console.log(
      `exact UV overlap                ${seconds(overlaps.milliseconds!)}   overlap / read ${(overlaps.milliseconds! / overlaps.readMilliseconds!).toFixed(2)} (target below 3)`,
    )
    const weld = medianOf(3, () => measure('weld', path))
    const threeWeld = medianOf(3, () => measure('threeWeld', path))
    console.log(
      `weld a million points           ${seconds(weld.milliseconds!)}, ${weld.left} are left; three mergeVertices ${seconds(threeWeld.milliseconds!)}, ${threeWeld.left} are left (half a million pairs are within the distance): kelbo is ${(threeWeld.milliseconds! / weld.milliseconds!).toFixed(1)} times as fast (target 3)`,
    )
    const subdivide = medianOf(5, () => measure('subdivide', path))
    const native = medianOf(5, () => nativeSubdivide(folder))
    console.log(
      Number.isNaN(native.milliseconds!)
        ? 'native OpenSubdiv can’t be built here (Debian packages g++, libosd-dev): left out'
        : `Catmull-Clark 10 000 x 3 levels  ${seconds(subdivide.milliseconds!)}, ${subdivide.faces} faces; native OpenSubdiv ${seconds(native.milliseconds!)}, ${native.faces} faces: kelbo / native ${(subdivide.milliseconds! / native.milliseconds!).toFixed(2)} (target at most 3)`,
    )
    printReturnFigures(path, quarter, { medianOf, measure, seconds })
    const small = join(folder, 'small.obj')
    writeGridObj(small, 316)
    printFbxFigures(folder, small, { medianOf, measure, timeProcess, seconds })
    printInterchangeFigures(path, { medianOf, measure, timeProcess, seconds })
    if (process.argv.includes('--large')) {
      const large = join(folder, 'large.obj')
      writeGridObj(large, 2237)
      const largeSize = statSync(large).size
      const result = measure('read', large)
      console.log(
        `\nfive million quads, ${(largeSize / 1e6).toFixed(0)} MB     read in ${seconds(result.milliseconds!)}, ${result.faces} faces, ${(result.peakBytes! / largeSize).toFixed(2)} times the file in memory; longer than the longest string`,
      )
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

await main()
