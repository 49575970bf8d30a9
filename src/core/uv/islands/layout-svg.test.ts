import { expect, test } from 'vitest'
import { gridOf, sceneOf } from '../../../../tests/solids.ts'
import { layoutSvg } from './layout-svg.ts'

const drawing = { set: '', size: 512, tile: { column: 0, row: 0 } }

test('a layout is drawn where it lies, each side once, with the parts’ names', () => {
  const svg = layoutSvg(sceneOf([gridOf(2, 2, { name: 'sail & <line>' })]), drawing)!
  expect(svg).toContain('viewBox="0 0 512 512"')
  expect(svg).toContain('<title>sail &#38; &#60;line&#62;</title>')
  const [, sides, border] = [...svg.matchAll(/ d="([^"]*)"/g)].map((match) => match[1]!)
  // 12 sides of 4 quads
  expect(sides!.match(/M/g)).toHaveLength(12)
  expect(sides).toContain('M0 256L256 256')
  // one border of 8 corners, V upwards
  expect(border!.match(/M/g)).toHaveLength(1)
  expect(border!.split('L')).toHaveLength(8)
})

test('only what lies in the tile, of the parts and the set that are asked for', () => {
  const scene = sceneOf([gridOf(1, 1, { name: 'a' }), gridOf(1, 1, { name: 'b' })])
  expect(layoutSvg(scene, drawing)!.match(/<title>/g)).toHaveLength(2)
  expect(layoutSvg(scene, { ...drawing, nodes: [1] })).toContain('<title>b</title>')
  expect(layoutSvg(scene, { ...drawing, tile: { column: 3, row: 0 } })).toBeNull()
  expect(layoutSvg(scene, { ...drawing, set: 'none' })).toBeNull()
})
