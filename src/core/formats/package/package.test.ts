import { zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { codesOf, CUBE, CUBE_MTL, file } from '../../../../tests/meshes.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { fbx } from '../fbx/fbx.ts'
import { findInPackage, packagePath } from './package-file.ts'
import { readPackage, readPackageEach } from './read-package.ts'
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
  test('names are the same however a system writes their marks', () => {
    const composed = 'modèle.mtl'.normalize('NFC')
    const parted = composed.normalize('NFD')
    expect(composed).not.toBe(parted)
    expect(findInPackage(names(`a/${parted}`), 'a/x.obj', composed).file?.name).toBe(`a/${parted}`)
    expect(findInPackage(names(`a/${composed}`), 'a/x.obj', parted.toUpperCase()).file?.name).toBe(
      `a/${composed}`,
    )
    const { findings } = readPackage([
      file('x.obj', `mtllib ${composed}\n${CUBE.replace(/mtllib .*\n/, '')}`),
      file(parted, CUBE_MTL),
    ])
    expect(codesOf(findings)).not.toContain('obj.missing-mtl')
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

describe('several models in one package', () => {
  /** A square at x from `left`, with a material. */
  const square = (left: number, use: string): string =>
    `mtllib ${use}.mtl\no square_${left}\nv ${left} 0 0\nv ${left + 1} 0 0\nv ${left + 1} 1 0\nv ${left} 1 0\nusemtl tin\nf 1 2 3 4\n`
  const mtl = (red: number): string => `newmtl tin\nKd ${red} 0.5 0.5\n`
  const fbxOf = (unitMeters: number | null) => {
    const { scene } = readPackage([file('b.obj', square(3, 'b')), file('b.mtl', mtl(0.2))], {
      assumed: { obj: { unitMeters } },
    })
    return fbx.write(scene, 'b.fbx', {}).files[0]!
  }
  const widths = (scene: Scene): number[] =>
    scene.nodes.flatMap((node, index) => {
      if (node.mesh < 0) return []
      const points = transformPoints(scene.meshes[node.mesh]!.points, worldMatrices(scene)[index]!)
      return [points[3]! - points[0]!]
    })
  test('one unit for all: the second is moved to the first one’s, which is said', () => {
    const { scene, findings } = readPackage(
      [file('a.obj', square(0, 'a')), file('a.mtl', mtl(0.2)), fbxOf(0.01)],
      { assumed: { obj: { unitMeters: 1 } } },
    )
    expect(scene.space.unitMeters).toBe(1)
    expect(codesOf(findings)).toContain('package.respaced')
    expect(widths(scene)[0]).toBe(1)
    expect(widths(scene)[1]).toBeCloseTo(0.01, 12)
  })
  test('where one says no unit, the other’s is assumed, which is said', () => {
    const { scene, findings } = readPackage(
      [file('a.obj', square(0, 'a')), file('a.mtl', mtl(0.2)), fbxOf(0.01)],
      {
        assumed: { obj: { unitMeters: null } },
      },
    )
    expect(scene.space.unitMeters).toBe(0.01)
    expect(codesOf(findings)).toContain('package.unit-assumed')
    expect(widths(scene)).toEqual([1, 1])
  })
  test('materials of one name: one where they are alike, two with their own names where not', () => {
    const files = (red: number) => [
      file('a.obj', square(0, 'a')),
      file('a.mtl', mtl(0.2)),
      file('b.obj', square(3, 'b')),
      file('b.mtl', mtl(red)),
    ]
    expect(readPackage(files(0.2)).scene.materials.map(({ name }) => name)).toEqual(['tin'])
    const { scene, findings } = readPackage(files(0.9))
    expect(codesOf(findings)).toContain('package.material-renamed')
    expect(new Set(scene.materials.map(({ name }) => name)).size).toBe(2)
    const reds = scene.nodes.map((node) => {
      const material = scene.materials[scene.meshes[node.mesh]!.faceMaterials![0]!]!
      return material.properties.find(({ name }) => name === 'Kd')!.values[0]
    })
    expect(reds).toEqual([0.2, 0.9])
  })
})

describe('what a ZIP says of its entries is held against them', () => {
  const packed = (level: 0 | 6) =>
    zipSync({ 'cube.obj': encodeUtf8(CUBE), 'cube.mtl': encodeUtf8(CUBE_MTL) }, { level })
  test('whole entries are taken, stored and deflated', () => {
    for (const level of [0, 6] as const)
      expect(readZip({ name: 'x.zip', bytes: packed(level) }).files.map(({ name }) => name)).toEqual([
        'cube.obj',
        'cube.mtl',
      ])
  })
  test('a changed byte of a stored entry is noticed by its checksum, told, and the entry left out', () => {
    const bytes = packed(0)
    const at = Buffer.from(bytes).indexOf('v ')
    bytes[at + 2]! ^= 1
    const { files, findings } = readZip({ name: 'x.zip', bytes })
    expect(files.map(({ name }) => name)).toEqual(['cube.mtl'])
    expect(findings).toMatchObject([{ code: 'zip.entry-unreadable', parameters: { entry: 'cube.obj' } }])
  })
  test('of any one bit that is changed in the contents nothing is taken in silently', () => {
    const whole = packed(6)
    const sound = readZip({ name: 'x.zip', bytes: whole }).files
    for (let at = 30; at < whole.length - 120; at += 3) {
      const bytes = whole.slice()
      bytes[at]! ^= 1 << (at % 8)
      let read: ReturnType<typeof readZip>
      try {
        read = readZip({ name: 'x.zip', bytes })
      } catch {
        continue
      }
      for (const entry of read.files) {
        const original = sound.find(({ name }) => name === entry.name)
        if (original) expect(Buffer.from(entry.bytes).equals(Buffer.from(original.bytes))).toBe(true)
      }
      expect(read.files.length + read.findings.length).toBeGreaterThanOrEqual(sound.length)
    }
  })
})

describe('several models, a scene each', () => {
  const square = (left: number): string =>
    `mtllib use.mtl\no square\nv ${left} 0 0\nv ${left + 1} 0 0\nv ${left + 1} 1 0\nv ${left} 1 0\nusemtl tin\nf 1 2 3 4\n`
  test('each with what lies beside it, in its own space', () => {
    const files = [
      file('a.obj', square(0)),
      file('b.obj', square(3)),
      file('use.mtl', 'newmtl tin\nKd 1 0 0\n'),
    ]
    const { models, failed } = readPackageEach(files)
    expect(failed).toEqual([])
    expect(
      models.map(({ models: [name], scene }) => [name, scene.nodes.length, scene.materials.length]),
    ).toEqual([
      ['a.obj', 1, 1],
      ['b.obj', 1, 1],
    ])
  })
  test('a layer that another takes in is no model of its own', () => {
    const usd = (name: string, head: string, body: string) => file(name, `#usda 1.0\n(${head})\n${body}\n`)
    const mesh =
      'def Mesh "sheet" { int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0,0,0),(1,0,0),(0,1,0)] }'
    const files = [
      usd('base.usda', '', mesh),
      usd('shot.usda', 'subLayers = [@./base.usda@]', ''),
      file('c.obj', square(0)),
    ]
    expect(readPackageEach(files).models.map(({ models }) => models)).toEqual([['shot.usda'], ['c.obj']])
  })
  test('what can’t be read stands apart; where nothing can, the last one’s reason is thrown', () => {
    const broken = file('x.glb', 'nothing')
    const { models, failed } = readPackageEach([broken, file('a.obj', square(0))])
    expect([models.length, failed.map(({ name, error }) => [name, error.code])]).toEqual([
      1,
      [['x.glb', 'gltf.unreadable']],
    ])
    expect(() => readPackageEach([broken])).toThrow()
  })
})

test('an entry that says it is packed in more bytes than there are is left out at once, whatever it says to unpack to', () => {
  const bytes = writeZip([
    { name: 'a.obj', bytes: encodeUtf8('v 0 0 0\n') },
    { name: 'b.obj', bytes: encodeUtf8('v 1 0 0\n') },
  ])
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  // the directory's first record (signature 0x02014b50): packed size at 20, unpacked size at 24
  const record = bytes.findIndex(
    (_byte, at) => at + 4 <= bytes.length && view.getUint32(at, true) === 0x02014b50,
  )
  view.setUint32(record + 20, 0x00ffffff, true)
  view.setUint32(record + 24, 0x70000000, true)
  const { files, findings } = readZip({ name: 'x.zip', bytes })
  expect(files.map(({ name }) => name)).toEqual(['b.obj'])
  expect(findings.map(({ code, parameters }) => [code, parameters.entry])).toEqual([
    ['zip.entry-unreadable', 'a.obj'],
  ])
})
