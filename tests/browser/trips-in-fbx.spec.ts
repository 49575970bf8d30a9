/** The heron goes out as FBX, comes back a hundred times as large, and is put right; a destination of one's own. */
import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { cubeOf, sceneOf } from '../solids.ts'
import { drawnShare, fits, press, watchConsole } from './helpers.ts'

test('the heron as FBX to the modeller, ×100 and back', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.getByRole('link', { name: 'Courier heron' }).click()
  await page.getByRole('link', { name: /Send the master/ }).click()
  await page.getByText('Modelling tool', { exact: true }).first().click()

  // the forecast: what becomes of each trait, and the size that the tool will see
  await expect(page.getByLabel(/^body, surfaces: In another form/)).toBeVisible()
  await expect(page.getByLabel(/^beak, creases: Carried, to the last bit/)).toBeVisible()
  const seen = page.locator('[data-test=seen]')
  await expect(seen).toContainText('1.09 m tall')
  await expect(seen).toContainText('is what the tool will show')
  // a file that says centimetres over numbers a hundred times as large
  await expect(page.locator('[data-test=scene-row]')).toContainText('Unit, axes, cameras')
  await page.getByText(/^7\.4, binary, materials with maps, centimetres, Y up/).click()
  await page.getByLabel('Scale', { exact: true }).fill('100')
  await page.getByLabel('Scale', { exact: true }).press('Enter')
  await expect(seen).toContainText('109 m tall')
  await expect(seen).toContainText('the version is 1.09 m')
  // told once, for the scene; the parts are as they were
  await expect(page.locator('[data-test=scene-row]')).toContainText('leaves 100 times as large')
  await expect(page.getByLabel(/^body, points: Carried/)).toBeVisible()
  await page.getByRole('button', { name: 'Scale by 0.01 to make it right' }).click()
  await expect(seen).toContainText('1.09 m tall')
  // an entered height gives the exact factor
  await page.getByLabel('Real height in metres').fill('2.1788')
  await expect(page.getByRole('button', { name: /Scale × 2/ })).toBeVisible()
  expect(await fits(page)).toBe(true)

  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: /^Send/ }).click()
  const sent = await download
  expect(sent.suggestedFilename()).toBe('Courier_heron_modelling_tool_trip_002.zip')
  const { scene } = readPackage([{ name: 'x.zip', bytes: readFileSync((await sent.path())!) }])
  expect([scene.format, scene.nodes.length, scene.space.unitMeters]).toEqual(['fbx', 12, 0.01])

  // the stand-in with its fault
  await page.getByRole('link', { name: 'stand-in' }).click()
  await expect(page.getByText('It reads the file as a modelling tool would')).toBeVisible()
  await press(page.getByLabel('Takes the unit for'))
  await page.getByText('metres where it is centimetres: ×100').click()
  await page.getByRole('button', { name: 'Model and bring it back' }).click()
  await page.getByRole('link', { name: 'See what came back' }).click()

  // the return says it once, and puts it right
  await expect(page.getByRole('heading', { name: 'Trip 2: what came back' })).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: '100 times as large' })).toBeVisible()
  // a hundredfold it is drawn beside the master all the same, and that is said; tags alone are a fiftieth of the half
  await expect(page.getByText('after, drawn to fit')).toBeVisible()
  await expect.poll(() => drawnShare(page, 'solid', 'right')).toBeGreaterThan(0.08)
  await page.getByRole('button', { name: 'Bring it to its size and place' }).click()
  await expect(page.locator('[data-test=story]')).toContainText('that is undone here')
  await expect(page.getByRole('button', { name: 'Bring it to its size and place' })).toHaveCount(0)
  await expect(page.getByText('after', { exact: true }).first()).toBeVisible()
  await expect(page.getByText('after, drawn to fit')).toHaveCount(0)
  await expect(page.getByLabel(/^body, points: Unchanged/)).toBeVisible()
  await expect(page.getByLabel(/^beak, creases: .* came back smooth/)).toBeVisible()
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})

test('a destination of one’s own: copied, changed, exported, imported, removed', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/destinations')
  await page.getByRole('button', { name: 'Modelling tool FBX' }).click()
  await page.getByRole('button', { name: 'Copy and edit' }).click()
  await expect(page.getByRole('heading', { name: 'Modelling tool, ours' })).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('')
  await expect(page.getByRole('alert')).toContainText('A name of at least one letter is needed.')
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled()
  await page.getByLabel('Name', { exact: true }).fill('The bench upstairs')
  await press(page.getByLabel('Scale of creases'))
  await page.getByText('another scale', { exact: true }).click()
  await page.getByLabel('Weight of an edge that stays sharp').fill('10')
  await page.getByLabel('Power of a crease’s weight').fill('3')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('“The bench upstairs” is saved.')).toBeVisible()
  expect(await fits(page)).toBe(true)

  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Export' }).click()
  const path = (await (await download).path())!
  expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({
    type: 'kelbo-destination',
    destination: { name: 'The bench upstairs', writeOptions: { creaseScale: 10, creaseExponent: 3 } },
  })
  await page
    .locator('[data-test=destination-file]')
    .setInputFiles({ name: 'upstairs.json', mimeType: 'application/json', buffer: readFileSync(path) })
  await expect(page.getByRole('button', { name: /^The bench upstairs/ })).toHaveCount(2)
  await page.locator('[data-test=destination-file]').setInputFiles({
    name: 'other.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"type":"kelbo-destination","version":1,"destination":{"name":"x"}}'),
  })
  await expect(page.getByText(/“other.json” is no destination/)).toBeVisible()

  // it is there to send to, and goes again
  await page.getByRole('button', { name: 'Remove' }).click()
  // the question comes up a moment later, with a button of the same name
  await expect(page.getByRole('button', { name: 'Remove' })).toHaveCount(2)
  await page.getByRole('button', { name: 'Remove' }).last().click()
  await expect(page.getByRole('button', { name: /^The bench upstairs/ })).toHaveCount(1)
  await page.getByRole('link', { name: 'Assets' }).click()
  await page.getByRole('link', { name: 'Storm lantern' }).click()
  await page.getByRole('link', { name: /Send/ }).last().click()
  await expect(page.getByText('The bench upstairs', { exact: true })).toBeVisible()
  expect(complaints).toEqual([])
})

test('an FBX that is brought in is as large and stands as it says, unless it is told otherwise', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  // two metres high, Z up: in the numbers of its own unit
  const post = { ...cubeOf(), points: cubeOf().points.map((value, at) => (at % 3 === 2 ? 2 * value : value)) }
  const space = { unitMeters: 1, upAxis: 'z', frontAxis: '-y', handedness: 'right' } as const
  const [file] = writeFbx({ ...sceneOf([post]), space }, 'post.fbx').files
  const bringIn = async (): Promise<void> => {
    await page.goto('/')
    await page.locator('[data-test=chooser]').setInputFiles({
      name: 'post.fbx',
      mimeType: 'application/octet-stream',
      buffer: Buffer.from(file!.bytes),
    })
    await expect(page.getByLabel('Name of the asset')).toBeFocused()
  }
  const sendToModeller = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Bring it in' }).click()
    await page.getByRole('link', { name: /Send the master|Send it out/ }).click()
    await page.getByText('Modelling tool', { exact: true }).first().click()
  }
  await bringIn()
  await sendToModeller()
  await expect(page.locator('[data-test=seen]')).toContainText('2.00 m tall')
  await expect(page.getByText(/centimetres, Z up/)).toBeVisible()
  await bringIn()
  await press(page.getByLabel('Unit of the file'))
  await page.getByText('a centimetre', { exact: true }).click()
  await press(page.getByLabel('Up is'))
  await page.getByRole('option', { name: 'Y', exact: true }).click()
  await sendToModeller()
  await expect(page.locator('[data-test=seen]')).toContainText('1.00 cm tall')
  await expect(page.getByText(/centimetres, Y up/)).toBeVisible()
  expect(complaints).toEqual([])
})
