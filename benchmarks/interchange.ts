/**
 * glTF, PLY, STL, COLLADA, USD and Alembic: each read and written beside what else reads it. Where nothing else in Node reads a
 * format as polygons, the floor is a loop that does nothing but copy the file's numbers into arrays.
 */
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import { mergeVertices } from 'three/addons/utils/BufferGeometryUtils.js'
import type { BufferGeometry, Object3D } from 'three'
import { readAlembic } from '../src/core/formats/alembic/read-alembic.ts'
import { writeAlembic } from '../src/core/formats/alembic/write-alembic.ts'
import { readCollada } from '../src/core/formats/collada/read-collada.ts'
import { writeCollada } from '../src/core/formats/collada/write-collada.ts'
import { readGltf } from '../src/core/formats/gltf/read-gltf.ts'
import { writeGltf } from '../src/core/formats/gltf/write-gltf.ts'
import { readPly } from '../src/core/formats/ply/read-ply.ts'
import { writePly } from '../src/core/formats/ply/write-ply.ts'
import { FACET_BYTES, HEADER_BYTES, readStl } from '../src/core/formats/stl/read-stl.ts'
import { writeStl } from '../src/core/formats/stl/write-stl.ts'
import { readUsd } from '../src/core/formats/usd/read-usd.ts'
import { writeUsd } from '../src/core/formats/usd/write-usd.ts'
import type { Scene } from '../src/core/scene/scene.ts'
import { NODE_PIECES } from '../src/host/node-pieces.ts'
import { bareGrid } from './bare-grid.ts'

const SIDE = 1000
const QUADS = SIDE * SIDE
const POINTS = (SIDE + 1) * (SIDE + 1)

const peakBytes = (): number => process.resourceUsage().maxRSS * 1024

/** What the program itself has taken before it reads anything. */
const OWN_BYTES = peakBytes()

/** Times a reading and sees to it that it read the grid whole. */
function timeReading(
  path: string,
  faces: number,
  read: (bytes: Uint8Array) => Scene,
  points = POINTS,
): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const scene = read(bytes)
  const milliseconds = performance.now() - start
  const mesh = scene.meshes[0]!
  const found = mesh.faceOffsets.length - 1
  if (found !== faces || mesh.points.length / 3 !== points)
    throw new Error(`${path}: ${found} polygons and ${mesh.points.length / 3} points were read`)
  return { milliseconds, peakBytes: peakBytes(), ownBytes: OWN_BYTES }
}

function timeWriting(
  path: string,
  write: (scene: Scene) => { files: readonly { bytes: Uint8Array }[] },
): Record<string, number> {
  const scene = bareGrid(path)
  const start = performance.now()
  const { files } = write(scene)
  const milliseconds = performance.now() - start
  const copying = performance.now()
  for (const { bytes } of files) bytes.slice()
  return { milliseconds, copyMilliseconds: performance.now() - copying, peakBytes: peakBytes() }
}

async function timeThree(path: string, joins: boolean): Promise<Record<string, number>> {
  const bytes = readFileSync(path)
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength)
  const start = performance.now()
  const { scene } = await new GLTFLoader().parseAsync(buffer, '')
  const geometries: BufferGeometry[] = []
  scene.traverse((object: Object3D & { geometry?: BufferGeometry }) => {
    if (object.geometry) geometries.push(object.geometry)
  })
  let vertices = 0
  for (const geometry of geometries)
    vertices += (joins ? mergeVertices(geometry) : geometry).attributes['position']!.count
  return { milliseconds: performance.now() - start, vertices, peakBytes: peakBytes() }
}

/** Copies the numbers of a binary PLY with one layout of its entries: points of doubles, polygons of four. */
function copyPly(path: string): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const end = bytes.indexOf('end_header\n') + 'end_header\n'.length
  const header = bytes.subarray(0, end).toString('latin1')
  const sizes: Record<string, number> = {
    char: 1,
    uchar: 1,
    short: 2,
    ushort: 2,
    int: 4,
    uint: 4,
    float: 4,
    double: 8,
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = end
  let copied = 0
  for (const element of header.split(/^element /m).slice(1)) {
    const count = Number(element.split('\n')[0]!.split(' ')[1])
    const kinds = [...element.matchAll(/^property (?:list (\S+) )?(\S+) \S+$/gm)].map((property) => ({
      length: property[1] ? sizes[property[1]]! : 0,
      size: sizes[property[2]!]!,
      whole: !/float|double/.test(property[2]!),
    }))
    const values = new Float64Array(count * kinds.length * 8)
    let to = 0
    for (let entry = 0; entry < count; entry++)
      for (const { length, size, whole } of kinds) {
        const many = length === 0 ? 1 : length === 1 ? view.getUint8(at) : view.getUint32(at, true)
        at += length
        for (let item = 0; item < many; item++, at += size)
          values[to++] =
            size === 8
              ? view.getFloat64(at, true)
              : size === 4
                ? whole
                  ? view.getInt32(at, true)
                  : view.getFloat32(at, true)
                : view.getUint8(at)
      }
    copied += to
  }
  if (at !== bytes.length) throw new Error(`${bytes.length - at} bytes of the PLY were not copied`)
  return { milliseconds: performance.now() - start, copied, peakBytes: peakBytes() }
}

function copyStl(path: string): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint32(HEADER_BYTES - 4, true)
  const values = new Float64Array(12 * count)
  for (let facet = 0, at = HEADER_BYTES, to = 0; facet < count; facet++, at += FACET_BYTES)
    for (let number = 0; number < 12; number++) values[to++] = view.getFloat32(at + 4 * number, true)
  return { milliseconds: performance.now() - start, copied: values.length, peakBytes: peakBytes() }
}

/** Each runs in a process of its own. */
export const INTERCHANGE_MEASURES: Record<
  string,
  (path: string) => Record<string, number> | Promise<Record<string, number>>
> = {
  /** Makes the files; triangles alone for glTF, as most that are met are. */
  interchangeMake(path) {
    const scene = bareGrid(path)
    const folder = join(path, '..')
    const save = (name: string, { files }: { files: readonly { bytes: Uint8Array }[] }): void =>
      writeFileSync(join(folder, name), files[0]!.bytes)
    save('grid.glb', writeGltf(scene, 'grid.glb', { triangulate: true }))
    save('grid.ply', writePly(scene, 'grid.ply'))
    save('grid.stl', writeStl(scene, 'grid.stl'))
    save('grid.dae', writeCollada(scene, 'grid.dae'))
    save('grid.usda', writeUsd(scene, 'grid.usda'))
    save('grid.abc', writeAlembic(scene, 'grid.abc'))
    return {}
  },
  gltfRead: (path) =>
    timeReading(path, 2 * QUADS, (bytes) => readGltf({ name: 'grid.glb', bytes }, [], {}).scene),
  gltfReadApart: (path) =>
    timeReading(path, 2 * QUADS, (bytes) => readGltf({ name: 'grid.glb', bytes }, [], { join: false }).scene),
  gltfThree: (path) => timeThree(path, false),
  gltfThreeJoined: (path) => timeThree(path, true),
  gltfWrite: (path) => timeWriting(path, (scene) => writeGltf(scene, 'grid.glb')),
  plyRead: (path) => timeReading(path, QUADS, (bytes) => readPly({ name: 'grid.ply', bytes }, [], {}).scene),
  plyReadApart: (path) =>
    timeReading(path, QUADS, (bytes) => readPly({ name: 'grid.ply', bytes }, [], { join: false }).scene),
  plyCopy: copyPly,
  plyWrite: (path) => timeWriting(path, (scene) => writePly(scene, 'grid.ply')),
  stlRead: (path) => timeReading(path, 2 * QUADS, (bytes) => readStl({ name: 'grid.stl', bytes }).scene),
  stlReadApart: (path) =>
    timeReading(
      path,
      2 * QUADS,
      (bytes) => readStl({ name: 'grid.stl', bytes }, { join: false }).scene,
      6 * QUADS,
    ),
  stlCopy: copyStl,
  stlWrite: (path) => timeWriting(path, (scene) => writeStl(scene, 'grid.stl')),
  daeRead: (path) =>
    timeReading(path, QUADS, (bytes) => readCollada({ name: 'grid.dae', bytes }, [], {}, NODE_PIECES).scene),
  daeReadAlone: (path) =>
    timeReading(path, QUADS, (bytes) => readCollada({ name: 'grid.dae', bytes }, [], {}).scene),
  daeWrite: (path) => timeWriting(path, (scene) => writeCollada(scene, 'grid.dae')),
  usdRead: (path) => timeReading(path, QUADS, (bytes) => readUsd({ name: 'grid.usda', bytes }, []).scene),
  usdWrite: (path) => timeWriting(path, (scene) => writeUsd(scene, 'grid.usda')),
  abcRead: (path) => timeReading(path, QUADS, (bytes) => readAlembic({ name: 'grid.abc', bytes }).scene),
  abcWrite: (path) => timeWriting(path, (scene) => writeAlembic(scene, 'grid.abc')),
}

interface Tools {
  readonly medianOf: (runs: number, once: () => Record<string, number>) => Record<string, number>
  readonly measure: (name: string, path: string) => Record<string, number>
  readonly timeProcess: (program: string, args: readonly string[]) => { milliseconds: number }
  readonly seconds: (milliseconds: number) => string
}

/** @param path the OBJ of a million quads; the other files are made beside it. */
export function printInterchangeFigures(path: string, tools: Tools): void {
  const { medianOf, measure, timeProcess, seconds } = tools
  const folder = join(path, '..')
  measure('interchangeMake', path)
  const [glb, ply, stl, dae, usda, abc] = ['glb', 'ply', 'stl', 'dae', 'usda', 'abc'].map((ending) =>
    join(folder, `grid.${ending}`),
  ) as [string, string, string, string, string, string]
  const median = (name: string, file: string) => medianOf(3, () => measure(name, file))
  const times = (a: Record<string, number>, b: Record<string, number>): string =>
    (a['milliseconds']! / b['milliseconds']!).toFixed(2)
  const memory = (figures: Record<string, number>, file: string): string => {
    const own = figures['ownBytes']!
    const size = statSync(file).size
    return `${((figures['peakBytes']! - own) / size).toFixed(1)} times the file in memory (target at most 4; ${(own / size).toFixed(1)} more for the program itself)`
  }
  const say = (what: string, figures: Record<string, number>, rest: string): void =>
    console.log(`${what.padEnd(40)}${seconds(figures['milliseconds']!)}${rest ? `   ${rest}` : ''}`)
  const copied = (written: Record<string, number>): string =>
    `${(written['milliseconds']! / written['copyMilliseconds']!).toFixed(1)} times copying its bytes`
  console.log(
    `\none million quads with UVs and normals: ${[glb, ply, stl, dae, usda, abc].map((file) => `${file.split('.').pop()} ${(statSync(file).size / 1e6).toFixed(0)} MB`).join(', ')}; medians of 3`,
  )
  const [read, apart] = [median('gltfRead', glb), median('gltfReadApart', glb)]
  const [three, joined] = [median('gltfThree', glb), median('gltfThreeJoined', glb)]
  say('read glTF, points joined', read, memory(read, glb))
  say('read glTF, points as they lie', apart, '')
  say('three GLTFLoader', three, `kelbo / three ${times(apart, three)} (target at most 1)`)
  say('three GLTFLoader and mergeVertices', joined, `kelbo, joined / three, merged ${times(read, joined)}`)
  const written = median('gltfWrite', path)
  say('write glTF', written, `${copied(written)} (target at most 2)`)
  const [plyRead, plyApart] = [median('plyRead', ply), median('plyReadApart', ply)]
  const plyFloor = median('plyCopy', ply)
  say('read binary PLY', plyRead, memory(plyRead, ply))
  say(
    'read binary PLY, points as they lie',
    plyApart,
    `${times(plyApart, plyFloor)} of the floor (target 1.5)`,
  )
  say('copy the numbers of the PLY', plyFloor, '')
  const plyWritten = median('plyWrite', path)
  say('write binary PLY', plyWritten, copied(plyWritten))
  const [stlRead, stlApart] = [median('stlRead', stl), median('stlReadApart', stl)]
  const stlFloor = median('stlCopy', stl)
  say(
    'read binary STL, points joined',
    stlRead,
    `${times(stlRead, stlFloor)} of the floor, ${memory(stlRead, stl)}`,
  )
  say(
    'read binary STL, points as they lie',
    stlApart,
    `${times(stlApart, stlFloor)} of the floor (target 1.5)`,
  )
  say('copy the numbers of the STL', stlFloor, '')
  const stlWritten = median('stlWrite', path)
  say('write binary STL', stlWritten, copied(stlWritten))
  const daeRead = median('daeRead', dae)
  const daeAlone = median('daeReadAlone', dae)
  say('read COLLADA', daeRead, memory(daeRead, dae))
  say('read COLLADA, one thread', daeAlone, '')
  if (existsSync('/usr/bin/assimp')) {
    const native = medianOf(3, () => timeProcess('assimp', ['info', dae, '-r', '-s']))
    say(
      'read COLLADA, native assimp',
      native,
      `kelbo is ${times(native, daeRead)} times as fast, in one thread ${times(native, daeAlone)} (target 3)`,
    )
  } else console.log('native assimp is not installed (Debian package assimp-utils): left out')
  const daeWritten = median('daeWrite', path)
  say('write COLLADA', daeWritten, copied(daeWritten))
  const perSecond = (figures: Record<string, number>, file: string): string =>
    `${(statSync(file).size / 1e3 / figures['milliseconds']!).toFixed(0)} MB/s`
  const usdRead = median('usdRead', usda)
  say('read USD text', usdRead, `${perSecond(usdRead, usda)}, ${memory(usdRead, usda)}`)
  const usdWritten = median('usdWrite', path)
  say('write USD text', usdWritten, copied(usdWritten))
  const abcRead = median('abcRead', abc)
  say('read Alembic', abcRead, `${perSecond(abcRead, abc)} (target 100), ${memory(abcRead, abc)}`)
  const abcWritten = median('abcWrite', path)
  say('write Alembic', abcWritten, copied(abcWritten))
}
