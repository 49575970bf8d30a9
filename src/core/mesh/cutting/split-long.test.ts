import { describe, expect, test } from 'vitest'
import { runStep } from '../../steps/run-steps.ts'
import { readText } from '../../../../tests/meshes.ts'
import { faceCountOf } from '../../scene/mesh.ts'

const quad = (length: number): string =>
  `o plank\nv 0 0 0\nv ${length} 0 0\nv ${length} 1 0\nv 0 1 0\nf 1 2 3 4\n`
const split = (text: string, aspect = 16) =>
  runStep(readText(text).scene, { step: 'split-long-polygons', params: { aspect } })

describe('splitting long polygons knows its bounds', () => {
  test('a long quad is cut into as many pieces as it needs', () => {
    expect(faceCountOf(split(quad(160)).scene.meshes[0]!)).toBe(10)
  })
  test.each([1e6, 1e12, 1e30, 1e150])('a corner %d away is told and stays', (far) => {
    const done = split(`o plank\nv 0 0 0\nv ${far} 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n`)
    expect(faceCountOf(done.scene.meshes[0]!)).toBe(1)
    expect(done.changedCount).toBe(0)
    expect(done.notes.join(' ')).toMatch(/would need more than 64 pieces and stays/)
  })
  test('a polygon of nearly no width is told and stays', () => {
    const done = split('o plank\nv 0 0 0\nv 1 0 0\nv 1 1e-12 0\nv 0 1e-12 0\nf 1 2 3 4\n')
    expect(faceCountOf(done.scene.meshes[0]!)).toBe(1)
    expect(done.notes.join(' ')).toMatch(/hardly any width/)
  })
  test('a part that would become too large is refused before it is made', () => {
    // rows of long quads, each ring as long as the part: 64 pieces for each of 40 000
    const lines = ['o deck']
    const rows = 40000
    for (let row = 0; row <= rows; row++) lines.push(`v 0 ${row} 0`, `v 1000 ${row} 0`)
    for (let row = 0; row < rows; row++)
      lines.push(`f ${2 * row + 1} ${2 * row + 2} ${2 * row + 4} ${2 * row + 3}`)
    expect(() => split(lines.join('\n'))).toThrow(/would have 2,520,000 polygons; 2,000,000 is the limit/)
  })
})
