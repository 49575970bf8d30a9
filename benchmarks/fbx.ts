/** FBX beside three's loader and native assimp: reading and writing both forms, and a forecast. */
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { LoadingManager } from 'three'
import { FBXLoader } from 'three/addons/loaders/FBXLoader.js'
import { deliver } from '../src/core/trips/deliver.ts'
import { destinationOf } from '../src/core/trips/destinations/registry.ts'
import type { FbxWriteOptions } from '../src/core/formats/fbx/options.ts'
import { readFbx } from '../src/core/formats/fbx/read-fbx.ts'
import { writeFbx } from '../src/core/formats/fbx/write-fbx.ts'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import { NODE_CODEC } from '../src/host/node-codec.ts'
import { bareGrid } from './bare-grid.ts'

const codec = NODE_CODEC

function timeReading(path: string): Record<string, number> {
  const bytes = readFileSync(path)
  const start = performance.now()
  const { scene } = readFbx({ name: 'grid.fbx', bytes }, [], { codec })
  return {
    milliseconds: performance.now() - start,
    faces: scene.meshes[0]!.faceOffsets.length - 1,
    peakBytes: process.resourceUsage().maxRSS * 1024,
  }
}

function timeWriting(path: string, options: Partial<FbxWriteOptions>): Record<string, number> {
  const { scene } = readFbx({ name: 'grid.fbx', bytes: readFileSync(path) }, [], { codec })
  const start = performance.now()
  const { files } = writeFbx(scene, 'grid.fbx', { ...options, codec })
  return { milliseconds: performance.now() - start, bytes: files[0]!.bytes.length }
}

/** Bytes that the arrays of the file take unpacked. */
function unpackedBytes(path: string): number {
  let total = statSync(path).size
  readFbx({ name: 'grid.fbx', bytes: readFileSync(path) }, [], {
    codec: {
      ...codec,
      inflate(packed, byteLength) {
        total += byteLength - packed.length
        return codec.inflate(packed, byteLength)
      },
    },
  })
  return total
}

/** Each runs in a process of its own. */
export const FBX_MEASURES: Record<string, (path: string) => Record<string, number>> = {
  /** Makes the files: every array packed, so that unpacking is part of what is measured. */
  fbxMake(path) {
    const scene = bareGrid(path)
    const folder = join(path, '..')
    const binary = writeFbx(scene, 'grid.fbx', { packAll: true, codec }).files[0]!.bytes
    const text = writeFbx(scene, 'grid.fbx', { form: 'text' }).files[0]!.bytes
    writeFileSync(join(folder, 'grid.fbx'), binary)
    writeFileSync(join(folder, 'grid_text.fbx'), text)
    return { unpacked: unpackedBytes(join(folder, 'grid.fbx')) }
  },
  fbxRead: timeReading,
  fbxThree(path) {
    const bytes = readFileSync(path)
    const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength)
    const start = performance.now()
    const group = new FBXLoader(new LoadingManager()).parse(buffer as ArrayBuffer, '')
    return {
      milliseconds: performance.now() - start,
      children: group.children.length,
      peakBytes: process.resourceUsage().maxRSS * 1024,
    }
  },
  fbxWrite: (path) => timeWriting(path, {}),
  fbxWriteAll: (path) => timeWriting(path, { packAll: true }),
  fbxWriteText: (path) => timeWriting(path, { form: 'text' }),
  /** A forecast of a character of a hundred thousand quads, beside writing and reading the same file. */
  forecast(path) {
    const scene = readObj({ name: 'grid.obj', bytes: readFileSync(path) }, [], { unitMeters: 0.01 }).scene
    const destination = destinationOf('modelling')!
    const options = { ...destination.writeOptions, codec }
    const start = performance.now()
    const { files } = writeFbx(scene, 'grid.fbx', options)
    readFbx(files[0]!, files, { codec })
    const middle = performance.now()
    const delivery = deliver(scene, { destination, options: {}, stem: 'grid', withRecipe: true, codec })
    const cells = Object.values(delivery.forecast.rows[0]!.cells)
    if (cells.some((cell) => cell!.state === 'lost')) throw new Error('the grid lost something on its way')
    return { milliseconds: performance.now() - middle, plainMilliseconds: middle - start }
  },
}

interface Tools {
  readonly medianOf: (runs: number, once: () => Record<string, number>) => Record<string, number>
  readonly measure: (name: string, path: string) => Record<string, number>
  readonly timeProcess: (program: string, args: readonly string[]) => { milliseconds: number }
  readonly seconds: (milliseconds: number) => string
}

/** @param small an OBJ of a hundred thousand quads. */
export function printFbxFigures(folder: string, small: string, tools: Tools): void {
  const { medianOf, measure, timeProcess, seconds } = tools
  const median = (name: string, path: string) => medianOf(3, () => measure(name, path))
  const { unpacked } = measure('fbxMake', join(folder, 'grid.obj'))
  const binary = join(folder, 'grid.fbx')
  const text = join(folder, 'grid_text.fbx')
  const megabytes = (path: string): string => `${(statSync(path).size / 1e6).toFixed(0)} MB`
  const hasAssimp = existsSync('/usr/bin/assimp')
  const assimp = (path: string): number =>
    hasAssimp ? medianOf(3, () => timeProcess('assimp', ['info', path, '-r', '-s'])).milliseconds! : NaN
  console.log(
    `\none million quads with UVs and normals as FBX: binary ${megabytes(binary)} (every array packed), text ${megabytes(text)}`,
  )
  const read = median('fbxRead', binary)
  const three = median('fbxThree', binary)
  const native = assimp(binary)
  console.log(
    `read binary FBX, kelbo          ${seconds(read.milliseconds!)}; three ${seconds(three.milliseconds!)}: kelbo is ${(three.milliseconds! / read.milliseconds!).toFixed(1)} times as fast (target 6); native assimp ${seconds(native)}: kelbo / assimp ${(read.milliseconds! / native).toFixed(2)} (target at most 1; assimp's figure is its whole process)`,
  )
  console.log(
    `peak memory of reading          ${(read.peakBytes! / 1e6).toFixed(0)} MB, ${(read.peakBytes! / unpacked!).toFixed(2)} times the file unpacked (target at most 5); three ${(three.peakBytes! / unpacked!).toFixed(2)} times`,
  )
  const readText = median('fbxRead', text)
  const nativeText = assimp(text)
  console.log(
    `read text FBX, kelbo            ${seconds(readText.milliseconds!)}; native assimp ${seconds(nativeText)}: kelbo is ${(nativeText / readText.milliseconds!).toFixed(1)} times as fast (target 2)`,
  )
  const write = median('fbxWrite', binary)
  const writeAll = median('fbxWriteAll', binary)
  const writeText = median('fbxWriteText', binary)
  console.log(
    `write binary FBX, kelbo         ${seconds(write.milliseconds!)}, ${(write.bytes! / 1e6).toFixed(0)} MB; write / read ${(write.milliseconds! / read.milliseconds!).toFixed(2)} (target at most 1.5); with every array packed ${seconds(writeAll.milliseconds!)}, ${(writeAll.milliseconds! / read.milliseconds!).toFixed(2)}`,
  )
  console.log(
    `write text FBX, kelbo           ${seconds(writeText.milliseconds!)}; write / read ${(writeText.milliseconds! / readText.milliseconds!).toFixed(2)}`,
  )
  const forecast = medianOf(3, () => measure('forecast', small))
  console.log(
    `forecast of 100 000 quads       ${seconds(forecast.milliseconds!)}; write plus read ${seconds(forecast.plainMilliseconds!)}: ${(forecast.milliseconds! / forecast.plainMilliseconds!).toFixed(2)} times (target below 3)`,
  )
}
