/** Surfaces in a real browser: maps dropped on the page are wired for two renderers, doubts are settled, a version is made. */
import { expect, test } from '@playwright/test'
import sharp from 'sharp'
import { readPng } from '../../src/core/image/codecs/read-png.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { receivedMaterials, rendererLog } from '../../src/core/practice/standins/renderer.ts'
import { surfaceModelNamed } from '../../src/core/surfaces/registry.ts'
import { readMaterialX } from '../../src/core/surfaces/documents/read-materialx.ts'
import { readZip } from '../../src/core/formats/package/read-zip.ts'
import { drop, fits, press, watchConsole } from './helpers.ts'

const textOf = (files: readonly { name: string; bytes: Uint8Array }[], name: string): string =>
  new TextDecoder().decode(files.find((file) => file.name === name)!.bytes)

const MATERIALS = ['plumage', 'horn', 'leather', 'brass', 'glass']
const OBJ = `mtllib perch.mtl
o perch
${MATERIALS.map((_, at) => `v ${at} 0 0\nv ${at + 1} 0 0\nv ${at} 1 0\nvt 0 0\nvt 1 0\nvt 0 1`).join('\n')}
${MATERIALS.map((name, at) => `usemtl ${name}\nf ${[1, 2, 3].map((corner) => `${3 * at + corner}/${3 * at + corner}`).join(' ')}`).join('\n')}
`
const MTL = MATERIALS.map((name) => `newmtl ${name}\nKd 0.5 0.4 0.3\nKs 0.3 0.3 0.3\nNs 40\n`).join('\n')
const image = async (color: readonly [number, number, number]): Promise<Buffer> =>
  sharp({
    create: { width: 8, height: 8, channels: 3, background: { r: color[0], g: color[1], b: color[2] } },
  })
    .png()
    .toBuffer()

test('five materials and 25 maps, eight of them in two tiles: one drop and one choice wire them all', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.setInputFiles('[data-test=chooser]', [
    { name: 'perch.obj', mimeType: 'text/plain', buffer: Buffer.from(OBJ) },
    { name: 'perch.mtl', mimeType: 'text/plain', buffer: Buffer.from(MTL) },
  ])
  await page.getByLabel('Name of the asset').fill('Perch of many surfaces')
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('heading', { name: 'Perch of many surfaces' })).toBeVisible()
  const assetId = /asset\/([0-9a-f-]{36})/.exec(page.url())![1]!

  await page.getByRole('link', { name: 'The master’s surfaces' }).click()
  const list = page.getByRole('list', { name: 'Materials' })
  await expect(list.getByRole('button')).toHaveCount(5)
  await expect(list).toContainText('1 polygon, 0 maps')

  const files: { name: string; bytes: Uint8Array }[] = []
  for (const material of MATERIALS) {
    const tiled = material === 'plumage' || material === 'leather'
    for (const [word, color] of [
      ['BaseColor', [120, 140, 160]],
      ['Roughness', [120, 120, 120]],
      ['Metalness', [0, 0, 0]],
      ['Normal_OpenGL', [128, 128, 255]],
      ['Height', [99, 99, 99]],
    ] as const)
      for (const tile of tiled && /Base|Rough/.test(word) ? ['.1001', '.1002'] : [''])
        files.push({ name: `T_${material}_${word}${tile}.png`, bytes: await image(color) })
  }
  // and two whose names leave something open
  files.push({ name: 'xylem_roughness.png', bytes: await image([9, 9, 9]) })
  files.push({ name: 'sketch.png', bytes: await image([9, 9, 9]) })
  await drop(page, files)
  await expect(list).toContainText('1 polygon, 5 maps')
  await expect(page.getByText(`${files.length} files of maps`)).toBeVisible()
  const doubts = page.getByRole('region', { name: 'What the names leave open' })
  await expect(doubts).toContainText('sketch.png')
  await expect(doubts).toContainText('xylem')

  await list.getByRole('button', { name: /brass/ }).click()
  const row = (parameter: string) =>
    page.getByRole('row').filter({ has: page.getByRole('button', { name: parameter, exact: true }) })
  await expect(row('base_metalness')).toContainText('T_brass_Metalness.png')
  await expect(row('specular_roughness')).toContainText('T_brass_Roughness.png')
  await expect(row('geometry_normal')).toContainText('green up')
  await expect(page.getByRole('region', { name: 'The look' })).toContainText('at most')
  expect(await fits(page)).toBe(true)

  // the other renderer reads two of them from one image
  await page.locator('.target .el-select').click()
  await page.getByRole('option', { name: 'glTF metallic-roughness' }).click()
  await expect(row('metallic')).toContainText('metallicRoughnessTexture')
  await expect(row('roughness')).toContainText('metallicRoughnessTexture')

  // by hand: a value, and whose the open set is
  await page
    .getByRole('button', { name: 'ior', exact: true })
    .or(page.getByRole('button', { name: /more at their standard/ }))
    .first()
    .click()
  await page.getByRole('button', { name: 'ior', exact: true }).click()
  await page.getByRole('spinbutton', { name: 'value' }).fill('1.8')
  await page.getByRole('spinbutton', { name: 'value' }).press('Enter')
  await expect(row('ior')).toContainText('by hand')
  await expect(page.getByText('1 rule by hand')).toBeVisible()
  // a share of a map, of one channel, for all materials at once
  await page.getByRole('button', { name: 'roughness', exact: true }).click()
  await page.getByLabel('Materials that it is for').selectOption('all')
  await page.getByLabel('share, %').fill('40')
  await page.getByLabel('share, %').press('Enter')
  await expect(row('roughness')).toContainText('40 %')
  await list.getByRole('button', { name: /horn/ }).click()
  await expect(row('roughness')).toContainText('40 %')
  await page.getByLabel('Materials that it is for').selectOption('all')
  await page.getByRole('button', { name: 'As it was found' }).click()
  await expect(row('roughness')).not.toContainText('40 %')
  // the same for two that are chosen, and for no other
  await list.getByRole('button', { name: /leather/ }).click({ modifiers: ['Control'] })
  await page.getByLabel('share, %').fill('70')
  await page.getByLabel('share, %').press('Enter')
  await expect(row('roughness')).toContainText('70 %')
  await list.getByRole('button', { name: /horn/ }).click()
  await expect(row('roughness')).toContainText('70 %')
  await list.getByRole('button', { name: /glass/ }).click()
  await expect(row('roughness')).not.toContainText('70 %')
  await list.getByRole('button', { name: /horn/ }).click()
  await page.getByRole('button', { name: 'As it was found' }).click()
  await list.getByRole('button', { name: /leather/ }).click()
  await page.getByRole('button', { name: 'As it was found' }).click()
  await expect(row('roughness')).not.toContainText('70 %')
  await list.getByRole('button', { name: /brass/ }).click()
  // one image on one parameter
  await drop(page, [{ name: 'anything.png', bytes: await image([7, 7, 7]) }], row('base_color'))
  await expect(row('base_color')).toContainText('anything')
  await expect(row('base_color')).toContainText('by hand')
  await doubts.getByRole('combobox').selectOption('horn')
  await expect(doubts).not.toContainText('xylem')

  // a model of one's own, from a name and slots
  await page.getByRole('button', { name: 'A model of your own …' }).click()
  await page.getByLabel('Name of the model').fill('Harbour paint')
  await page.getByLabel('Name of slot 2').fill('shine')
  await press(page.getByLabel('Slot 2 turned round'))
  await page.getByRole('button', { name: 'Wire for it' }).click()
  await expect(page.getByText('to Harbour paint')).toBeVisible()
  await expect(row('shine')).toContainText('brass')

  // files for the renderer, opened again
  await page.locator('.target .el-select').click()
  await page.getByRole('option', { name: 'OpenPBR Surface 1.1' }).click()
  await expect(row('base_metalness')).toBeVisible()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Write the files' }).click(),
  ])
  const { readFileSync } = await import('node:fs')
  const packed = readZip({
    name: 'files.zip',
    bytes: new Uint8Array(readFileSync(await download.path())),
  }).files
  const names = packed.map(({ name }) => name.split('/').slice(1).join('/'))
  expect(names).toEqual(
    expect.arrayContaining(['maps/T_plumage_BaseColor.1001.png', 'maps/T_plumage_BaseColor.1002.png']),
  )
  const document = packed.find(({ name }) => name.endsWith('.mtlx'))!
  const materials = readMaterialX(new TextDecoder().decode(document.bytes))
  expect(materials.map(({ name }) => name)).toEqual(MATERIALS)
  expect(Object.values(materials[0]!.maps)).toContain('maps/T_plumage_BaseColor.<UDIM>.png')

  await page.getByRole('button', { name: 'Make a version of it' }).click()
  await expect(page.getByText('Version 2 is the new master')).toBeVisible()
  await expect(page.getByText('Materials as OpenPBR Surface 1.1, on version 1')).toBeVisible()
  expect(complaints).toEqual([])
  await page.request.delete(`/api/assets/${assetId}`, { headers: { origin: new URL(page.url()).origin } })
})

test('a kite with four UV sets and decals leaves with one map a slot; its rules are kept and go with a destination', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.getByRole('link', { name: 'Signal kite' }).first().click()
  await page.getByRole('link', { name: 'The master’s surfaces' }).click()
  const list = page.getByRole('list', { name: 'Materials' })
  await expect(list.getByRole('button')).toHaveCount(4)
  // what lies over another map has no place while each material has its own
  await expect(list.getByRole('button', { name: /sail_cloth/ })).toContainText('2 without a place')

  await page.getByText('One map for all materials').click()
  await expect(list.getByRole('button')).toHaveCount(1)
  await expect(list).toContainText('drawn from 4 materials')
  await expect(list).not.toContainText('without a place')
  const form = page.getByRole('region', { name: 'One map for all' })
  await form.locator('.el-select').nth(1).click()
  await page.getByRole('option', { name: '512 × 512' }).click()
  const row = (parameter: string) =>
    page.getByRole('row').filter({ has: page.getByRole('button', { name: parameter, exact: true }) })
  await expect(row('base_color')).toContainText('all_base_color.png')
  await expect(row('geometry_normal')).toContainText('all_geometry_normal.png')
  expect(await fits(page)).toBe(true)

  // both on the model, under one light: what lies over the cloth is there only in the one map
  await page.getByText('On the model', { exact: true }).click()
  const look = page.getByRole('region', { name: 'The look on the model' })
  await expect(look.getByRole('status').last()).toContainText('apart by')
  await expect(look.getByText('2 things aren’t drawn here')).toBeVisible()
  await expect(look.getByRole('figure', { name: 'Direction of the normals' })).toContainText(
    'Green points up',
  )
  await look.locator('.el-select').click()
  await page.getByRole('option', { name: 'Roughness', exact: true }).click()
  await expect(look.getByRole('status').last()).toContainText('apart by 0.0 in the mean')
  const canvas = look.locator('canvas').first()
  const box = (await canvas.boundingBox())!
  await canvas.click({ position: { x: box.width * 0.48, y: box.height * 0.3 } })
  expect(await fits(page)).toBe(true)
  await page.getByText('Facts', { exact: true }).click()

  await page.locator('.files .el-select').click()
  await page.getByRole('option', { name: 'FBX' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Write the files' }).click(),
  ])
  const { readFileSync } = await import('node:fs')
  const packed = readZip({
    name: 'kite.zip',
    bytes: new Uint8Array(readFileSync(await download.path())),
  }).files.map((file) => ({ ...file, name: file.name.split('/').slice(1).join('/') }))
  expect(packed.map(({ name }) => name).filter((name) => name.startsWith('maps/'))).toEqual([
    'maps/all_base_color.png',
    'maps/all_specular_roughness.png',
    'maps/all_geometry_normal.png',
  ])
  const { scene } = readPackage(packed.filter(({ name }) => /\.(fbx|png)$/.test(name)))
  expect(scene.materials.map(({ name }) => name)).toEqual(['all'])
  for (const mesh of scene.meshes) expect(mesh.uvSets.map(({ name }) => name)).toEqual(['flat'])
  // the mark is red, and on the sail
  const color = readPng(packed.find(({ name }) => name === 'maps/all_base_color.png')!.bytes)!
  let red = 0
  for (let at = 0; at < color.width * color.height; at++) {
    const [r, g] = [color.values[at * color.channels]!, color.values[at * color.channels + 1]!]
    if (r > 90 && g < 50) red++
  }
  expect(red / (color.width * color.height)).toBeGreaterThan(0.005)
  const log = rendererLog(
    receivedMaterials(scene, packed, readMaterialX(textOf(packed, 'signal_kite.mtlx'))),
    surfaceModelNamed('openpbr'),
  )
  expect(log).toEqual(['Drawn: 1 material, nothing to complain of.'])

  // kept under a name, and there for destinations
  await page.getByRole('button', { name: 'Keep as …' }).click()
  await page
    .getByRole('textbox', { name: 'A name for these rules' })
    .or(page.locator('.el-message-box input'))
    .first()
    .fill('One small map')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText('The rules “One small map” are kept.')).toBeVisible()
  await page.reload()
  await expect(list.getByRole('button')).toHaveCount(4)
  await page.locator('.rules .el-select').click()
  await page.getByRole('option', { name: 'One small map' }).click()
  await expect(list).toContainText('drawn from 4 materials')
  await page.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByText('The rules “One small map” are deleted.')).toBeVisible()
  expect(complaints).toEqual([])
})

test('maps are worked on in the page: a glossiness turned round, packed with others, named by a pattern', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.getByRole('link', { name: 'Storm lantern' }).first().click()
  await page.getByRole('link', { name: 'The master’s surfaces' }).click()
  const list = page.getByRole('list', { name: 'Materials' })
  await expect(list.getByRole('button').first()).toBeVisible()
  const material = await list.getByRole('button').first().locator('b').textContent()
  await page.locator('aside.left input[type=file]').setInputFiles(
    await Promise.all(
      (
        [
          ['Roughness', 200],
          ['Metalness', 10],
        ] as const
      ).map(async ([word, value]) => ({
        name: `${material}_${word}.png`,
        mimeType: 'image/png',
        buffer: await image([value, value, value]),
      })),
    ),
  )
  await expect(page.getByText('2 files of maps')).toBeVisible()
  await page.getByRole('button', { name: 'Work on them …' }).click()
  const dialog = page.getByRole('dialog', { name: 'Work on maps' })
  await dialog.getByText(`${material}_Roughness.png`).click()
  await dialog.getByRole('button', { name: /Turn round/ }).click()
  await expect(dialog.getByText('1 image made.')).toBeVisible()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Save as ZIP' }).click(),
  ])
  const { readFileSync } = await import('node:fs')
  const [made] = readZip({ name: 'a.zip', bytes: new Uint8Array(readFileSync(await download.path())) }).files
  expect(made!.name).toBe(`${material}_Roughness.png`)
  expect(readPng(made!.bytes)!.values[0]).toBe(55)
  // an image on a material is that material’s, whatever its name is like
  await page.keyboard.press('Escape')
  const second = list.getByRole('button').nth(1)
  const other = await second.locator('b').textContent()
  await drop(page, [{ name: 'nothing_alike_BaseColor.png', bytes: await image([9, 80, 9]) }], second)
  await second.click()
  await expect(page.getByRole('cell', { name: /nothing_alike_BaseColor/ })).toBeVisible()
  expect(other).not.toBe(material)
  await list.getByRole('button').first().click()
  // it has taken the other’s place: still two, and the one for the other material
  await expect(page.getByText('3 files of maps')).toBeVisible()

  await page.locator('.naming .el-select').click()
  await page.getByRole('option', { name: 'a folder a material, by slot' }).click()
  await expect(page.getByRole('cell', { name: /roughness\.png/ })).toBeVisible()
  const [packed] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Write the files' }).click(),
  ])
  const names = readZip({
    name: 'b.zip',
    bytes: new Uint8Array(readFileSync(await packed.path())),
  }).files.map(({ name }) => name)
  expect(names.some((name) => name.endsWith(`maps/${material}/roughness.png`))).toBe(true)
  expect(complaints).toEqual([])
})
