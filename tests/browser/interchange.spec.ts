/** The lantern out as COLLADA at a known height with its maps; the bollard out as USD and as Alembic, and back the same. */
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { writeGltf } from '../../src/core/formats/gltf/write-gltf.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { readZip } from '../../src/core/formats/package/read-zip.ts'
import { buildMooringBollard } from '../../src/core/practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { CUBE, drawnShare, drop, fits, fresh, press, watchConsole } from './helpers.ts'

/** A model brought in under a name of its own. */
async function bringInDemo(page: Page, name: string, files: readonly { name: string; bytes: Uint8Array }[]) {
  await page.goto('/')
  await drop(page, files)
  await page.getByLabel('Name of the asset').fill(name)
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('heading', { name })).toBeVisible()
}
/** A destination of one’s own that takes another format. */
async function copyWith(page: Page, destination: RegExp, name: string, format: string): Promise<void> {
  await page.goto('/destinations')
  await page.getByRole('button', { name: destination }).click()
  await page.getByRole('button', { name: 'Copy and edit' }).click()
  await page.getByLabel('Name', { exact: true }).fill(name)
  await press(page.getByLabel('Format', { exact: true }))
  await page.getByRole('option', { name: format, exact: true }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(`“${name}” is saved.`)).toBeVisible()
}
async function send(page: Page, asset: string, destination: string): Promise<void> {
  await page.getByRole('link', { name: 'Assets' }).click()
  await page.getByRole('link', { name: asset }).click()
  await page.getByRole('link', { name: /Send the master/ }).click()
  await page.getByText(destination, { exact: true }).first().click()
  await expect(page.locator('[data-test=seen]')).toBeVisible()
}
async function download(page: Page): Promise<{ name: string; bytes: Uint8Array }[]> {
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: /^Send/ }).click()
  const path = (await (await downloading).path())!
  return readZip({ name: 'sent.zip', bytes: new Uint8Array(readFileSync(path)) }).files
}

test('the lantern as COLLADA: its height is known before, and its maps lie beside it', async ({ page }) => {
  const complaints = watchConsole(page)
  const scene = buildStormLantern()
  const asset = fresh('Pose lantern')
  await bringInDemo(page, asset, writeObj(scene, 'pose_lantern.obj').files)
  const bench = fresh('The posing bench')
  await copyWith(page, /^Posing tool/, bench, 'COLLADA')
  await send(page, asset, bench)
  await expect(page.locator('[data-test=seen]')).toContainText('tall')
  const seen = await page.locator('[data-test=seen]').innerText()
  expect(await fits(page)).toBe(true)
  const files = await download(page)
  expect(files.filter(({ name }) => name.endsWith('.dae'))).toHaveLength(1)
  const back = readPackage(files).scene
  // those that the format has a place for
  expect(back.images.length).toBeGreaterThan(3)
  for (const { file, bytes } of back.images) expect([file, bytes !== null]).toEqual([file, true])
  const ys = back.meshes.flatMap(({ points }) => [...points].filter((_value, at) => at % 3 === 1))
  const tall = (Math.max(...ys) - Math.min(...ys)) * (back.space.unitMeters ?? NaN) * 100
  expect(seen).toContain(tall.toFixed(1).replace(/\.0$/, ''))
  expect(complaints).toEqual([])
})

for (const [format, destination, ending] of [
  ['USD', /^Scene assembly/, '.usdz'],
  ['Alembic', /^Renderer/, '.abc'],
] as const)
  test(`the bollard as ${format}: with its creases out, and back the same`, async ({ page }) => {
    const complaints = watchConsole(page)
    const asset = fresh(`Quay bollard ${format}`)
    await bringInDemo(page, asset, writeObj(buildMooringBollard(), 'quay_bollard.obj').files)
    const name = format === 'USD' ? 'Scene assembly' : fresh('The cache')
    if (format === 'Alembic') await copyWith(page, destination, name, 'Alembic')
    await send(page, asset, name)
    await expect(page.getByLabel(/^column, creases: Carried/)).toBeVisible()
    expect(await fits(page)).toBe(true)
    const files = await download(page)
    const model = files.find((file) => file.name.endsWith(ending))!
    expect(model).toBeDefined()
    await drop(page, [{ name: `from_there${ending}`, bytes: model.bytes }])
    await page.getByRole('button', { name: 'Take it back' }).click()
    await expect(page).toHaveURL(/\/return$/)
    for (const trait of ['points', 'creases', 'uvs', 'groups'])
      await expect(page.getByLabel(new RegExp(`^column, ${trait}: (Unchanged|The same)`))).toBeVisible() // prettier-ignore
    expect(await fits(page)).toBe(true)
    expect(complaints).toEqual([])
  })

test('several files at once: an asset for each model, and in words what could not be read', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const word = Date.now().toString(36)
  const crate = { name: `crate_${word}.obj`, bytes: new TextEncoder().encode(CUBE) }
  const glb = {
    name: `bollard-${word}.glb`,
    bytes: writeGltf(buildMooringBollard(), 'x.glb').files[0]!.bytes,
  }
  const broken = { name: `rope-${word}.glb`, bytes: new TextEncoder().encode('no model') }
  await page.goto('/')
  await drop(page, [crate, glb, broken])
  await page.getByText('An asset for each model').click()
  await expect(page.getByLabel('Name of the asset')).toHaveCount(0)
  await page.getByRole('button', { name: 'Bring them in' }).click()
  const told = page.getByRole('alert')
  await expect(told).toContainText(`“crate ${word}”, “bollard ${word}” are here.`)
  await expect(told).toContainText(`“rope-${word}.glb” was left out`)
  expect(await fits(page)).toBe(true)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('link', { name: `crate ${word}` })).toBeVisible()
  await expect(page.getByRole('link', { name: `bollard ${word}` })).toBeVisible()
  expect(complaints).toEqual([])
})

test('what a format can hold nothing of is said where the ledger would stand, and nothing can be sent', async ({
  page,
}) => {
  const asset = fresh('Guide wire')
  await bringInDemo(page, asset, [
    { name: 'wire.obj', bytes: encodeUtf8('o wire\nv 0 0 0\nv 1 0 0\nv 1 1 0\nl 1 2 3\n') },
  ])
  const shop = fresh('The printing shop')
  await copyWith(page, /^Sculpting tool/, shop, 'STL')
  await page.getByRole('link', { name: 'Assets' }).click()
  await page.getByRole('link', { name: asset }).click()
  await page.getByRole('link', { name: /Send the master/ }).click()
  // what was measured for another one goes with it
  await expect(page.locator('[data-test=seen]')).toBeVisible()
  await page.getByText(shop, { exact: true }).first().click()
  await expect(page.locator('[data-test=refusal]')).toContainText(
    'Nothing of this model would be in a file of STL.',
  )
  await expect(page.getByRole('button', { name: /^Send/ })).toBeDisabled()
  await expect(page.locator('[data-test=seen]')).toHaveCount(0)
  // another destination takes it
  await page.getByText('Modelling tool', { exact: true }).first().click()
  await expect(page.locator('[data-test=seen]')).toBeVisible()
  await expect(page.locator('[data-test=refusal]')).toHaveCount(0)
  await expect(page.getByRole('button', { name: /^Send/ })).toBeEnabled()
})

test('a scan of points alone is seen, in its colours', async ({ page }) => {
  const complaints = watchConsole(page)
  const count = 2000
  const rows = Array.from({ length: count }, (_row, at) => {
    const [turn, up] = [at * 2.4, 1 - (2 * at) / count]
    const out = Math.sqrt(1 - up * up)
    return `${(out * Math.cos(turn)).toFixed(4)} ${up.toFixed(4)} ${(out * Math.sin(turn)).toFixed(4)} 200 40 40`
  })
  const head = `ply\nformat ascii 1.0\nelement vertex ${count}\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nend_header\n`
  const asset = fresh('Harbour scan')
  await bringInDemo(page, asset, [{ name: 'scan.ply', bytes: encodeUtf8(`${head}${rows.join('\n')}\n`) }])
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.03)
  await pictured(page, asset)
  expect(complaints).toEqual([])
})

/** The list shows a picture of it, which has come. */
async function pictured(page: Page, asset: string): Promise<void> {
  await page.getByRole('link', { name: 'Assets' }).click()
  const picture = page.getByRole('link', { name: asset }).locator('img')
  await expect
    .poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth))
    .toBeGreaterThan(0)
}

test('lines alone are drawn as lines', async ({ page }) => {
  const complaints = watchConsole(page)
  const asset = fresh('Mooring lines')
  /** A bundle of straight lines, their ends alone being points. */
  const ends = Array.from(
    { length: 160 },
    (_end, at) => `v ${(at >> 1) / 40} ${at % 2} ${((at >> 1) % 7) / 9}`,
  )
  const lines = Array.from({ length: 80 }, (_line, at) => `l ${2 * at + 1} ${2 * at + 2}`)
  await bringInDemo(page, asset, [{ name: 'lines.obj', bytes: encodeUtf8(`o ropes\n${[...ends, ...lines].join('\n')}\n`) }]) // prettier-ignore
  // their ends as dots would cover a tenth of this
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.02)
  await pictured(page, asset)
  expect(complaints).toEqual([])
})
