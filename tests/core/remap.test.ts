/**
 * Materials and maps wired by the command line, as a pipeline uses it: folders of maps with names of every style, whose
 * truth the generator knows; documents that the standards' own libraries judge (MaterialX 1.39.4, the Khronos glTF
 * validator 2.0.0-dev.3.10); images that are opened again.
 */
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join, relative } from 'node:path'
import sharp from 'sharp'
import { MTLLoader } from 'three/addons/loaders/MTLLoader.js'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { readMaterialX } from '../../src/core/surfaces/documents/read-materialx.ts'
import { runStandIn, standInOf } from '../../src/core/practice/standins/registry.ts'
import { loadAssimp } from '../assimp.ts'
import { kelbo } from '../command-line.ts'
import { materialXJudge, type MaterialXJudge } from '../materialx.ts'

const folder = mkdtempSync(join(tmpdir(), 'kelbo-remap-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const at = (name: string): string => join(folder, name)

/** A model of one triangle for each material. */
function writeModel(name: string, materials: readonly string[], mtl = ''): void {
  mkdirSync(dirname(at(name)), { recursive: true })
  const faces = materials.map((material, index) => {
    const first = 3 * index + 1
    return `v ${index} 0 0\nv ${index + 1} 0 0\nv ${index} 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl ${material}\nf ${first}/${first} ${first + 1}/${first + 1} ${first + 2}/${first + 2}\n`
  })
  writeFileSync(
    at(`${name}.mtl`),
    mtl || materials.map((material) => `newmtl ${material}\nKd 0.5 0.5 0.5\n`).join('\n'),
  )
  writeFileSync(at(`${name}.obj`), `mtllib ${name.split('/').pop()}.mtl\no part\n${faces.join('')}`)
}
async function writeImage(name: string, color: readonly number[], side = 8): Promise<void> {
  mkdirSync(dirname(at(name)), { recursive: true })
  const [r, g, b] = color
  await sharp({
    create: { width: side, height: side, channels: 3, background: { r: r!, g: g!, b: b! } },
  }).toFile(at(name))
}
const pixelOf = async (path: string): Promise<number[]> => [
  ...(await sharp(path).raw().toBuffer()).subarray(0, 4),
]

interface Row {
  parameter: string
  value: unknown
  map: string | null
  channel: string | null
  colorSpace: string | null
  amount: number
  how: string
  direction: string | null
}
interface Answer {
  materials: { material: string; parameters: Row[]; lost: { what: string; note: string }[] }[]
  doubtful: { file: string; slot: string | null }[]
  sets: { name: string; material: string | null; how: string }[]
  messages: { code: string; message: string }[]
  gltf?: { materials: Record<string, never>[]; images: { uri: string }[] }
}
const rowOf = (answer: Answer, material: string, parameter: string): Row =>
  answer.materials
    .find((one) => one.material === material)!
    .parameters.find((row) => row.parameter === parameter)!

let judge: MaterialXJudge
beforeAll(async () => {
  judge = await materialXJudge()
  writeModel(
    'lamp/lamp',
    ['brass_mat', 'M_glass'],
    'newmtl brass_mat\nKd 0.8 0.6 0.2\nKs 0.5 0.5 0.5\nNs 90\nmap_Kd old.png\n\nnewmtl M_glass\nKd 0.9 0.95 1\nd 0.3\nNi 1.45\n',
  )
  await writeImage('lamp/maps/brass_BaseColor.png', [200, 150, 50])
  await writeImage('lamp/maps/brass_Roughness.png', [100, 100, 100])
  await writeImage('lamp/maps/brass_Metalness.png', [255, 255, 255])
  await writeImage('lamp/maps/glass_opacity.png', [80, 80, 80])
  await writeImage('lamp/maps/glass_gloss.png', [230, 230, 230], 16)
  await writeImage('lamp/maps/sketch.png', [1, 2, 3])
  writeFileSync(at('lamp/maps/broken_color.png'), 'no image')
  writeFileSync(
    at('lamp/maps/brass_normal.png'),
    readFileSync(join(import.meta.dirname, '../reference/images/normal-bump-y-down.png')),
  )
})

const remapLamp = (surface: string, out: string, ...more: string[]): Answer =>
  kelbo(
    'remap',
    at('lamp/lamp.obj'),
    at(out),
    '--surface',
    surface,
    '--maps',
    at('lamp/maps'),
    '--json',
    ...more,
  ).json()

describe('a folder of maps and a choice of target', () => {
  test('glTF: packed as it reads them, the direction of normals put right, values neutral under maps', async () => {
    const answer = remapLamp('gltf', 'out/gltf/lamp.fbx')
    const rough = rowOf(answer, 'brass_mat', 'roughness')
    const metal = rowOf(answer, 'brass_mat', 'metallic')
    expect(rough).toMatchObject({ value: 1, channel: 'g', colorSpace: 'linear' })
    expect(metal).toMatchObject({ map: rough.map, channel: 'b' })
    expect(rough).toMatchObject({ source: { file: 'brass_Roughness.png', channel: 'r', inverted: false } })
    expect((await pixelOf(at(join('out/gltf', rough.map!)))).slice(0, 3)).toEqual([255, 100, 255])
    const normal = rowOf(answer, 'brass_mat', 'normalTexture')
    expect(normal.direction).toBe('up')
    const [before, after] = await Promise.all(
      [at('lamp/maps/brass_normal.png'), at(join('out/gltf', normal.map!))].map((path) =>
        sharp(path).raw().toBuffer(),
      ),
    )
    for (let pixel = 0; pixel < 200; pixel++) {
      expect(after![pixel * 3]).toBe(before![pixel * 3])
      expect(after![pixel * 3 + 1]).toBe(255 - before![pixel * 3 + 1]!)
    }
    // glossiness is turned round on the way to roughness
    const glass = rowOf(answer, 'M_glass', 'roughness')
    expect((await pixelOf(at(join('out/gltf', glass.map!))))[1]).toBe(25)
    expect(rowOf(answer, 'M_glass', 'alpha_mode').value).toBe('BLEND')
    expect(answer.messages.map(({ code }) => code)).toEqual(
      expect.arrayContaining(['remap.bad-image', 'remap.map-without-meaning', 'remap.sizes-differ']),
    )
    // the OBJ named an image that isn't there: the folder's takes its place
    expect(rowOf(answer, 'brass_mat', 'base_color').map).toBe('maps/brass_BaseColor.png')
  })

  test('its block is valid by the Khronos validator', async () => {
    const { gltf } = remapLamp('gltf', 'out/valid/lamp.obj')
    const validator = createRequire(import.meta.url)('gltf-validator') as {
      validateString: (
        text: string,
        options: object,
      ) => Promise<{
        issues: { numErrors: number; numWarnings: number; messages: { code: string; severity: number }[] }
      }>
    }
    const { issues } = await validator.validateString(
      JSON.stringify({ asset: { version: '2.0' }, ...gltf }),
      {
        externalResourceFunction: (uri: string) =>
          Promise.resolve(new Uint8Array(readFileSync(at(join('out/valid', decodeURIComponent(uri)))))),
      },
    )
    expect(issues.messages.filter(({ severity, code }) => severity < 2 && !/UNUSED/.test(code))).toEqual([])
    expect(gltf!.images.length).toBeGreaterThan(2)
  })

  test.each(['openpbr', 'standard-surface', 'usd-preview', 'gltf'])(
    '%s: the MaterialX library takes its document and makes shaders of it',
    async (surface) => {
      remapLamp(surface, `out/${surface}/lamp.obj`)
      const text = readFileSync(at(`out/${surface}/lamp.mtlx`), 'utf8')
      expect(await judge.isValid(text)).toBe(true)
      const shaders = await judge.shaders(text)
      expect(shaders).toHaveLength(2)
      for (const code of shaders) expect(code).toContain('void main()')
      const own = readMaterialX(text)
      expect(own.map(({ name, model }) => [name, model.id])).toEqual([
        ['brass_mat', surface],
        ['M_glass', surface],
      ])
      expect(Object.values(own[0]!.maps)).toContain('maps/brass_BaseColor.png')
    },
  )
  test('and it refuses a document with an input of a wrong kind', async () => {
    remapLamp('openpbr', 'out/refused/lamp.obj')
    const text = readFileSync(at('out/refused/lamp.mtlx'), 'utf8')
    expect(
      await judge.isValid(
        text.replace('name="base_color" type="color3"', 'name="base_color" type="vector2"'),
      ),
    ).toBe(false)
  })

  test('OBJ and FBX carry the same maps in the same slots, and the target’s own values in FBX', () => {
    remapLamp('openpbr', 'out/files/lamp.fbx')
    const back = kelbo('inspect', at('out/files/lamp.fbx'), '--json').json() as unknown as {
      materials: {
        name: string
        surface: { model: string; how: string; parameters: Record<string, unknown> }
        maps: { slot: string; found: boolean }[]
      }[]
    }
    const [brass] = back.materials
    expect(brass!.surface.model).toBe('openpbr')
    expect(brass!.surface.parameters['base_metalness']).toBe(1)
    expect(brass!.maps.map(({ slot }) => slot).sort()).toEqual([
      'baseColor',
      'metalness',
      'normal',
      'roughness',
    ])
    expect(brass!.maps.every(({ found }) => found)).toBe(true)
    remapLamp('mtl', 'out/files/lamp.obj')
    const mtl = readFileSync(at('out/files/lamp.mtl'), 'utf8')
    expect(mtl).toContain('map_Pr maps/brass_Roughness.png')
    expect(mtl).toContain('norm maps/brass_normal.png')
  })

  test('a sheet for what reads none of them: JSON and a page, in wiring order', () => {
    const answer = remapLamp('reflection-glossiness', 'out/sheet/lamp.obj')
    const sheet = JSON.parse(readFileSync(at('out/sheet/lamp-materials.json'), 'utf8')) as Answer
    expect(answer.materials).toEqual(sheet.materials.map((one) => ({ ...one, name: one.material })))
    expect(sheet.materials[0]!.parameters.map(({ parameter }) => parameter).slice(0, 3)).toEqual([
      'diffuse',
      'reflection',
      'glossiness',
    ])
    const page = readFileSync(at('out/sheet/lamp-materials.html'), 'utf8')
    expect(page).toContain('maps/brass_mat_glossiness.png')
    expect(page).not.toContain('<script')
    // there is no metalness here: it is in what is reflected, and that is said
    expect(answer.materials[0]!.lost).toEqual([])
    expect(page).toContain('computed pixel by pixel from the maps of base colour and metalness')
  })
})

describe('the renderer that ships', () => {
  const filesOf = (folder: string): { name: string; bytes: Uint8Array }[] =>
    readdirSync(at(folder), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => {
        const path = join(entry.parentPath, entry.name)
        return { name: relative(at(folder), path), bytes: new Uint8Array(readFileSync(path)) }
      })
  test('draws what was wired for it, and its log is clean', async () => {
    remapLamp('openpbr', 'out/drawn/lamp.obj')
    const { files, log } = runStandIn(standInOf('renderer')!, filesOf('out/drawn'), { surface: 'openpbr' })
    expect(log).toEqual(['Drawn: 2 materials, nothing to complain of.'])
    const picture = files.find(({ name }) => name === 'lamp_drawn.png')!
    const { width, height } = await sharp(picture.bytes).metadata()
    expect([width, height]).toEqual([192, 96])
    const { data } = await sharp(picture.bytes).raw().toBuffer({ resolveWithObject: true })
    // the ground is grey, the middle of the first ball is not
    expect([...data.subarray(0, 3)]).toEqual([141, 141, 141])
    expect([...data.subarray((48 * 192 + 48) * 3, (48 * 192 + 48) * 3 + 3)]).not.toEqual([141, 141, 141])
    const flipped = remapLamp('gltf', 'out/drawn-gltf/lamp.fbx')
    expect(flipped.materials).toHaveLength(2)
    expect(runStandIn(standInOf('renderer')!, filesOf('out/drawn-gltf'), { surface: 'gltf' }).log).toEqual([
      'Drawn: 2 materials, nothing to complain of.',
    ])
  })
  test('says what it can’t use: another type, a missing map, the wrong colour space, values out of range', async () => {
    writeModel('odd/odd', ['odd'], 'newmtl odd\nKd 0.5 1.5 0.5\nmap_Kd gone.png\nmap_Pr numbers.png\n')
    const marked = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#777' } })
      .withIccProfile('srgb')
      .png()
      .toBuffer()
    // the chunk that says sRGB, behind the header
    const says = Buffer.concat([
      marked.subarray(0, 33),
      Buffer.from([0, 0, 0, 1, 0x73, 0x52, 0x47, 0x42, 0, 0xae, 0xce, 0x1c, 0xe9]),
      marked.subarray(33),
    ])
    writeFileSync(at('odd/numbers.png'), says)
    const { log } = runStandIn(standInOf('renderer')!, filesOf('odd'), { surface: 'openpbr' })
    expect(log).toEqual([
      'error: odd: its type is MTL; OpenPBR Surface 1.1 is what is drawn here',
      'warning: odd: Kd is 0.5 1.5 0.5, beyond 0 to 1',
      'error: odd: the map “gone.png” is missing',
      'warning: odd: “numbers.png” holds numbers (roughness) and says it is sRGB',
    ])
  })
})

describe('other readers find the same maps in the same slots', () => {
  test('MTL by three, FBX by assimp', async () => {
    remapLamp('mtl', 'out/read/lamp.obj')
    const { materialsInfo } = new MTLLoader().parse(
      readFileSync(at('out/read/lamp.mtl'), 'utf8'),
      '',
    ) as unknown as {
      materialsInfo: Record<string, Record<string, unknown>>
    }
    expect(materialsInfo['brass_mat']).toMatchObject({
      map_kd: 'maps/brass_BaseColor.png',
      map_pr: 'maps/brass_Roughness.png',
      map_pm: 'maps/brass_Metalness.png',
      norm: 'maps/brass_normal.png',
    })
    remapLamp('fbx-phong', 'out/read/lamp.fbx')
    const assimp = await loadAssimp('lamp.fbx')
    const { materials } = assimp(new Uint8Array(readFileSync(at('out/read/lamp.fbx'))))
    const files = (index: number): string[] =>
      materials[index]!.properties.filter(({ key }) => key === '$tex.file').map(({ value }) => String(value))
    const brass = materials.findIndex(({ properties }) =>
      properties.some(({ value }) => value === 'brass_mat'),
    )
    expect(files(brass)).toEqual(
      expect.arrayContaining(['maps/brass_BaseColor.png', 'maps/brass_normal.png']),
    )
  })
})

describe('rules', () => {
  test('values, maps and amounts by material, new names, sets that no name finds; what fits nothing is told', async () => {
    await writeImage('ruled/maps/xy_color.png', [9, 9, 9])
    await writeImage('ruled/maps/scratches.png', [90, 90, 90])
    writeModel('ruled/prop', ['hull', 'deck'])
    writeFileSync(
      at('ruled/rules.json'),
      JSON.stringify({
        rules: [
          { material: 'boat_*', parameter: 'specular_roughness', value: 0.35 },
          { material: 'boat_hull', parameter: 'coat', value: 0.5 },
          {
            material: 'boat_deck',
            parameter: 'specular_roughness',
            map: { file: 'scratches.png', channel: 'g', inverted: true, amount: 0.1 },
          },
          { material: 'sail', parameter: 'specular_roughness', value: 1 },
        ],
        sets: { xy: 'boat_hull' },
        rename: { '*': 'boat_*' },
      }),
    )
    const answer = kelbo(
      'remap',
      at('ruled/prop.obj'),
      at('ruled/out.obj'),
      '--surface',
      'standard-surface',
      '--maps',
      at('ruled/maps'),
      '--rules',
      at('ruled/rules.json'),
      '--json',
    ).json() as Answer
    expect(answer.materials.map(({ material }) => material)).toEqual(['boat_hull', 'boat_deck'])
    expect(rowOf(answer, 'boat_hull', 'specular_roughness').value).toBe(0.35)
    expect(rowOf(answer, 'boat_hull', 'coat').value).toBe(0.5)
    expect(rowOf(answer, 'boat_hull', 'base_color').map).toBe('maps/xy_color.png')
    expect(rowOf(answer, 'boat_deck', 'specular_roughness')).toMatchObject({ amount: 0.1 })
    // a tenth of the map turned round over the value: 0.9 × 0.35 + 0.1 × (1 - 90 / 255)
    expect((await pixelOf(at(join('ruled', rowOf(answer, 'boat_deck', 'specular_roughness').map!))))[0]).toBe(
      97,
    )
    expect(answer.messages.map(({ code }) => code)).toContain('remap.rule-fits-nothing')
    expect(readFileSync(at('ruled/out.mtl'), 'utf8')).toContain('newmtl boat_hull')
  })
  test('a model of the artist’s own', () => {
    writeFileSync(
      at('own.json'),
      JSON.stringify({
        name: 'Harbour paint',
        slots: [
          { name: 'tint', from: 'baseColor' },
          { name: 'shine', from: 'roughness', inverted: true, times: 100 },
          { name: 'relief', from: 'normal' },
        ],
      }),
    )
    const answer = remapLamp(at('own.json'), 'out/own/lamp.obj')
    expect(answer.materials[0]!.parameters.map(({ parameter, value }) => [parameter, value])).toEqual([
      ['tint', [1, 1, 1]],
      ['shine', expect.any(Number)],
      ['relief', null],
    ])
    expect(rowOf(answer, 'brass_mat', 'shine').map).toBe('maps/brass_mat_shine.png')
  })
  test('what can’t be used is said with its place: remap.bad-rules, remap.bad-model, remap.bad-surface', () => {
    writeFileSync(at('bad.json'), '{ "rules": [ { "material": "a" } ] }')
    const bad = kelbo(
      'remap',
      at('lamp/lamp.obj'),
      at('x.obj'),
      '--surface',
      'mtl',
      '--rules',
      at('bad.json'),
    )
    expect([bad.status, bad.err]).toEqual([2, expect.stringContaining('rule 1 names no “parameter”')])
    const model = kelbo('remap', at('lamp/lamp.obj'), at('x.obj'), '--surface', at('bad.json'))
    expect([model.status, model.err]).toEqual([2, expect.stringContaining('it has no “name”')])
    writeFileSync(at('surface.json'), '{ "model": "openpbr", "parameters": { "base_color": "red" } }')
    const surface = kelbo('surface', at('surface.json'), '--to', 'gltf')
    expect([surface.status, surface.err]).toEqual([2, expect.stringContaining('“base_color” is a colour')])
    const unknown = kelbo('surface', at('surface.json'), '--to', 'velvet')
    expect([unknown.status, unknown.err]).toEqual([
      2,
      expect.stringContaining('“velvet” is no surface model'),
    ])
  })
})

describe('one material', () => {
  test('converted with what became of each parameter', () => {
    writeFileSync(
      at('metal.json'),
      JSON.stringify({
        model: 'standard-surface',
        parameters: {
          metalness: 1,
          base_color: [0.9, 0.7, 0.3],
          specular_roughness: 0.25,
          sheen: 0.4,
          thin_walled: true,
        },
      }),
    )
    const answer = kelbo('surface', at('metal.json'), '--to', 'usd-preview', '--json').json() as unknown as {
      model: string
      parameters: Record<string, unknown>
      report: { parameter: string; how: string; note: string }[]
    }
    expect(answer.model).toBe('usd-preview')
    expect(answer.parameters).toMatchObject({ metallic: 1, roughness: 0.25, diffuseColor: [0.9, 0.7, 0.3] })
    const how = Object.fromEntries(answer.report.map(({ parameter, how: fate }) => [parameter, fate]))
    expect(how).toMatchObject({
      metalness: 'exact',
      specular_roughness: 'exact',
      sheen: 'none',
      thin_walled: 'none',
    })
  })
  test('from a MaterialX document, and from glTF’s own names', () => {
    remapLamp('openpbr', 'out/one/lamp.obj')
    const mtlx = at('out/one/lamp.mtlx')
    const answer = kelbo('surface', mtlx, '--to', 'gltf', '--json').json() as unknown as {
      parameters: Record<string, unknown>
    }
    expect(answer.parameters['metallic']).toBeDefined()
    writeFileSync(
      at('gltf.json'),
      JSON.stringify({
        model: 'gltf',
        parameters: { baseColorFactor: [0.2, 0.4, 0.6, 0.5], metallicFactor: 0, roughnessFactor: 0.3 },
      }),
    )
    const own = kelbo('surface', at('gltf.json'), '--to', 'openpbr', '--json').json() as unknown as {
      parameters: Record<string, unknown>
    }
    expect(own.parameters).toMatchObject({
      base_color: [0.2, 0.4, 0.6],
      specular_roughness: 0.3,
      geometry_opacity: 0.5,
    })
    writeFileSync(
      at('nested.json'),
      JSON.stringify({
        model: 'gltf',
        parameters: {
          pbrMetallicRoughness: {
            baseColorFactor: [1, 0, 0, 1],
            metallicFactor: 0.5,
            baseColorTexture: { index: 0 },
          },
          extensions: { KHR_materials_clearcoat: { clearcoatFactor: 0.7 } },
        },
      }),
    )
    const nested = kelbo('surface', at('nested.json'), '--to', 'usd-preview', '--json').json() as unknown as {
      parameters: Record<string, unknown>
    }
    expect(nested.parameters).toMatchObject({ diffuseColor: [1, 0, 0], metallic: 0.5, clearcoat: 0.7 })
    expect((answer as unknown as { others: string[] }).others).toEqual(['M_glass'])
    writeFileSync(
      at('bomb.mtlx'),
      '<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><materialx>&b;</materialx>',
    )
    expect(kelbo('surface', at('bomb.mtlx'), '--to', 'gltf')).toMatchObject({ status: 2 })
  })
})

describe('bumps', () => {
  test('for a renderer that takes normals alone they are made into them, and that is said; real normals go first', async () => {
    writeModel('bumpy/prop', ['hull', 'deck'])
    const side = 64
    const hill = Uint8Array.from({ length: side * side }, (_, at) =>
      Math.round(
        200 *
          Math.exp(
            -(
              ((at % side) - 30) ** 2 +
              (Math.floor(at / side) - 34) ** 2 +
              ((at % side) - 30) * (Math.floor(at / side) - 34)
            ) / 160,
          ),
      ),
    )
    mkdirSync(at('bumpy/maps'), { recursive: true })
    await sharp(hill, { raw: { width: side, height: side, channels: 1 } })
      .png()
      .toFile(at('bumpy/maps/hull_bump.png'))
    await sharp(hill, { raw: { width: side, height: side, channels: 1 } })
      .png()
      .toFile(at('bumpy/maps/deck_height.png'))
    await writeImage('bumpy/maps/deck_normal_opengl.png', [128, 128, 255])
    const answer = kelbo(
      'remap',
      at('bumpy/prop.obj'),
      at('bumpy/out.obj'),
      '--surface',
      'gltf',
      '--maps',
      at('bumpy/maps'),
      '--json',
    ).json() as Answer
    const hull = rowOf(answer, 'hull', 'normalTexture')
    expect(hull).toMatchObject({ map: 'maps/hull_normalTexture.png', how: 'approximate', direction: 'up' })
    const { data, info } = await sharp(at(join('bumpy', hull.map!)))
      .raw()
      .toBuffer({ resolveWithObject: true })
    const green = (column: number, row: number): number => data[(row * info.width + column) * 3 + 1]!
    // above the hill's top the surface leans up, below it down
    expect(green(30, 26)).toBeGreaterThan(128)
    expect(green(30, 42)).toBeLessThan(128)
    expect(rowOf(answer, 'deck', 'normalTexture').map).toBe('maps/deck_normal_opengl.png')
    expect(answer.materials[1]!.lost.map(({ what }) => what).join()).toContain('deck_height.png')
  })
})

describe('what is easily lost on the way', () => {
  test('what the source’s model means where it says nothing stands in the document', () => {
    // a Phong surface without a highlight reflects nothing; the node would have one
    writeModel('granted/prop', ['matt'], 'newmtl matt\nKd 0.5 0.5 0.5\n')
    const answer = kelbo(
      'remap',
      at('granted/prop.obj'),
      at('granted/out.obj'),
      '--surface',
      'openpbr',
      '--json',
    ).json() as Answer
    expect(rowOf(answer, 'matt', 'specular_weight')).toMatchObject({ value: 0, from: 'material' })
    const [matt] = readMaterialX(readFileSync(at('granted/out.mtlx'), 'utf8'))
    expect(matt!.values['specular_weight']).toBe(0)
    expect(matt!.values['specular_roughness']).toBe(0.5)
  })
  test('one channel of a packed map is taken out, though nothing else of it has a place', async () => {
    writeModel('alone/prop', ['hull'])
    await writeImage('alone/maps/hull_rma.png', [40, 200, 90])
    const answer = kelbo(
      'remap',
      at('alone/prop.obj'),
      at('alone/out.obj'),
      '--surface',
      'reflection-glossiness',
      '--maps',
      at('alone/maps'),
      '--json',
    ).json() as Answer
    const { map } = rowOf(answer, 'hull', 'glossiness')
    const { channels } = await sharp(at(join('alone', map!))).metadata()
    expect([channels, (await pixelOf(at(join('alone', map!))))[0]]).toEqual([1, 215])
  })
  test('a share of a map, where the target has no word for it, is drawn into its pixels', async () => {
    writeModel('share/share', ['brass'])
    await writeImage('share/maps/brass_BaseColor.png', [0, 188, 255])
    await writeImage('share/maps/brass_Roughness.png', [0, 0, 0])
    writeFileSync(
      at('share/rules.json'),
      JSON.stringify({
        rules: [
          { parameter: 'roughness', value: 1, map: { file: 'brass_Roughness.png', amount: 0.4 } },
          { parameter: 'base_color', value: [1, 1, 1], map: { file: 'brass_BaseColor.png', amount: 0.5 } },
        ],
      }),
    )
    const answer = kelbo(
      'remap',
      at('share/share.obj'),
      at('out/share/share.obj'),
      '--surface',
      'gltf',
      '--maps',
      at('share/maps'),
      '--rules',
      at('share/rules.json'),
      '--json',
    ).json() as Answer
    const rough = rowOf(answer, 'brass', 'roughness')
    const color = rowOf(answer, 'brass', 'base_color')
    expect([rough.amount, color.amount]).toEqual([0.4, 0.5])
    // 60 % of one, in the green channel of three
    expect((await pixelOf(at(`out/share/${rough.map}`)))[1]).toBe(153)
    // mixed as light: half of 0, of 0.5 and of 1 with half of white
    const light = (value: number): number =>
      Math.round(255 * (value <= 0.0031308 ? 12.92 * value : 1.055 * value ** (1 / 2.4) - 0.055))
    const own = (await pixelOf(at(`out/share/${color.map}`))).slice(0, 3)
    for (const [channel, expected] of [light(0.5), light(0.75), 255].entries())
      expect(Math.abs(own[channel]! - expected)).toBeLessThanOrEqual(1)
  })

  test('how a map lies on the surface: MTL’s options become FBX’s placement, glTF’s transform, MaterialX’ nodes', async () => {
    writeModel(
      'laid/laid',
      ['cloth'],
      'newmtl cloth\nKd 1 1 1\nmap_Kd -s 2 3 1 -o 0.25 0.5 0 -clamp on cloth.png\n',
    )
    await writeImage('laid/cloth.png', [200, 150, 50])
    const remapLaid = (surface: string, out: string): Answer =>
      kelbo('remap', at('laid/laid.obj'), at(out), '--surface', surface, '--json').json()
    const gltf = remapLaid('gltf', 'out/laid/gltf.obj').gltf as unknown as {
      materials: {
        pbrMetallicRoughness: {
          baseColorTexture: {
            index: number
            extensions: Record<string, { offset: number[]; scale: number[] }>
          }
        }
      }[]
      textures: { sampler: number }[]
      samplers: object[]
    }
    const texture = gltf.materials[0]!.pbrMetallicRoughness.baseColorTexture
    const { offset, scale } = texture.extensions['KHR_texture_transform']!
    // V runs down in glTF: the same place by either way
    const [u, v] = [0.3, 0.7]
    expect([offset[0]! + scale[0]! * u, 1 - (offset[1]! + scale[1]! * (1 - v))]).toEqual([
      expect.closeTo(2 * u + 0.25, 12) as number,
      expect.closeTo(3 * v + 0.5, 12) as number,
    ])
    expect(gltf.samplers[gltf.textures[texture.index]!.sampler]).toEqual({ wrapS: 33071, wrapT: 33071 })
    remapLaid('openpbr', 'out/laid/laid.fbx')
    const { scene } = readPackage([
      { name: 'laid.fbx', bytes: new Uint8Array(readFileSync(at('out/laid/laid.fbx'))) },
    ])
    expect(scene.materials[0]!.maps[0]!.placement).toMatchObject({
      scale: [2, 3],
      offset: [0.25, 0.5],
      wrapU: 'clamp',
      wrapV: 'clamp',
    })
    const document = readFileSync(at('out/laid/laid.mtlx'), 'utf8')
    expect(document).toContain('value="2, 3"')
    expect(document).toContain('name="uaddressmode" type="string" value="clamp"')
    expect(await judge.isValid(document)).toBe(true)
    expect((await judge.shaders(document)).length).toBeGreaterThan(0)
    remapLaid('mtl', 'out/laid/mtl.obj')
    expect(readFileSync(at('out/laid/mtl.mtl'), 'utf8')).toContain(
      '-s 2 3 1 -o 0.25 0.5 0 -clamp on maps/cloth.png',
    )
  })

  test('a rule finds a file by its name alone, with its tiles; one that is nowhere is told: image.missing', async () => {
    writeModel('named/prop', ['hull', 'deck'])
    await writeImage('named/maps/deep/scuffs_spec.1001.png', [1, 2, 3])
    await writeImage('named/maps/deep/scuffs_spec.1002.png', [1, 2, 3])
    writeFileSync(
      at('named/rules.json'),
      JSON.stringify({
        rules: [
          { material: 'hull', parameter: 'base_color', map: 'scuffs_spec.1001.png' },
          { material: 'deck', parameter: 'base_color', map: 'nowhere.png' },
        ],
      }),
    )
    const answer = kelbo(
      'remap',
      at('named/prop.obj'),
      at('named/out.obj'),
      '--surface',
      'openpbr',
      '--maps',
      at('named/maps'),
      '--rules',
      at('named/rules.json'),
      '--json',
    ).json() as Answer
    expect(rowOf(answer, 'hull', 'base_color').map).toBe('maps/scuffs_spec.<UDIM>.png')
    expect(existsSync(at('named/maps/scuffs_spec.1002.png'))).toBe(true)
    expect(
      answer.messages.some(
        ({ code, message }) => code === 'image.missing' && message.includes('nowhere.png'),
      ),
    ).toBe(true)
  })
  test('a bump at 30 % is FBX’s number beside the map, and MTL’s option', async () => {
    await writeImage('bumps30/b.png', [90, 90, 90])
    writeModel('bumps30/prop', ['hull'], 'newmtl hull\nKd 0.5 0.5 0.5\nmap_bump -bm 0.3 b.png\n')
    const fbx = kelbo(
      'remap',
      at('bumps30/prop.obj'),
      at('bumps30/out.fbx'),
      '--surface',
      'fbx-phong',
      '--json',
    ).json() as Answer
    expect(rowOf(fbx, 'hull', 'BumpFactor').value).toBe(0.3)
    expect(rowOf(fbx, 'hull', 'Bump').amount).toBe(1)
    kelbo('remap', at('bumps30/prop.obj'), at('bumps30/out.obj'), '--surface', 'mtl')
    expect(readFileSync(at('bumps30/out.mtl'), 'utf8')).toContain('map_bump -bm 0.3 maps/b.png')
  })
})

describe('where maps lie', () => {
  test('a map in tiles packed with one that has none: tiles of both', async () => {
    writeModel('mixed/first', ['hull'])
    await writeImage('mixed/maps/hull_Roughness.1001.png', [50, 50, 50])
    await writeImage('mixed/maps/hull_Roughness.1002.png', [90, 90, 90])
    await writeImage('mixed/maps/hull_Metalness.png', [200, 200, 200])
    mkdirSync(at('mixed/out'))
    const answer = kelbo(
      'remap',
      at('mixed/first.obj'),
      at('mixed/out/m.obj'),
      '--surface',
      'gltf',
      '--maps',
      at('mixed/maps'),
      '--json',
    ).json() as Answer
    expect(answer.messages.map(({ code }) => code)).not.toContain('remap.image-not-made')
    const { map } = rowOf(answer, 'hull', 'metallic')
    expect(map).toContain('<UDIM>')
    for (const [tile, rough] of [
      ['1001', 50],
      ['1002', 90],
    ] as const)
      expect((await pixelOf(at(`mixed/out/${map!.replace('<UDIM>', tile)}`))).slice(1, 3)).toEqual([
        rough,
        200,
      ])
  })
  test('computed pixel by pixel from maps of which one has tiles: tiles of both', async () => {
    writeModel('mixed2/first', ['hull'])
    await writeImage('mixed2/maps/hull_BaseColor.1001.png', [200, 100, 50])
    await writeImage('mixed2/maps/hull_BaseColor.1002.png', [50, 100, 200])
    await writeImage('mixed2/maps/hull_Metalness.png', [255, 255, 255])
    mkdirSync(at('mixed2/out'))
    const answer = kelbo(
      'remap',
      at('mixed2/first.obj'),
      at('mixed2/out/m.obj'),
      '--surface',
      'gltf-specular-glossiness',
      '--maps',
      at('mixed2/maps'),
      '--json',
    ).json() as Answer
    const { map } = rowOf(answer, 'hull', 'specularFactor')
    expect(map).toContain('<UDIM>')
    for (const [tile, color] of [
      ['1001', [200, 100, 50]],
      ['1002', [50, 100, 200]],
    ] as const) {
      const pixel = await pixelOf(at(`mixed2/out/${map!.replace('<UDIM>', tile)}`))
      color.forEach((value, channel) => expect(Math.abs(pixel[channel]! - value)).toBeLessThanOrEqual(1))
    }
  })
  test('a map that can’t be made leaves the value that the material has, and not the one under a map', async () => {
    writeModel('broken/first', ['hull'], 'newmtl hull\nKd 0.5 0.5 0.5\nPr 0.4\nPm 0\n')
    await writeImage('broken/maps/hull_Roughness.png', [50, 50, 50], 64)
    await writeImage('broken/maps/hull_Metalness.png', [0, 0, 0], 64)
    const path = at('broken/maps/hull_Metalness.png')
    const bytes = readFileSync(path)
    writeFileSync(path, bytes.subarray(0, bytes.length - 40))
    mkdirSync(at('broken/out'))
    const answer = kelbo(
      'remap',
      at('broken/first.obj'),
      at('broken/out/m.obj'),
      '--surface',
      'gltf',
      '--maps',
      at('broken/maps'),
      '--json',
    ).json() as Answer
    expect(answer.messages.map(({ code }) => code)).toContain('remap.image-not-made')
    expect(rowOf(answer, 'hull', 'metallic')).toMatchObject({ map: null, value: 0 })
    expect(rowOf(answer, 'hull', 'roughness')).toMatchObject({ map: null, value: 0.4 })
  })
  test('a model that came with its maps in its file leaves with the made ones in it', async () => {
    writeModel('inside/first', ['hull'], 'newmtl hull\nKd 1 1 1\nmap_Kd paint.png\nmap_Pr rough.png\n')
    await writeImage('inside/paint.png', [200, 100, 50])
    await writeImage('inside/rough.png', [60, 60, 60])
    expect(
      kelbo('convert', at('inside/first.obj'), at('inside/packed.fbx'), '--option', 'embedMaps=true').status,
    ).toBe(0)
    rmSync(at('inside/paint.png'))
    rmSync(at('inside/rough.png'))
    mkdirSync(at('inside/out'))
    const { status, err } = kelbo(
      'remap',
      at('inside/packed.fbx'),
      at('inside/out/for-gltf.fbx'),
      '--surface',
      'gltf',
    )
    expect(err).not.toContain('missing')
    expect(status).toBeLessThanOrEqual(1)
    // the model and its documents alone: no image lies beside it
    expect(
      readdirSync(at('inside/out'), { recursive: true }).filter((name) => /png$/.test(String(name))),
    ).toEqual([])
    const { json } = kelbo('inspect', at('inside/out/for-gltf.fbx'), '--json')
    const { materials } = json() as unknown as { materials: { maps: { slot: string; found: boolean }[] }[] }
    expect(materials[0]!.maps.map(({ slot, found }) => [slot, found])).toContainEqual(['baseColor', true])
    expect(materials[0]!.maps.every(({ found }) => found)).toBe(true)
  })
  test('a channel that an MTL statement takes out of its image is the one that is used', async () => {
    writeModel(
      'channel/first',
      ['hull'],
      'newmtl hull\nKd 1 1 1\nmap_Pr -imfchan g packed.png\nmap_Pm -imfchan b packed.png\n',
    )
    await writeImage('channel/packed.png', [10, 90, 200])
    mkdirSync(at('channel/out'))
    const { status } = kelbo(
      'remap',
      at('channel/first.obj'),
      at('channel/out/m.obj'),
      '--surface',
      'openpbr',
    )
    expect(status).toBeLessThanOrEqual(1)
    const maps = readdirSync(at('channel/out/maps'))
    const found = await Promise.all(
      maps.map(async (name) => [
        /rough/.test(name) ? 'rough' : 'metal',
        (await pixelOf(at(`channel/out/maps/${name}`)))[0],
      ]),
    )
    expect(new Map(found as [string, number][])).toEqual(
      new Map([
        ['rough', 90],
        ['metal', 200],
      ]),
    )
  })
})

describe('bad input', () => {
  test('an ORM image that lies as glTF reads it is used as it is; TGA, HDR and EXR are taken apart too', async () => {
    await writeImage('kinds/maps/hull_orm.png', [10, 20, 30])
    for (const [file, name] of [
      ['tga8-grey.tga', 'deck_opacity.tga'],
      ['hdr.hdr', 'deck_roughness.hdr'],
      ['exr-half-piz.exr', 'deck_metalness.exr'],
    ] as const)
      writeFileSync(
        at(`kinds/maps/${name}`),
        readFileSync(join(import.meta.dirname, '../reference/images', file)),
      )
    writeModel('kinds/prop', ['hull', 'deck'])
    const answer = kelbo(
      'remap',
      at('kinds/prop.obj'),
      at('kinds/out.fbx'),
      '--surface',
      'gltf',
      '--maps',
      at('kinds/maps'),
      '--json',
    ).json() as Answer
    expect(rowOf(answer, 'hull', 'roughness')).toMatchObject({ map: 'maps/hull_orm.png', channel: 'g' })
    expect(rowOf(answer, 'hull', 'metallic')).toMatchObject({ map: 'maps/hull_orm.png', channel: 'b' })
    expect(rowOf(answer, 'hull', 'occlusion')).toMatchObject({ map: 'maps/hull_orm.png', channel: 'r' })
    const packed = rowOf(answer, 'deck', 'roughness').map!
    expect(rowOf(answer, 'deck', 'metallic').map).toBe(packed)
    expect((await sharp(at(join('kinds', packed))).metadata()).width).toBeGreaterThan(3)
    expect(answer.messages.map(({ code }) => code)).not.toContain('remap.image-not-made')
  })
  test('cut off, far too large, for print, moving, drawn, doubled and ambiguous: each is said, none stops the rest', async () => {
    const maps = at('bad/maps')
    mkdirSync(maps, { recursive: true })
    writeModel(
      'bad/prop',
      ['brass_mat', 'M_glass'],
      'newmtl brass_mat\nKd 0.8 0.6 0.2\nd -3\n\nnewmtl M_glass\nKd 1 1 1\n',
    )
    await writeImage('bad/maps/brass_color.png', [1, 2, 3])
    const whole = readFileSync(join(maps, 'brass_color.png'))
    writeFileSync(join(maps, 'brass_rough.png'), whole.subarray(0, 60))
    const huge = Buffer.from(whole)
    huge.writeUInt32BE(100000, 16)
    huge.writeUInt32BE(100000, 20)
    writeFileSync(join(maps, 'brass_metal.png'), huge)
    await sharp(whole).toColourspace('cmyk').jpeg().toFile(join(maps, 'brass_spec.jpg'))
    writeFileSync(join(maps, 'glass_color.svg'), '<svg xmlns="http://www.w3.org/2000/svg"/>')
    await sharp(Buffer.alloc(8 * 16 * 3, 9), { raw: { width: 8, height: 16, channels: 3, pageHeight: 8 } })
      .webp({ loop: 0 })
      .toFile(join(maps, 'glass_emissive.webp'))
    writeFileSync(join(maps, 'brass_color (1).png'), whole)
    writeFileSync(join(maps, 'brass_glass_normal.png'), whole)
    writeFileSync(join(maps, 'horn_D.png'), whole)
    const answer = kelbo(
      'remap',
      at('bad/prop.obj'),
      at('bad/out.obj'),
      '--surface',
      'openpbr',
      '--maps',
      maps,
      '--json',
    ).json() as Answer
    const said = (code: string): string[] =>
      answer.messages.filter((one) => one.code === code).map(({ message }) => message)
    expect(said('remap.bad-image').join('\n')).toContain('100000 × 100000 pixels')
    expect(said('remap.bad-image').join('\n')).toContain('CMYK')
    expect(said('remap.bad-image').join('\n')).toContain('drawing')
    expect(said('remap.doubled-maps')).toHaveLength(1)
    expect(said('remap.set-doubtful').join()).toContain('brass_glass')
    expect(said('remap.map-doubtful').join()).toContain('horn_D.png')
    expect(said('remap.out-of-range').join()).toContain('d -3')
    expect(rowOf(answer, 'brass_mat', 'base_color').map).toBe('maps/brass_color.png')
    for (const message of answer.messages) expect(message.message).not.toMatch(/undefined|NaN|\[object|::/)
  })
  test('an image whose pixels can’t be taken apart: nothing names a file that isn’t there', async () => {
    writeModel('half/prop', ['hull'])
    await writeImage('half/maps/hull_metal.png', [1, 2, 3])
    const tga = readFileSync(join(import.meta.dirname, '../reference/images/tga8-grey.tga'))
    writeFileSync(at('half/maps/hull_rough.tga'), tga.subarray(0, 30))
    const answer = kelbo(
      'remap',
      at('half/prop.obj'),
      at('half/out.fbx'),
      '--surface',
      'gltf',
      '--maps',
      at('half/maps'),
      '--json',
    ).json() as Answer
    expect(answer.messages.map(({ code }) => code)).toContain('remap.image-not-made')
    expect(rowOf(answer, 'hull', 'roughness')).toMatchObject({ map: null, how: 'none' })
    expect(JSON.stringify(answer.gltf)).not.toContain('metallicRoughness')
  })
  test('raw data that says sRGB, 8 bits for heights, missing tiles, directions at odds: said', async () => {
    writeModel('told/prop', ['hull'])
    await writeImage('told/maps/hull_color.1001.png', [1, 2, 3])
    await writeImage('told/maps/hull_color.1002.png', [1, 2, 3])
    await writeImage('told/maps/hull_rough.1001.png', [1, 2, 3])
    await writeImage('told/maps/hull_height.png', [1, 2, 3])
    writeFileSync(
      at('told/maps/hull_normal_opengl.png'),
      readFileSync(join(import.meta.dirname, '../reference/images/normal-bump-y-down.png')),
    )
    const plain = readFileSync(at('told/maps/hull_height.png'))
    writeFileSync(
      at('told/maps/hull_metal.png'),
      Buffer.concat([
        plain.subarray(0, 33),
        Buffer.from([0, 0, 0, 1, 0x73, 0x52, 0x47, 0x42, 0, 0xae, 0xce, 0x1c, 0xe9]),
        plain.subarray(33),
      ]),
    )
    await writeImage('told/maps/stone_color.png', [1, 2, 3])
    await sharp({ create: { width: 8, height: 4, channels: 3, background: { r: 9, g: 9, b: 9 } } }).toFile(
      at('told/maps/hull_ao.png'),
    )
    const answer = kelbo(
      'remap',
      at('told/prop.obj'),
      at('told/out.obj'),
      '--surface',
      'openpbr',
      '--maps',
      at('told/maps'),
      '--json',
    ).json() as Answer
    expect(new Set(answer.messages.map(({ code }) => code))).toEqual(
      new Set([
        'remap.tiles-missing',
        'remap.few-bits',
        'remap.raw-as-color',
        'remap.direction-differs',
        'remap.set-without-material',
        'remap.sizes-differ',
        'remap.shapes-differ',
      ]),
    )
    expect(rowOf(answer, 'hull', 'geometry_normal').direction).toBe('up')
    // a material that nothing is for, and normals whose direction nothing tells
    writeModel('told/two', ['hull', 'sail'])
    await writeImage('told/flat/hull_normal.png', [128, 128, 255])
    const other = kelbo(
      'remap',
      at('told/two.obj'),
      at('told/out.obj'),
      '--surface',
      'gltf',
      '--maps',
      at('told/flat'),
      '--json',
    ).json() as Answer
    expect(other.messages.map(({ code }) => code)).toEqual(
      expect.arrayContaining(['remap.material-without-maps', 'remap.direction-unknown']),
    )
  })
})

describe('folders whose truth is known', () => {
  const WORDS = {
    baseColor: ['BaseColor', 'albedo', 'Diffuse', 'color', 'Grundfarbe', 'couleur'],
    roughness: ['Roughness', 'rough', 'rugosidad'],
    metalness: ['Metalness', 'metallic', 'metal'],
    normal: ['Normal', 'nrm', 'normal_ogl'],
    emissive: ['Emissive', 'emission'],
  } as const
  const PARAMETERS = {
    baseColor: 'base_color',
    roughness: 'specular_roughness',
    metalness: 'base_metalness',
    normal: 'geometry_normal',
    emissive: 'emission_color',
  } as const
  const NAMES = [
    'brass',
    'glass',
    'old_wood',
    'canvas',
    'feather',
    'beak',
    'rope',
    'wet stone',
    'lamp_oil',
    'paint',
  ]
  test('every map lands in its slot or is asked; none lands in another', async () => {
    mkdirSync(at('many/maps'), { recursive: true })
    await writeImage('many/one.png', [10, 20, 30], 4)
    const bytes = readFileSync(at('many/one.png'))
    let right = 0
    let asked = 0
    for (let seed = 1; seed <= 12; seed++) {
      const chance = chanceOf(seed)
      const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!
      rmSync(at('many/maps'), { recursive: true })
      mkdirSync(at('many/maps'))
      const names = [...NAMES].sort(() => chance() - 0.5).slice(0, 2 + Math.floor(chance() * 4))
      const decorate = pick([
        (name: string) => `M_${name}`,
        (name: string) => `${name}_MAT`,
        (name: string) => name.toUpperCase(),
        (name: string) => name.replace(/[ _](.)/g, (_, letter: string) => letter.toUpperCase()),
      ])
      const materials = names.map((name) => decorate(name).replace(/ /g, '_'))
      const separator = pick(['_', '-', '.', ' '])
      const truth: { file: string; material: string; slot: keyof typeof WORDS }[] = []
      names.forEach((name, index) => {
        for (const slot of Object.keys(WORDS) as (keyof typeof WORDS)[]) {
          if (chance() < 0.3) continue
          const word = pick(WORDS[slot])
          const end = pick(['', '_2k', '_4096', '_v003', '-8bit'])
          const start = pick(['', 'T_', 'tex_'])
          const file = `${start}${name.replace(/[ _]/g, pick(['_', separator]))}${separator}${word}${end}.png`
          writeFileSync(at(`many/maps/${file}`), bytes)
          truth.push({ file, material: materials[index]!, slot })
        }
      })
      writeModel('many/prop', materials)
      const answer = kelbo(
        'remap',
        at('many/prop.obj'),
        at('many/out.obj'),
        '--surface',
        'openpbr',
        '--maps',
        at('many/maps'),
        '--json',
      ).json() as Answer
      for (const { file, material, slot } of truth) {
        const landed = answer.materials.flatMap((one) =>
          one.parameters
            .filter(({ map }) => map?.endsWith(`/${file}`))
            .map(({ parameter }) => ({ material: one.material, parameter })),
        )
        for (const one of landed)
          expect(one, `seed ${seed}: ${file}`).toEqual({ material, parameter: PARAMETERS[slot] })
        if (landed.length) right++
        else {
          asked++
          const told = answer.messages.map(({ message }) => message).join('\n')
          const set = answer.sets.filter(({ material: owner }) => owner === null).map(({ name }) => name)
          expect(
            told.includes(file) || set.length > 0,
            `seed ${seed}: ${file} is neither wired nor told`,
          ).toBe(true)
        }
      }
    }
    expect(right / (right + asked)).toBeGreaterThan(0.95)
  })
})
