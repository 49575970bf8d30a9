/**
 * Figures beside other libraries, on the same file in the same run. Every single measurement is a process of
 * its own, so that nobody profits from what another has warmed up; medians of three.
 */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import { writeObj } from '../src/core/formats/obj/write-obj.ts'
import { compareScenes } from '../src/core/traits/compare-scenes.ts'
import { writeGridObj } from './make-grid.ts'

const MEASURES: Record<string, (path: string) => Record<string, number>> = {
  read(path) {
    const bytes = readFileSync(path)
    const start = performance.now()
    const { scene } = readObj({ name: 'grid.obj', bytes })
    const milliseconds = performance.now() - start
    return {
      milliseconds,
      faces: scene.meshes[0]!.faceOffsets.length - 1,
      peakBytes: process.resourceUsage().maxRSS * 1024,
    }
  },
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

function main(): void {
  const [flag, name, target] = process.argv.slice(2)
  if (flag === '--measure') {
    console.log(JSON.stringify(MEASURES[name!]!(target!)))
    return
  }
  if (flag === '--grid') return writeGridObj(name!, 1000)
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-benchmark-'))
  try {
    const path = join(folder, 'grid.obj')
    writeGridObj(path, 1000)
    const size = statSync(path).size
    console.log(
      `One million quads with UVs, normals, groups and materials: ${(size / 1e6).toFixed(0)} MB, medians of 3\n`,
    )
    const read = medianOf(3, () => measure('read', path))
    console.log(`read OBJ, kelbo                ${seconds(read.milliseconds!)}`)
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

main()
