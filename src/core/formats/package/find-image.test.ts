/** Maps of tiles: found beside the model tile by tile, written with it, brought from one scene into another. */
import { describe, expect, test } from 'vitest'
import { file } from '../../../../tests/meshes.ts'
import { png } from '../../../../tests/check-shapes.ts'
import { imageFiles, tileLabel, tilePattern } from '../../scene/image-tiles.ts'
import { mergeMaterials } from '../../scene/merge-materials.ts'
import type { Scene } from '../../scene/scene.ts'
import { writeFbx } from '../fbx/write-fbx.ts'
import { writeObj } from '../obj/write-obj.ts'
import { findImage } from './find-image.ts'
import type { PackageFile } from './package-file.ts'
import { readPackage } from './read-package.ts'

const here = (...list: string[]): PackageFile[] => list.map((name) => file(name, name))
const labels = (files: readonly PackageFile[], path: string, from = 'model/a.mtl') => {
  const { image } = findImage(files, from, path)
  return image.tiles?.map(({ label, entry }) => `${label} ${entry}`) ?? null
}

describe('labels and squares', () => {
  // USD: 1001 + column + 10 x row; MaterialX: u and v count from one
  test.each([
    ['a.<UDIM>.png', 0, 0, '1001'],
    ['a.<UDIM>.png', 9, 0, '1010'],
    ['a.<UDIM>.png', 0, 1, '1011'],
    ['a.<UDIM>.png', 3, 4, '1044'],
    ['a.<UDIM>.png', 10, 0, null],
    ['a.<UDIM>.png', -1, 0, null],
    ['a.<UDIM>.png', 0, -1, null],
    ['a.<UDIM>.png', 0, 900, null],
    ['a_<UVTILE>.exr', 0, 0, 'u1_v1'],
    ['a_<UVTILE>.exr', 12, 3, 'u13_v4'],
    ['a_<UVTILE>.exr', -1, 3, null],
    ['a.png', 0, 0, null],
  ])('%s at %i, %i: %s', (path, column, row, label) => {
    expect(tileLabel(path, { column, row })).toBe(label)
    if (label) expect(tilePattern(path)!.tileOf(label)).toEqual({ column, row })
  })
})

describe('tiles beside the model', () => {
  test('in the order of the squares, whatever order they lie in; what only looks alike is none', () => {
    const files = here(
      'model/maps/paint.1011.png',
      'model/maps/paint.1002.png',
      'model/maps/paint.1001.png',
      'model/maps/paint.0999.png',
      'model/maps/paint.10010.png',
      'model/maps/xpaint.1003.png',
      'model/maps/paint.1004.jpg',
    )
    expect(labels(files, 'maps/paint.<UDIM>.png')).toEqual([
      '1001 model/maps/paint.1001.png',
      '1002 model/maps/paint.1002.png',
      '1011 model/maps/paint.1011.png',
    ])
  })
  test('by the other numbering, in any case, with signs that mean something to a search', () => {
    expect(labels(here('model/a+(b)_U2_V1.PNG', 'model/a+(b)_u1_v1.png'), 'a+(b)_<UVTILE>.png')).toEqual([
      'u1_v1 model/a+(b)_u1_v1.png',
      'u2_v1 model/a+(b)_U2_V1.PNG',
    ])
  })
  test('by name alone where the path leads elsewhere', () => {
    const files = here('maps/paint.1001.png', 'maps/paint.1002.png')
    expect(labels(files, 'D:\\work\\paint.<UDIM>.png')).toHaveLength(2)
    expect(findImage(files, 'a.mtl', 'D:\\work\\paint.<UDIM>.png').outside).toBe(true)
    expect(findImage(files, 'a.mtl', 'maps/paint.<UDIM>.png').outside).toBe(false)
  })
  test('in folders of their own', () => {
    expect(
      labels(here('maps/1001/paint.png', 'maps/1002/paint.png'), 'maps/<UDIM>/paint.png', 'a.mtl'),
    ).toEqual(['1001 maps/1001/paint.png', '1002 maps/1002/paint.png'])
  })
  test('none', () => {
    const { image } = findImage(here('maps/paint.png'), 'a.mtl', 'maps/paint.<UDIM>.png')
    expect(image).toEqual({ file: 'maps/paint.<UDIM>.png', entry: null, bytes: null })
    expect(imageFiles(image)).toEqual([])
  })
})

const OBJ = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl paint\nf 1/1 2/2 3/3\n'
const TILES = ['1001', '1002', '1011']
const model = (): PackageFile[] => [
  file('a.obj', OBJ),
  file('a.mtl', 'newmtl paint\nmap_Kd maps/paint.<UDIM>.png\n'),
  ...TILES.map((tile, at) => ({ name: `maps/paint.${tile}.png`, bytes: png(4, 2 ** (at + 1)) })),
]
const filesOf = (scene: Scene) => imageFiles(scene.images[0]).map(({ path, bytes }) => [path, [...bytes]])

describe('tiles travel with the model', () => {
  const { scene, findings } = readPackage(model())
  const tiles = filesOf(scene)
  test('they are read', () => {
    expect(findings.map(({ code }) => code)).not.toContain('image.missing')
    expect(tiles.map(([path]) => path)).toEqual(TILES.map((tile) => `maps/paint.${tile}.png`))
  })
  test('out as OBJ and back', () => {
    const { files } = writeObj(scene, 'a.obj')
    expect(new TextDecoder().decode(files[1]!.bytes)).toContain('maps/paint.<UDIM>.png')
    expect(filesOf(readPackage(files).scene)).toEqual(tiles)
  })
  test.each([{ form: 'binary' }, { form: 'text' }, { embedMaps: true }] as const)(
    'out as FBX and back: %j',
    (options) => {
      const { files } = writeFbx(scene, 'a.fbx', options)
      expect(files.map(({ name }) => name)).toEqual(['a.fbx', ...tiles.map(([path]) => path)])
      expect(filesOf(readPackage(files).scene)).toEqual(tiles)
    },
  )
  test('a tile that only one side has joins those of the other; a changed one makes it another map', () => {
    const part = (...wanted: string[]): Scene => {
      const files = model().filter(
        ({ name }) => !/\d{4}/.test(name) || wanted.some((tile) => name.includes(tile)),
      )
      return readPackage(files).scene
    }
    const merged = mergeMaterials(part('1001'), part('1011'))
    merged.materialOf(0)
    expect(merged.images()).toHaveLength(1)
    expect(imageFiles(merged.images()[0]).map(({ label }) => label)).toEqual(['1001', '1011'])
    const changed = readPackage(
      model().map((entry) => (entry.name.includes('1002') ? { ...entry, bytes: png(16, 16) } : entry)),
    ).scene
    const apart = mergeMaterials(scene, changed)
    apart.materialOf(0)
    expect(apart.images().map(({ file: path }) => path)).toEqual([
      'maps/paint.<UDIM>.png',
      'maps/paint.<UDIM>_2.png',
    ])
    // the word for tiles is still in it, so that they can be found again
    expect(imageFiles(apart.images()[1])[1]!.path).toBe('maps/paint.1002_2.png')
  })
})
