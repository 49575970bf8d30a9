import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { runChecks } from '../../checks/run-checks.ts'
import { runStep } from '../../steps/run-steps.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { turnFlaggedFaces } from '../rebuilding/turn-flagged-faces.ts'

/** Every polygon with points of its own. */
const unwelded = (mesh: Mesh): Mesh => ({
  ...mesh,
  points: Float64Array.from(mesh.faceVertices.length * 3 ? [...mesh.faceVertices].flatMap((point) => [0, 1, 2].map((axis) => mesh.points[3 * point + axis]!)) : []), // prettier-ignore
  faceVertices: mesh.faceVertices.map((_point, corner) => corner),
})
const turned = (mesh: Mesh, ...faces: number[]): Mesh =>
  turnFlaggedFaces(
    mesh,
    Uint8Array.from({ length: 6 }, (_face, at) => (faces.includes(at) ? 1 : 0)),
  )
const foundIn = (scene: Scene): [string, number][] =>
  runChecks(scene, { checks: ['turned-faces'] }).map(({ problem, count }) => [problem, count])
const only = (mesh: Mesh): Scene => completeIds(sceneOf([mesh]))
const cube = cubeOf()

describe('polygons that lie side by side on points of their own', () => {
  test('are judged as the shell that they make: whole, turned, inside out', () => {
    expect(foundIn(only(unwelded(cube)))).toEqual([])
    expect(foundIn(only(unwelded(turned(cube, 3))))).toEqual([['turned', 1]])
    expect(foundIn(only(unwelded(turned(cube, 0, 1, 2, 3, 4, 5))))).toEqual([['inward', 1]])
  })
  test.each([[[3]], [[0, 1, 2, 3, 4, 5]], [[1, 4]]])(
    'turned %j and mended, before or after welding, end clean',
    (faces) => {
      const bad = only(unwelded(turned(cube, ...faces)))
      const weld = { step: 'weld-by-distance', params: {} }
      const turn = { step: 'turn-faces', params: { mode: 'outward' } }
      for (const order of [
        [turn, weld],
        [weld, turn],
      ])
        expect(foundIn(order.reduce((scene, step) => runStep(scene, step).scene, bad))).toEqual([])
    },
  )
  test('a sheet with two sides on points of its own is two sides and no fault', () => {
    const front = unwelded(cube)
    const back = turned(front, 0, 1, 2, 3, 4, 5)
    const count = front.points.length / 3
    const both: Mesh = {
      ...front,
      points: Float64Array.from([...front.points, ...back.points]),
      faceVertices: Uint32Array.from([
        ...front.faceVertices,
        ...back.faceVertices.map((point) => point + count),
      ]),
      faceOffsets: Uint32Array.from({ length: 13 }, (_offset, at) => 4 * at),
    }
    expect(foundIn(only(both))).toEqual([])
  })
})
