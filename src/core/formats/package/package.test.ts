import { zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { codesOf, CUBE, CUBE_MTL, file } from '../../../../tests/meshes.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { findInPackage, packagePath } from './package-file.ts'
import { readPackage } from './read-package.ts'
import { readZip } from './read-zip.ts'
import { writeZip } from './write-zip.ts'

const names = (...list: string[]) => list.map((name) => file(name, name))

describe('paths are looked up inside the package only', () => {
  const files = names('model/a.mtl', 'model/maps/Color.png', 'shared/wood.png')
  test.each([
    ['maps/Color.png', 'model/maps/Color.png', false],
    ['maps\\color.PNG', 'model/maps/Color.png', false],
    ['./maps/./Color.png', 'model/maps/Color.png', false],
    ['../shared/wood.png', 'shared/wood.png', true],
    ['..\\..\\..\\etc\\passwd', null, true],
    ['/etc/passwd', null, true],
    ['C:\\work\\maps\\Color.png', 'model/maps/Color.png', true],
    ['file:///c:/x/wood.png', 'shared/wood.png', true],
    ['"maps/Color.png"', 'model/maps/Color.png', false],
    ['missing.png', null, false],
  ])('%s', (path, found, outside) => {
    const result = findInPackage(files, 'model/a.mtl', path)
    expect([result.file?.name ?? null, result.outside]).toEqual([found, outside])
  })
  test('written maps stay inside', () => {
    expect(['a/b.png', '../../b.png', '/x/b.png', 'C:\\x\\b.png', 'a/../b.png'].map(packagePath)).toEqual([
      'a/b.png',
      'b.png',
      'b.png',
      'b.png',
      'b.png',
    ])
  })
})

describe('a ZIP', () => {
  const packed = zipSync({
    'prop/crate.obj': encodeUtf8(CUBE),
    'prop/cube.mtl': encodeUtf8(CUBE_MTL),
    'prop/maps/brass color.png': Uint8Array.of(1, 2, 3),
    '__MACOSX/prop/._crate.obj': Uint8Array.of(0),
  })
  test('with OBJ, MTL and maps', () => {
    const { scene, findings, models } = readPackage([{ name: 'crate.zip', bytes: packed }])
    expect(models).toEqual(['prop/crate.obj'])
    expect(scene.images).toMatchObject([{ file: 'maps/brass color.png', entry: 'prop/maps/brass color.png' }])
    expect([...scene.images[0]!.bytes!]).toEqual([1, 2, 3])
    expect(findings).toEqual([])
  })
  test('the same files give the same bytes', () => {
    expect(writeZip(names('a', 'b'))).toEqual(writeZip(names('a', 'b')))
  })
  test('more than the limit is refused before it is unpacked', () => {
    const bomb = zipSync({ 'bomb.obj': new Uint8Array(50e6) })
    expect(bomb.length).toBeLessThan(100000)
    const limits = { unpackedBytes: 40e6, entryCount: 10 }
    expect(() => readZip({ name: 'b.zip', bytes: bomb }, limits)).toThrow(
      expect.objectContaining({ code: 'zip.too-large' }),
    )
    expect(
      readZip({ name: 'b.zip', bytes: bomb }, { ...limits, unpackedBytes: 60e6 }).files[0]!.bytes,
    ).toHaveLength(50e6)
  })
  test('a size that lies can’t make it unpack more', () => {
    const bomb = zipSync({ 'bomb.obj': new Uint8Array(50e6) })
    // the directory's stated size of the only entry
    const view = new DataView(bomb.buffer)
    for (let at = 0; at < bomb.length - 4; at++)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 1000, true)
    const { files } = readZip({ name: 'b.zip', bytes: bomb }, { unpackedBytes: 1e6, entryCount: 10 })
    expect(files.reduce((sum, entry) => sum + entry.bytes.length, 0)).toBeLessThanOrEqual(1000)
  })
  test('too many entries, entries that lead outside, and damage', () => {
    const many = zipSync(
      Object.fromEntries(Array.from({ length: 30 }, (_v, index) => [`${index}.txt`, Uint8Array.of(1)])),
    )
    expect(() => readZip({ name: 'm.zip', bytes: many }, { unpackedBytes: 1e6, entryCount: 20 })).toThrow(
      expect.objectContaining({ code: 'zip.too-many' }),
    )
    const outside = readZip({
      name: 'o.zip',
      bytes: zipSync({ '../../evil.obj': Uint8Array.of(1), 'good.obj': Uint8Array.of(2) }),
    })
    expect([outside.files.map((entry) => entry.name), codesOf(outside.findings)]).toEqual([
      ['good.obj'],
      ['zip.entry-outside'],
    ])
    expect(() => readZip({ name: 'd.zip', bytes: packed.slice(0, 200) })).toThrow(
      expect.objectContaining({ code: 'zip.broken' }),
    )
    const hurt = zipSync({ 'a.obj': encodeUtf8(CUBE.repeat(20)), 'b.obj': encodeUtf8(CUBE) })
    hurt.fill(255, 50, 90)
    const rest = readZip({ name: 'h.zip', bytes: hurt })
    expect([rest.files.map((entry) => entry.name), codesOf(rest.findings)]).toEqual([
      ['b.obj'],
      ['zip.entry-unreadable'],
    ])
  })
})

describe('a package', () => {
  test('several models become parts of one scene, materials of one name one material', () => {
    const { scene } = readPackage([file('a.obj', CUBE), file('b.obj', CUBE), file('cube.mtl', CUBE_MTL)])
    expect(scene.nodes.map((node) => [node.name, node.mesh])).toEqual([
      ['crate', 0],
      ['crate', 1],
    ])
    expect(scene.materials.map((material) => material.name)).toEqual(['brass', 'oak wood'])
    expect([...scene.meshes[1]!.faceMaterials!]).toEqual([...scene.meshes[0]!.faceMaterials!])
  })
  test('of several models one that is broken is said and the rest is read', () => {
    const { scene, findings } = readPackage([file('a.obj', CUBE), file('b.obj', 'not a model')])
    expect(scene.nodes).toHaveLength(1)
    expect(findings.find((finding) => finding.code === 'file.not-a-model')!.file).toBe('b.obj')
  })
  test.each([
    ['package.no-model', [file('readme.txt', 'x'), file('b.txt', 'y')]],
    ['file.unknown-format', [file('model.xyz', 'x')]],
  ])('%s', (code, files) => {
    expect(() => readPackage(files)).toThrow(expect.objectContaining({ code }))
  })
  test.each([
    ['obj.missing-mtl', CUBE, []],
    ['image.missing', CUBE, [file('cube.mtl', CUBE_MTL)]],
    ['image.outside', CUBE, [file('cube.mtl', 'newmtl brass\nmap_Kd ../../x.png\n'), file('x.png', 'x')]],
    ['obj.undefined-material', CUBE, [file('cube.mtl', 'newmtl brass\n')]],
  ])('%s', (code, text, beside) => {
    expect(codesOf(readPackage([file('crate.obj', text), ...beside]).findings)).toContain(code)
    const whole = [file('cube.mtl', CUBE_MTL), file('maps/brass color.png', 'x')]
    expect(readPackage([file('crate.obj', text), ...whole]).findings).toEqual([])
  })
})
