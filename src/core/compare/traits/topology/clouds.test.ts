/** Parts without polygons: clouds of points, and lines over them. */
import { expect, test } from 'vitest'
import { sceneOf } from '../../../../../tests/solids.ts'
import { renderText } from '../../../base/messages/render.ts'
import { EMPTY_MESH, type Mesh } from '../../../scene/mesh.ts'
import { compareScenes } from '../../compare-scenes.ts'
import { topology } from './topology.ts'

const cloud = (count: number, more: Partial<Mesh> = {}): Mesh => ({
  ...EMPTY_MESH,
  name: 'scan',
  points: Float64Array.from({ length: 3 * count }, (_value, at) => Math.sin(at * at)),
  ...more,
})
const told = (own: Mesh, came: Mesh): string => {
  const { note, parameters } = compareScenes(sceneOf([own]), sceneOf([came])).rows[0]!.cells.topology!
  return renderText(topology.notes[note]?.ledger ?? note, parameters)
}
const linesOver = (...points: number[]): Mesh['lines'] => ({
  offsets: Uint32Array.from({ length: points.length / 2 + 1 }, (_line, at) => 2 * at),
  points: Uint32Array.from(points),
  uvs: new Int32Array(points.length).fill(-1),
})

test('of a cloud points are gone or new, and no polygons are spoken of', () => {
  expect(told(cloud(40), cloud(39))).toBe('Of 40 points 1 is gone.')
  expect(told(cloud(40), cloud(43))).toBe('Of 40 points all are there; 3 are new.')
  const other = cloud(40)
  const moved = cloud(41, { points: Float64Array.of(...other.points.subarray(0, 114), 5, 5, 5, 6, 6, 6, 7, 7, 7) }) // prettier-ignore
  expect(told(other, moved)).toBe('Of 40 points 2 are gone; 3 are new.')
})

test('of lines over the same points some are gone or new', () => {
  const own = cloud(6, { lines: linesOver(0, 1, 2, 3, 4, 5) })
  expect(told(own, cloud(6, { lines: linesOver(0, 1, 2, 3) }))).toBe('The points are the same; 1 line or single point is gone.') // prettier-ignore
  expect(told(own, cloud(6, { lines: linesOver(0, 1, 2, 3, 4, 5, 0, 5) }))).toBe('The points are the same; 1 is new.') // prettier-ignore
})
