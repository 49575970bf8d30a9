/**
 * Whatever is done with a scene, its arrays are left as they were given: readers let several of them lie in one buffer, and
 * versions share what a step did not change.
 */
import { expect, test } from 'vitest'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { KelboError } from '../../src/core/base/messages/collector.ts'
import { runChecks } from '../../src/core/checks/run-checks.ts'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import { TRAITS } from '../../src/core/compare/traits/registry.ts'
import { readGltf } from '../../src/core/formats/gltf/read-gltf.ts'
import { writeGltf } from '../../src/core/formats/gltf/write-gltf.ts'
import { readPly } from '../../src/core/formats/ply/read-ply.ts'
import { writePly } from '../../src/core/formats/ply/write-ply.ts'
import { FORMATS } from '../../src/core/formats/registry.ts'
import { inspectScene } from '../../src/core/inspect/inspect-scene.ts'
import { computeNormals } from '../../src/core/mesh/normals/compute-normals.ts'
import { reconcile } from '../../src/core/reconcile/reconcile.ts'
import type { Mesh } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { STEPS } from '../../src/core/steps/registry.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { StepRefusal } from '../../src/core/steps/step.ts'
import { gridOf, sceneOf, uvsOf } from '../solids.ts'
import { anyOptions } from './approved/tell.ts'
import { richScene, scenesOf } from './approved/touch.ts'
import { faulty } from './made-faults.ts'

/** A sheet whose corners carry everything by the numbers of their points. */
function sheet(): Mesh {
  const mesh = gridOf(5, 4, {}, (x, z) => Math.sin(x) + Math.cos(2 * z))
  const values = Array.from({ length: mesh.points.length / 3 }, (_point, at): [number, number] => [
    mesh.points[3 * at]! / 6,
    mesh.points[3 * at + 2]! / 6,
  ])
  const uvs = { ...uvsOf(values), indices: Int32Array.from(mesh.faceVertices) }
  const normals = computeNormals(
    { ...mesh, smoothing: { kind: 'edges', hardEdgePoints: new Uint32Array(0) } },
    null,
  )
  return { ...mesh, uvSets: [uvs], normals }
}

/** Every array of numbers of a scene, with what it holds. */
function arraysOf(value: unknown, found = new Map<ArrayBufferView, string>()): Map<ArrayBufferView, string> {
  if (ArrayBuffer.isView(value))
    found.set(value, Buffer.from(value.buffer, value.byteOffset, value.byteLength).toString('base64'))
  else if (value && typeof value === 'object')
    for (const inner of value instanceof Map ? value.values() : Object.values(value)) arraysOf(inner, found)
  return found
}

const plain = sceneOf([sheet(), { ...sheet(), name: 'other' }])
const bytesOf = ({ files }: { files: readonly { bytes: Uint8Array }[] }): Uint8Array => files[0]!.bytes
const ofGltf = readGltf({ name: 'x.glb', bytes: bytesOf(writeGltf(plain, 'x.glb')) }, []).scene
const ofPly = readPly({ name: 'x.ply', bytes: bytesOf(writePly(sceneOf([sheet()]), 'x.ply')) }, [], {
  join: false,
}).scene

test('readers let arrays lie in one buffer', () => {
  for (const { meshes } of [ofGltf, ofPly]) {
    const { faceVertices, uvSets, normals } = meshes[0]!
    expect(uvSets[0]!.indices.buffer).toBe(faceVertices.buffer)
    expect(normals!.indices.buffer).toBe(faceVertices.buffer)
  }
})

const SCENES: Scene[] = [ofGltf, ofPly, richScene(), ...scenesOf(71, 4), faulty(3), faulty(8)]

/** What was written into, by what was done. */
function writtenInto(work: (scene: Scene, chance: () => number) => [string, () => unknown][]): string[] {
  const wrong = new Set<string>()
  SCENES.forEach((scene, at) => {
    const before = arraysOf(scene)
    for (const [name, run] of work(scene, chanceOf(at + 1))) {
      run()
      for (const [array, content] of before) {
        const now = Buffer.from(array.buffer, array.byteOffset, array.byteLength).toString('base64')
        if (now === content) continue
        wrong.add(name)
        before.set(array, now)
      }
    }
  })
  return [...wrong]
}

/** False where it is refused in words. */
function isDone(work: () => unknown): boolean {
  try {
    work()
    return true
  } catch (error) {
    if (!(error instanceof StepRefusal || error instanceof KelboError)) throw error
    return false
  }
}

test('steps', () => {
  let done = 0
  const wrong = writtenInto((scene, chance) =>
    STEPS.flatMap((step) =>
      [0, 1].map((): [string, () => unknown] => [
        step.id,
        () => {
          if (isDone(() => runStep(scene, { step: step.id, params: anyOptions(step.parameters, chance) })))
            done++
        },
      ]),
    ),
  )
  expect(wrong).toEqual([])
  expect(done).toBeGreaterThan(2 * STEPS.length)
})

test('checks, counting, writing', () => {
  const wrong = writtenInto((scene, chance) => [
    ['checks', () => runChecks(scene)],
    ['inspect', () => inspectScene(scene)],
    ...FORMATS.map((format): [string, () => unknown] => [
      format.id,
      () => format.write(scene, `x${format.endings[0]!}`, anyOptions(format.writeOptions, chance)),
    ]),
  ])
  expect(wrong).toEqual([])
})

test('comparing, and taking all of it', () => {
  const wrong = writtenInto((scene) =>
    SCENES.flatMap((other, at): [string, () => unknown][] => [
      [`compare ${at}`, () => compareScenes(scene, other)],
      [`take ${at}`, () => isDone(() => reconcile(scene, other, { take: TRAITS }))],
      [`give ${at}`, () => isDone(() => reconcile(other, scene, { take: TRAITS }))],
    ]),
  )
  expect(wrong).toEqual([])
})
