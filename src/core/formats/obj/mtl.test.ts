import { describe, expect, test } from 'vitest'
import { codesOf, file } from '../../../../tests/meshes.ts'
import { decodeUtf8 } from '../../base/bytes/text.ts'
import { parseMapArgument, readMtl } from './read-mtl.ts'
import { writeMtl } from './write-mtl.ts'

const read = (text: string, invert = false) => readMtl(file('a.mtl', text), invert)

describe('map options', () => {
  test.each([
    ['color.png', 'color.png', []],
    ['-bm 0.5 bump map.png', 'bump map.png', [['-bm', '0.5']]],
    [
      '-s 2 2 1 -o 0.5 -clamp on tiles.png',
      'tiles.png',
      [
        ['-s', '2', '2', '1'],
        ['-o', '0.5'],
        ['-clamp', 'on'],
      ],
    ],
    [
      '-imfchan l -mm 0 1 C:\\maps\\grey.tif',
      'C:\\maps\\grey.tif',
      [
        ['-imfchan', 'l'],
        ['-mm', '0', '1'],
      ],
    ],
    ['-s 2 3.png', '3.png', [['-s', '2']]],
    ['-type cube_top sky.png', 'sky.png', [['-type', 'cube_top']]],
    ['-unknown.png', '-unknown.png', []],
    ['-bm 2 "C:\\maps\\red paint.png"', 'C:\\maps\\red paint.png', [['-bm', '2']]],
    ['half"open.png', 'half"open.png', []],
  ])('%s', (argument, name, options) => {
    expect(parseMapArgument(argument)).toEqual({ file: name, options })
  })
})

test('parameters, maps of the physically based extension, and unknown lines', () => {
  const { materials, findings } = read(
    'newmtl a b\nKd 1 0.5 0\nKa spectral sun.rfl 1\nPr 0.25\nmap_Pm m.png\nnorm -bm 2 n.png\nhouse_style 3 x\nillum 2\n',
  )
  expect(findings).toEqual([])
  expect(materials).toHaveLength(1)
  expect(materials[0]!.name).toBe('a b')
  expect(materials[0]!.properties.map((property) => [property.name, property.values])).toEqual([
    ['Kd', [1, 0.5, 0]],
    ['Ka', [1]],
    ['Pr', [0.25]],
    ['illum', [2]],
  ])
  expect(materials[0]!.maps.map((map) => [map.slot, map.file])).toEqual([
    ['metalness', 'm.png'],
    ['normal', 'n.png'],
  ])
  expect(materials[0]!.kept).toEqual(['house_style 3 x'])
})

test('read, write, read again: the same materials', () => {
  const first = read(
    'newmtl a\nKd 0.1 0.2 0.30000000000000004\nTf spectral f.rfl 2\nd -halo 0.5\nmap_Kd -o 1 2 -s 3 a b.png\nodd thing\nnewmtl b\nTr 0.25\n',
  ).materials
  const second = read(decodeUtf8(writeMtl(first))!).materials
  expect(second).toEqual(first)
})

test('transparency can be turned over', () => {
  const values = read('newmtl a\nd 0.25\nTr 0.75\n', true).materials[0]!.properties.map(
    (property) => property.values[0],
  )
  expect(values).toEqual([0.75, 0.25])
})

test.each([
  ['mtl.malformed', 'newmtl a\nKd red\n', 'newmtl a\nKd 1\n'],
  ['mtl.malformed', 'newmtl a\nmap_Kd\n', 'newmtl a\nmap_Kd x.png\n'],
  ['mtl.before-newmtl', 'Kd 1 1 1\nnewmtl a\n', '# Kd\nnewmtl a\n'],
  ['mtl.duplicate', 'newmtl a\nnewmtl a\n', 'newmtl a\nnewmtl A\n'],
])('%s', (code, bad, good) => {
  expect(codesOf(read(bad).findings)).toContain(code)
  expect(read(good).findings).toEqual([])
})
