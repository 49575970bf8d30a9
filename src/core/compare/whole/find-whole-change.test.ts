/** When boxes may say what happened to a model, and when points are asked alone. */
import { expect, test } from 'vitest'
import { ballOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { findWholeChange } from './find-whole-change.ts'

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
