/** The box of what is drawn, against moving every point. */
import { expect, test } from 'vitest'
import { howMany } from '../../../tests/how-many.ts'
import { cubeOf, moved, turnedAbout } from '../../../tests/solids.ts'
import { ALONG_AXES } from '../base/math/along-axes.ts'
import { boundsOf, type Box } from '../base/math/box.ts'
import { chanceOf } from '../base/math/chance.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../base/math/matrix.ts'
import { drawnBounds } from './mesh-bounds.ts'
import { EMPTY_MESH, type Mesh } from './mesh.ts'
import { IDENTITY_MATRIX } from './scene.ts'

function movingAll({ points, faceVertices }: Mesh, matrix: Matrix): Box | null {
  const used = new Set(faceVertices)
  const there = transformPoints(points, matrix)
  return boundsOf(there.filter((_value, at) => used.size === 0 || used.has(Math.floor(at / 3))))
}

test('any matrix, over points that nothing uses and numbers that are none', () => {
  for (let seed = 0; seed < howMany(300, 20_000); seed++) {
    const chance = chanceOf(seed)
    const count = 1 + Math.floor(chance() * 12)
    const points = Float64Array.from({ length: 3 * count }, () => (chance() < 0.03 ? [NaN, Infinity, -Infinity][Math.floor(chance() * 3)]! : chance() * 20 - 10)) // prettier-ignore
    const faces = chance() < 0.2 ? 0 : 1 + Math.floor(chance() * 4)
    const mesh: Mesh = {
      ...EMPTY_MESH,
      points,
      faceVertices: Uint32Array.from({ length: 3 * faces }, () => Math.floor(chance() * count)),
      faceOffsets: Uint32Array.from({ length: faces + 1 }, (_offset, at) => 3 * at),
    }
    const turn = ALONG_AXES[Math.floor(chance() * ALONG_AXES.length)]!
    const along: Matrix = [turn[0]!, turn[3]!, turn[6]!, 0, turn[1]!, turn[4]!, turn[7]!, 0, turn[2]!, turn[5]!, turn[8]!, 0, 0, 0, 0, 1] // prettier-ignore
    const sized = along.map((value, at) => (at < 12 ? value * (0.1 + 3 * chance()) : value))
    const away = multiplyMatrices(moved(chance() * 9, -chance() * 9, chance()), sized)
    const flat = away.map((value, at) => (at < 4 ? 0 : value))
    for (const matrix of [
      IDENTITY_MATRIX,
      along,
      away,
      multiplyMatrices(turnedAbout([1, 2, -1], 360 * chance()), away),
      flat,
    ])
      // prettier-ignore
      expect([seed, drawnBounds(mesh, matrix)]).toEqual([seed, movingAll(mesh, matrix)])
  }
})

test('nothing has no box', () => {
  expect(drawnBounds(EMPTY_MESH, IDENTITY_MATRIX)).toBeNull()
  expect(drawnBounds(cubeOf(), IDENTITY_MATRIX)).toEqual({ min: [0, 0, 0], max: [1, 1, 1] })
})
