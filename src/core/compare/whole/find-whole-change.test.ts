/** When boxes may say what happened to a model, and when points are asked alone. */
import { describe, expect, test } from 'vitest'
import { IN_THE_LONG_RUN, someOf } from '../../../../tests/how-many.ts'
import { ballOf, sceneOf, turnedAbout } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { carvePoints } from '../../practice/faults/carve-points.ts'
import { lightenMesh } from '../../practice/faults/lighten-mesh.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { wholeByBoxes } from './by-boxes.ts'
import { undoWhole } from './undo-whole.ts'
import { findWholeChange } from './find-whole-change.ts'
import { wholeText } from './whole-text.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

/** Of the heron, in its unit. */
const HEIGHT = 100

const ball = ballOf(9, 7, 3)
const master = sceneOf([ball, ball])
/** The same boxes a hundredfold, and points anywhere in them. */
const scattered = (seed: number): Scene => {
  const next = chanceOf(seed)
  const made = (mesh: Mesh): Mesh => {
    const order = Array.from({ length: mesh.points.length / 3 }, (_point, at) => at)
    for (let at = order.length - 1; at > 0; at--) {
      const other = Math.floor(next() * (at + 1))
      ;[order[at], order[other]] = [order[other]!, order[at]!]
    }
    return {
      ...mesh,
      points: Float64Array.from(
        mesh.points,
        (_value, at) => 100 * mesh.points[3 * order[Math.floor(at / 3)]! + (at % 3)]!,
      ),
    }
  }
  return sceneOf([made(ball), made(ball)])
}
const matchedBy = (pairs: (point: number) => number): MatchedPart[] =>
  [0, 1].map((node) => ({
    match: { masterNode: node, returnedNode: node },
    correspondence: {
      pointToReturned: Int32Array.from({ length: ball.points.length / 3 }, (_, at) => pairs(at)),
    },
  })) as unknown as MatchedPart[]
const count = ball.points.length / 3

test.each([1, 2, 3])('hardly any point has a counterpart: boxes say how large it came back (%i)', (seed) => {
  const found = findWholeChange(
    master,
    scattered(seed),
    matchedBy(() => -1),
  )
  expect(found && 'factor' in found ? found.factor : found).toBeTruthy()
  expect(JSON.stringify(found)).toMatch(/100/)
  // a few are hardly any
  expect(
    JSON.stringify(
      findWholeChange(
        master,
        scattered(seed),
        matchedBy((at) => (at < 2 ? at : -1)),
      ),
    ),
  ).toMatch(/100/)
})

test.each([1, 2, 3])(
  'points that correspond and bear no size out: none is told, whatever boxes say (%i)',
  (seed) => {
    expect(
      findWholeChange(
        master,
        scattered(seed),
        matchedBy((at) => at),
      ),
    ).toBeNull()
    // half of them are enough to be asked
    expect(
      findWholeChange(
        master,
        scattered(seed),
        matchedBy((at) => (at < count / 2 ? at : -1)),
      ),
    ).toBeNull()
  },
)

test.each([
  ['a hundredfold, shrunk by a hundredth here and there', 100, [0.99, 0.985, 0.99], 100],
  ['an inch for a centimetre, swollen', 2.54, [1.01, 1, 1.005], 2.54],
  ['a factor that no tool has, all sides alike', 101, [1, 1, 1], 101],
  ['the same, one side swollen: the nearest that tools have', 101, [1, 1.01, 1], 100],
  ['far from any that tools have', 70, [1, 1.01, 1], null],
] as const)('boxes: %s', (_name, factor, sides, told) => {
  const sized = {
    ...master,
    meshes: master.meshes.map((mesh) => ({
      ...mesh,
      points: mesh.points.map((value, at) => value * factor * sides[at % 3]!),
    })),
  }
  const placed = [0, 1].map((at) => ({
    master: { mesh: master.meshes[at]!, world: IDENTITY_MATRIX },
    returned: { mesh: sized.meshes[at]!, world: IDENTITY_MATRIX },
  }))
  const found = wholeByBoxes(placed, { master: master.space, returned: master.space })!
  if (told) expect(found.factor).toBe(told)
  else expect(found.factor).toBeCloseTo(70.3, 0)
  expect(found.undo.ratio).toBe(1 / found.factor)
})

describe('made anew and carved, so that hardly a point corresponds: surfaces say what happened to all of it', () => {
  const scaled = (by: number): Matrix => [by, 0, 0, 0, 0, by, 0, 0, 0, 0, by, 0, 0, 0, 0, 1]
  const lying: Matrix = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1]
  const mirrored: Matrix = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  const aside: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 500, 0, 0, 1]
  const cases: readonly (readonly [string, Matrix, string | null])[] = [
    ['as it was', IDENTITY_MATRIX, null],
    ['a hundredfold', scaled(100), '100 times as large as it was sent'],
    ['a hundredth', scaled(0.01), '0.01 times as large as it was sent'],
    ['inches', scaled(39.37007874015748), '39.37 times as large as it was sent'],
    ['no factor that tools have', scaled(1.7), '1.7 times as large as it was sent'],
    ['lying', lying, 'lying, with Z up'],
    ['lying, a hundredfold', multiplyMatrices(lying, scaled(100)), '100 times as large as it was sent, lying, with Z up'],
    ['mirrored', mirrored, 'mirrored across X'],
    ['moved', aside, 'moved by 500 cm along X'],
  ] // prettier-ignore
  /** Which of them a model goes through on every run. */
  const ORDINARY = { heron: [6, 7], lantern: [3, 8], bollard: [0, 1, 2, 4, 5] }
  test.each([
    ['heron', buildCourierHeron, 0.01],
    ['lantern', buildStormLantern, 0.03],
    ['bollard', buildMooringBollard, 0.02],
  ] as const)('%s', (name, build, strength) => {
    const scene = flatten(build())
    const anew = scene.meshes.map((mesh) => ({ ...lightenMesh({ ...mesh, points: carvePoints(mesh, strength) }, 1.5), uvSets: [] })) // prettier-ignore
    for (const [at, [word, matrix, told]] of cases.entries()) {
      // those that are alike on either side are their own mirror image
      if (word === 'mirrored' && name !== 'heron') continue
      // each way on one of them
      if (!IN_THE_LONG_RUN && !ORDINARY[name].includes(at)) continue
      const returned: Scene = { ...scene, format: 'obj', meshes: anew.map((mesh) => transformMesh(mesh, matrix)) } // prettier-ignore
      const found = recogniseReturn(scene, returned)
      const { whole } = compareScenes(scene, found.returned, () => {}, found.matching)
      expectAsBefore(tellRecognised(scene, found))
      expect([word, whole && wholeText(whole)]).toEqual([word, told])
      if (!word.endsWith('a hundredfold')) continue
      // undone, all of it stands where it stood, as far as its surfaces tell
      const again = recogniseReturn(scene, returned, { undoWhole: true })
      expect(compareScenes(scene, again.returned, () => {}, again.matching).whole).toBeNull()
    }
  })

  const anyTurn: readonly (readonly [string, Matrix, RegExp | null])[] = [
    ['a little', turnedAbout([0, 1, 0], 7), /^turned by 7° about Y$/],
    ['an eighth, a hundredfold', multiplyMatrices(turnedAbout([0, 1, 0], 45), scaled(100)), /^100 times as large as it was sent, turned by 45° about Y$/],
    ['a third, a hundredth', multiplyMatrices(turnedAbout([0, 0, 1], 120), scaled(0.01)), /^0.01 times as large as it was sent, turned by 120° about Z$/],
    ['about no axis, in inches', multiplyMatrices(turnedAbout([1, -2, 0.5], 73), scaled(39.37007874015748)), /^39.37 times as large as it was sent, turned by (72.9|73|73.1)°$/],
    ['mirrored and about no axis', multiplyMatrices(turnedAbout([1, 0.2, 0.5], 74), mirrored), /^mirrored across X, turned by/],
  ] // prettier-ignore
  test.each(someOf(anyTurn, 0, 4))('turned by any angle: %s', (_word, matrix, told) => {
    const scene = flatten(buildCourierHeron())
    const anew = scene.meshes.map((mesh) => ({ ...lightenMesh({ ...mesh, points: carvePoints(mesh, 0.01) }, 1.5), uvSets: [] })) // prettier-ignore
    const returned: Scene = { ...scene, format: 'obj', meshes: anew.map((mesh) => transformMesh(mesh, matrix)) } // prettier-ignore
    const found = recogniseReturn(scene, returned)
    const { whole } = compareScenes(scene, found.returned, () => {}, found.matching)
    expectAsBefore(tellRecognised(scene, found))
    expect(whole && wholeText(whole)).toMatch(told!)
    // undone, it stands where the carve left it: to a thousandth of its height where the turn was about an axis
    const back = undoWhole(returned, { undo: whole!.undo! })
    let farthest = 0
    back.meshes.forEach(({ points }, mesh) =>
      points.forEach((value, at) => {
        farthest = Math.max(farthest, Math.abs(value - anew[mesh]!.points[at]!))
      }),
    )
    expect(farthest).toBeLessThan(HEIGHT * (told!.source.includes('about') ? 1e-9 : 0.003))
  })

  test.each([
    ['heron', buildCourierHeron, 0],
    ['lantern', buildStormLantern, 1],
    ['bollard', buildMooringBollard, 2],
  ] as const)(
    'carved deeper and deeper and bent to a side, it is none of these: %s',
    (_name, build, place) => {
      const scene = flatten(build())
      for (const [at, strength] of [0.005, 0.03, 0.1].entries()) {
        // each model in one way in the ordinary run
        if (!IN_THE_LONG_RUN && at !== place) continue
        const bent = (mesh: Mesh): Mesh => {
          const points = carvePoints(mesh, strength)
          const ends = [0, 1, 2].map((axis) => {
            const along = points.filter((_value, k) => k % 3 === axis)
            return [Math.min(...along), Math.max(...along)] as const
          })
          const from = at % 3
          const to = (from + 1) % 3
          return {
            ...mesh,
            points: points.map((value, k) => {
              if (k % 3 !== to) return value
              const [low, high] = ends[from]!
              const share = (points[k - to + from]! - low) / (high - low || 1)
              return value + strength * (ends[to]![1] - ends[to]![0]) * share * share
            }),
          }
        }
        const meshes = scene.meshes.map((mesh) => ({ ...lightenMesh(bent(mesh), 1.6), uvSets: [] }))
        const found = recogniseReturn(scene, { ...scene, format: 'obj', meshes })
        expect(compareScenes(scene, found.returned, () => {}, found.matching).whole).toBeNull()
      }
    },
  )

  test('nor is another model', () => {
    const heron = flatten(buildCourierHeron())
    for (const other of someOf([buildStormLantern, buildMooringBollard], 1)) {
      const found = recogniseReturn(heron, flatten(other()))
      expect(compareScenes(heron, found.returned, () => {}, found.matching).whole).toBeNull()
    }
  })
})

/** Two balls side by side, the larger one said to be laid in a way that is as good as another. */
test('what could be laid in one way alone says what happened, as long as the rest lies there as well', () => {
  const large = ballOf(14, 9, 3)
  const small = transformMesh(ballOf(9, 7, 1), [1, 0, 0, 0, 0, 1.4, 0, 0, 0.3, 0, 1, 0, 9, 1, 2, 1])
  const mirror: Matrix = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  const [own, came] = [sceneOf([large, small]), sceneOf([transformMesh(large, mirror), transformMesh(small, mirror)])] // prettier-ignore
  const numbersOf = (mesh: Mesh): number[] =>
    Array.from({ length: mesh.points.length / 3 }, (_point, at) => at)
  /** The large one as if nothing had happened to it: it lies on itself mirrored. */
  const stands = numbersOf(large).map((point) => {
    const at = large.points.subarray(3 * point, 3 * point + 3)
    return numbersOf(large).find((other) => Math.hypot(-large.points[3 * other]! - at[0]!, large.points[3 * other + 1]! - at[1]!, large.points[3 * other + 2]! - at[2]!) < 1e-6)! // prettier-ignore
  })
  expect(stands).not.toContain(undefined)
  const matched = (guess: boolean): MatchedPart[] =>
    [stands, numbersOf(small)].map((pairs, node) => ({
      match: { masterNode: node, returnedNode: node },
      correspondence: { pointToReturned: Int32Array.from(pairs), guess: node === 0 && guess },
    })) as unknown as MatchedPart[]
  expect(findWholeChange(own, came, matched(true))).toMatchObject({ mirror: 'X', factor: 1, turn: null })
  // said for certain, most points stayed
  expect(findWholeChange(own, came, matched(false))).toBeNull()
  // and where the large one doesn't lie there, the small one alone does not say it of all
  const elsewhere = sceneOf([transformMesh(large, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 5, 4, 1]), transformMesh(small, mirror)]) // prettier-ignore
  expect(findWholeChange(own, elsewhere, matched(true))).not.toMatchObject({ mirror: 'X', move: null })
})
