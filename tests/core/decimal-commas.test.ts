/** Files written on a system whose decimal sign is a comma hold the same model, in every format that parts numbers by blanks. */
import { expect, test } from 'vitest'
import { FORMATS } from '../../src/core/formats/registry.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { decodeLatin1, encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { flatten } from '../../src/core/practice/faults/scene-faults.ts'

const lantern = flatten(buildStormLantern())
const commas = (text: string): string =>
  text.replace(/(^|\s)(-?\d+)\.(\d+(?:e[-+]?\d+)?)(?=\s|$)/g, '$1$2,$3')
/** Numbers with points, each a word of its own, with commas. Comments, names and notes stay. */
const withCommas = (text: string): string =>
  text.startsWith('<?xml')
    ? text.replace(
        /(<(?:float_array|float|color|matrix)\b[^>]*>)([^<]*)/g,
        (_all, tag: string, list: string) => tag + commas(list),
      )
    : text.replace(/^(?!#|comment|o |g |newmtl|usemtl|mtllib|map_).*$/gm, commas)

test.each([
  ['obj', {}],
  ['collada', {}],
  ['ply', { form: 'text' }],
  ['stl', { form: 'text' }],
])('%s', (id, options) => {
  const format = FORMATS.find((one) => one.id === id)!
  const name = `lantern.${format.endings[0]!.replace('.', '')}`
  const { files } = format.write(lantern, name, options)
  const text = files.map(({ name, bytes }) => ({
    name,
    bytes,
    isText: /\.(obj|mtl|dae|ply|stl)$/.test(name),
  }))
  const spoilt = text.map(({ name, bytes, isText }) => ({
    name,
    bytes: isText ? encodeUtf8(withCommas(decodeLatin1(bytes, 0, bytes.length))) : bytes,
  }))
  const [plain, comma] = [readPackage(files), readPackage(spoilt)]
  expect(plain.findings.map(({ code }) => code)).not.toContain('file.commas')
  expect(comma.findings.map(({ code }) => code)).toContain('file.commas')
  expect(comma.findings.filter(({ code }) => code !== 'file.commas')).toEqual(plain.findings)
  expect(comma.scene.meshes).toEqual(plain.scene.meshes)
  expect(comma.scene.materials).toEqual(plain.scene.materials)
})
