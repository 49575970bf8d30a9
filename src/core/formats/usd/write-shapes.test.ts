/** Shapes on the way to others: written as such, and read again as they were. */
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import type { BlendShape } from '../../scene/mesh.ts'
import { readUsd } from './read-usd.ts'
import { inWrittenOrder, planShapes } from './write-shapes.ts'
import { writeUsd } from './write-usd.ts'

const moved = (points: readonly number[], by: number): Pick<BlendShape, 'points' | 'offsets'> => ({
  points: Uint32Array.from(points),
  offsets: Float64Array.from({ length: 3 * points.length }, (_value, at) => by * (at % 3 === 1 ? 1 : 0.25)),
})
const written = (shapes: readonly BlendShape[]) => {
  const scene = sceneOf([cubeOf({ name: 'face', shapes })])
  const { files, findings } = writeUsd(scene, 'face.usda')
  const read = readUsd(files[0]!, [])
  return { scene, findings, read, body: new TextDecoder().decode(files[0]!.bytes) }
}

test('one prim holds a shape and what lies on the way to it, over the points of all of them', () => {
  const shapes: BlendShape[] = [
    { name: 'half way', channel: 'smile', fullWeight: 50, ...moved([1, 5], 0.5) },
    { name: 'full', channel: 'smile', ...moved([1, 2], 1) },
    { name: 'blink', ...moved([7], -0.5) },
  ]
  const { body, read, findings } = written(shapes)
  expect(findings).toEqual([])
  expect(body.match(/def BlendShape/g)).toHaveLength(2)
  expect(body).toContain('uniform token[] skel:blendShapes = ["smile", "blink"]')
  expect(body).toMatch(/uniform vector3f\[\] inbetweens:half_way = \[.*\] \(\s+displayName = "half way"\s+weight = 0.5\s+\)/) // prettier-ignore
  expect(body).toContain('uniform int[] pointIndices = [1, 2, 5]')
  expect(read.findings).toEqual([])
  expect(read.scene.meshes[0]!.shapes).toEqual(shapes)
})

describe('each by itself', () => {
  test.each([
    ['that no whole one follows', [{ fullWeight: 30 }, { fullWeight: 60 }]],
    ['two at one weight', [{ fullWeight: 30 }, { fullWeight: 30 }, {}]],
    ['two that are whole', [{}, { fullWeight: 100 }]],
    ['beyond the whole one', [{}, { fullWeight: 150 }]],
    ['before the beginning', [{ fullWeight: -20 }, {}]],
    ['at the beginning', [{ fullWeight: 0 }, {}]],
  ])('%s', (_name, weights) => {
    const shapes = weights.map((more, at): BlendShape => ({ name: `s${at}`, channel: 'c', ...more, ...moved([at, at + 1], 1) })) // prettier-ignore
    const { body, read } = written(shapes)
    expect(body).not.toContain('inbetweens')
    expect(read.scene.meshes[0]!.shapes).toEqual(shapes)
  })
})

test('channels of any kind come back as they were', () => {
  for (let seed = 0; seed < howMany(40, 2000); seed++) {
    const chance = chanceOf(seed)
    const shapes: BlendShape[] = []
    const count = 1 + Math.floor(chance() * 4)
    for (let channel = 0; channel < count; channel++) {
      const steps = Math.floor(chance() * 4)
      for (let step = 0; step <= steps; step++) {
        const own = moved(Array.from({ length: 8 }, (_point, at) => at).filter((at) => at === step || chance() < 0.4), 0.1 + chance()) // prettier-ignore
        shapes.push({
          name: `${['a', 'mund auf', '口', ''][channel]}${step}`,
          ...(steps || chance() < 0.5 ? { channel: ['smile', 'mund auf', '口', '7'][channel]! } : {}),
          ...(step < steps ? { fullWeight: (100 * (step + 1)) / (steps + 1) } : {}),
          ...own,
          ...(chance() < 0.4 ? { normals: own.offsets.map((value) => value / 2) } : {}),
          ...(chance() < 0.3 ? { weight: 1 + Math.round(chance() * 99) } : {}),
        })
      }
    }
    shapes.sort(() => chance() - 0.5)
    const { scene, read } = written(shapes)
    expect([seed, read.findings]).toEqual([seed, []])
    expect(read.scene.meshes[0]!.shapes).toEqual(inWrittenOrder(planShapes({ shapes })))
    expect(compareScenes(scene, read.scene).rows[0]!.cells.shapes!.state).toBe('same')
  }
})
