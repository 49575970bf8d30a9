/** Against maps of closed-form height fields, green up and down: tests/reference/images/normal-direction.json. */
import { decode } from 'fast-png'
import { describe, expect, test } from 'vitest'
import { reference, referenceBytes } from '../../../../tests/reference/reference.ts'
import type { Pixels } from '../pixels.ts'
import { normalFacts } from './normal-direction.ts'

const pixelsOf = (name: string): Pixels => {
  const { width, height, channels, depth, data } = decode(referenceBytes(`images/${name}`))
  return { width, height, channels: channels as 3, bits: depth as 8, values: data as Uint8Array }
}
/** The normals of a height field, green up, on a square of so many pixels. */
function mapOf(side: number, slope: (u: number, v: number) => [number, number], down = false): Pixels {
  const values = new Uint8Array(side * side * 3)
  for (let row = 0; row < side; row++)
    for (let column = 0; column < side; column++) {
      const [du, dv] = slope((column + 0.5) / side, 1 - (row + 0.5) / side)
      const [x, y] = [-du, down ? dv : -dv]
      const length = Math.hypot(x, y, 1)
      for (const [at, value] of [x / length, y / length, 1 / length].entries())
        values[(row * side + column) * 3 + at] = Math.round((value * 0.5 + 0.5) * 255)
    }
  return { width: side, height: side, channels: 3, bits: 8, values }
}

describe('which way green points', () => {
  test.each(reference<{ cases: { file: string; green: string }[] }>('images/normal-direction.json').cases)(
    '$file',
    ({ file, green }) => {
      const facts = normalFacts(pixelsOf(file))
      expect(facts.looksLikeNormals).toBe(true)
      expect(facts.direction).toBe(green === 'y-up' ? 'up' : 'down')
    },
  )
  test('where the surface bends along u and v apart both ways fit, and nothing is claimed', () => {
    const ridges = (u: number, v: number): [number, number] => [Math.cos(u * 20), Math.sin(v * 14)]
    for (const down of [false, true]) {
      const facts = normalFacts(mapOf(96, ridges, down))
      expect(facts.looksLikeNormals).toBe(true)
      expect(facts.direction).toBe('undecided')
    }
  })
  test('other images are no normals', () => {
    const plain = mapOf(32, () => [0, 0])
    expect(normalFacts(plain).looksLikeNormals).toBe(false)
    let seed = 3
    const noise = Uint8Array.from({ length: 32 * 32 * 3 }, () => (seed = (seed * 75 + 74) % 65537) & 255)
    expect(normalFacts({ ...plain, values: noise }).looksLikeNormals).toBe(false)
    expect(normalFacts({ ...plain, channels: 1, values: new Uint8Array(1024) }).looksLikeNormals).toBe(false)
  })
})
