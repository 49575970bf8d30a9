/** Binary USD and packages: crates that the tests make are read like their text, by Kelbo and by tinyusdz 0.9.0-rc10. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { loadTinyUsdz } from '../../../../tests/tinyusdz.ts'
import { lz4, packIntegers, writeCrate } from '../../../../tests/usd-crate.ts'
import { cubeOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { completeIds } from '../../scene/ids.ts'
import { type Scene } from '../../scene/scene.ts'
import { readPackage } from '../package/read-package.ts'
import { unpackChunks, unpackIntegers } from './crate-bytes.ts'
import type { UsdLayer } from './layer.ts'
import { readCrate } from './read-crate.ts'
import { readUsdText } from './read-text.ts'
import { readUsd } from './read-usd.ts'
import { writeUsdPackage } from './write-package.ts'
import { writeUsd } from './write-usd.ts'
import { howMany } from '../../../../tests/how-many.ts'

const REFERENCE = join(import.meta.dirname, '../../../../tests/reference/usd')
const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)

describe('binary files', () => {
  const layers: readonly [string, string][] = [
    ...['polygons-creases', 'preview-surface', 'xform-order'].map((name): [string, string] => [
      name,
      readFileSync(join(REFERENCE, `${name}.usda`), 'utf8'),
    ]),
    [
      'all kinds',
      `#usda 1.0\n( defaultPrim = "a" metersPerUnit = 0.5 )
      def Xform "a" ( variants = { string v = "two" } prepend references = @b.usda@</x> prepend payload = @c.usda@</y> customData = { string words = "ünïcode" bool yes = true dictionary deep = { double d = 0.1 int i = 7 } } )
      { custom string userProperties:s = "text" token[] names = ["one", "two"] asset[] files = [@x.png@, @y.png@] uniform token t = "u" quatf q = (1, 2, 3, 4) double third = 0.3333333333333333
        float flat.timeSamples = { 0: 0.5, 2: 1.5 } int[] many = [${Array.from({ length: 200 }, (_none, at) => (at * 37) % 19)}] float[] steps = [${Array.from({ length: 40 }, (_none, at) => (at % 3) + 0.5)}] float[] wholes = [${Array.from({ length: 40 }, (_none, at) => at * 3)}]
        variantSet "v" = { "one" { float x = 1 } "two" { float x = 2 def Scope "in" {} } }
        rel r = [</a/k>, </a/k.q>] def "k" { color3f q = (1, 0, 0) color3f w.connect = </a/k.q> } }`,
    ],
  ]
  /** Numbers as 32 bits hold them, where their type has no more. */
  const rounded = (layer: UsdLayer): unknown =>
    JSON.parse(
      JSON.stringify(layer, (_key, value: unknown) =>
        value instanceof Map
          ? [...value].sort()
          : value instanceof Float64Array
            ? [...value].map(Math.fround)
            : typeof value === 'number'
              ? Math.fround(value)
              : value,
      ),
    )
  test.each(layers)('%s: the same as its text', (name, body) => {
    const layer = readUsdText(encodeUtf8(body), name)
    const crate = writeCrate(layer)
    const messages = collectMessages(name)
    expect(rounded(readCrate(crate, name, messages))).toEqual(rounded(layer))
    expect(messages.list()).toEqual([])
  })
  test('tinyusdz reads the same bytes alike', async () => {
    const print = await loadTinyUsdz()
    for (const [name, body] of layers.slice(0, 3)) {
      const crate = writeCrate(readUsdText(encodeUtf8(body), name))
      const own = readUsd({ name: 'x.usdc', bytes: crate }, []).scene
      const other = readUsd({ name: 'x.usda', bytes: encodeUtf8(print(crate, 'x.usdc')) }, []).scene
      const [a, b] = [fingerprintScene(completeIds(own)), fingerprintScene(completeIds(other))]
      // it prints properties in an order of its own
      expect([name, TRAITS.filter((trait) => a[trait] !== b[trait] && trait !== 'surfaces')]).toEqual([
        name,
        [],
      ])
      const sorted = ({ materials }: Scene) => materials.map(({ properties, maps }) => [properties.map(({ name, values }) => [name, ...values.map(Math.fround)]).sort(), maps]) // prettier-ignore
      expect(sorted(other)).toEqual(sorted(own))
    }
  })
  test('packed blocks and whole numbers, of any kind', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(3), { maxLength: 3000 }), (list) => {
        const bytes = Uint8Array.from(list)
        expect(unpackChunks(Uint8Array.from([0, ...lz4(bytes)]), bytes.length)).toEqual(bytes)
      }),
      { numRuns: howMany(40, 1000) },
    )
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), { maxLength: 300 }), (list) => {
        expect([...unpackIntegers(packIntegers(list), list.length, 32)]).toEqual(list)
      }),
      { numRuns: howMany(80, 2000) },
    )
  })
  test('a package holds its model first and its maps, each on a multiple of 64 bytes', () => {
    const scene = completeIds(buildMooringBollard())
    const { files } = writeUsd(scene, 'bollard.usdz')
    expect(files.map(({ name }) => name)).toEqual(['bollard.usdz'])
    const [{ bytes }] = [files[0]!]
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    let at = 0
    const names: string[] = []
    while (view.getUint32(at, true) === 0x04034b50) {
      expect(view.getUint16(at + 8, true)).toBe(0)
      const [nameLength, extra, length] = [view.getUint16(at + 26, true), view.getUint16(at + 28, true), view.getUint32(at + 18, true)] // prettier-ignore
      names.push(new TextDecoder().decode(bytes.subarray(at + 30, at + 30 + nameLength)))
      const data = at + 30 + nameLength + extra
      expect([names.at(-1), data % 64]).toEqual([names.at(-1), 0])
      at = data + length
    }
    expect(names[0]).toBe('bollard.usda')
    expect(names.slice(1)).toEqual(scene.images.filter(({ bytes: own }) => own).map(({ file }) => file))
    const read = readPackage(files)
    expect(read.findings).toEqual([])
    expect(read.scene.images.every(({ bytes: own }) => own)).toBe(true)
    const { rows } = compareScenes(scene, read.scene)
    expect(new Set(rows.flatMap(({ cells }) => Object.values(cells).map((cell) => cell?.state)))).toEqual(new Set(['same'])) // prettier-ignore
  })
  test('a value of a kind that is not known is left out and told', () => {
    const body = '#usda 1.0\ndef Xform "a" { mystery m = 1 float f = 2 }'
    const messages = collectMessages('x')
    const layer = readCrate(writeCrate(readUsdText(encodeUtf8(body), 'x')), 'x', messages)
    expect(layer.prims[0]!.properties.map(({ name, value }) => [name, value])).toEqual([
      ['m', undefined],
      ['f', 2],
    ])
    expect(messages.list().map(({ code }) => code)).toEqual(['usd.value-left'])
  })
  test('a map of a kind that packages do not take is told', () => {
    const file = 'maps/tin.webp'
    const scene = sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }], {
      materials: [
        materialOf('tin', {
          model: 'UsdPreviewSurface',
          maps: [{ property: 'diffuseColor', slot: 'baseColor', file, options: [] }],
        }),
      ],
      images: [{ file, entry: file, bytes: Uint8Array.of(1, 2, 3) }],
    })
    expect(codes(writeUsd(scene, 'x.usdz'))).toEqual(['usd.image-kind'])
  })
  test('a package without a model, and one with a binary one', () => {
    const crate = writeCrate(readUsdText(encodeUtf8(layers[0]![1]), 'x'))
    const zipped = writeUsdPackage([{ name: 'a.usdc', bytes: crate }])
    expect(readUsd({ name: 'x.usdz', bytes: zipped }, []).scene.meshes).toHaveLength(1)
    const none = writeUsdPackage([{ name: 'a.txt', bytes: crate }])
    expect(() => readUsd({ name: 'x.usdz', bytes: none }, [])).toThrow(expect.objectContaining({ code: 'usd.package' })) // prettier-ignore
  })
  test('whatever is changed in one, it ends in words', () => {
    const crate = writeCrate(readUsdText(encodeUtf8(layers[3]![1]), 'x'))
    const texts = encodeUtf8(layers[3]![1])
    const chance = chanceOf(20261127)
    for (let run = 0; run < 2000; run++) {
      const source = run % 2 ? crate : texts
      const bytes = source.slice(0, run % 7 === 0 ? Math.floor(chance() * source.length) : source.length)
      for (let change = 0; change < 1 + (run % 5); change++) {
        const at = Math.floor(chance() * bytes.length)
        if (bytes.length) bytes[at] = run % 3 ? Math.floor(chance() * 256) : [0, 255, 127, 128][Math.floor(chance() * 4)]! // prettier-ignore
      }
      try {
        readUsd({ name: 'x.usd', bytes }, [])
      } catch (error) {
        expect([run, error instanceof KelboError]).toEqual([run, true])
      }
    }
  })
})
