/** The signal kite to the pattern maker and home: panels out, one mesh of quads with its groups back. */
import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { buildSignalKite } from '../../src/core/practice/demo/signal-kite.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { drop, fits, press, watchConsole } from './helpers.ts'

test('the kite as panels to the pattern maker, and back as one mesh of quads', async ({ page }) => {
  const complaints = watchConsole(page)
  // a kite of its own: other tests take the demo's as it is
  await page.goto('/')
  const kite = buildSignalKite()
  await drop(
    page,
    writeObj(kite, 'sewn_kite.obj', { unitMeters: 0.01 }).files.filter(({ name }) => name.endsWith('.obj')),
  )
  await page.getByLabel('Name of the asset').fill('Sewn kite')
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  await expect(page.getByRole('list', { name: 'Findings' })).toBeVisible()

  // held against the sewing tool: what it would refuse, with its place
  await press(page.getByRole('combobox', { name: 'Held against' }))
  await page.getByRole('option', { name: 'Sewing pattern tool' }).click()
  const forecast = page.locator('.findings .list > li', { hasText: 'Panels for sewing' })
  await expect(forecast).toContainText('3 parts')
  await forecast.getByText('Panels for sewing').click()
  await expect(forecast).toContainText('1 panel would be refused: it has no border to be cut along (“line”).')

  // panels
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Lay out panels' }).click()
  await expect(page.getByText(/11 panels in \d+ pieces; one UV unit is 1 m\./)).toBeVisible()
  await page.getByRole('button', { name: 'Apply' }).click()
  await expect(page.getByRole('tab', { name: 'Steps (1)' })).toBeVisible()
  expect(await fits(page)).toBe(true)

  // the sheet
  await page.getByRole('button', { name: 'Save UVs' }).click()
  const saving = page.waitForEvent('download')
  await page.getByRole('menuitem', { name: 'as panels at true size, PDF' }).click()
  const sheet = await saving
  expect(sheet.suggestedFilename()).toBe('Sewn kite_panels.pdf')
  const written = readFileSync((await sheet.path())!, 'latin1')
  expect(written.startsWith('%PDF-1.4')).toBe(true)
  expect(written).toContain('(panel_bottom)')

  await page.getByRole('button', { name: /Keep as version/ }).click()
  await expect(page.getByText(/Version \d+ is the new master\./).last()).toBeVisible()

  // out, sewn, and home
  await page.getByRole('link', { name: /Send the master/ }).click()
  await page.getByText('Sewing pattern tool', { exact: true }).click()
  await page.getByRole('button', { name: /^Send/ }).click()
  await expect(page.getByText('Out at the sewing pattern tool').first()).toBeVisible()
  await page.getByRole('link', { name: 'stand-in' }).click()
  await page.getByText('Panels get triangles of its own').click()
  await page.getByLabel('Wind that the cloth gives way to').fill('40')
  await page.getByRole('button', { name: 'Quilt and bring it back' }).click()
  await page.getByRole('link', { name: 'See what came back' }).click()
  await expect(page.getByText(/came back as \d+ panels in other polygons/).first()).toBeVisible()
  await expect(page.getByLabel(/^sail, topology: It came back as panels/)).toBeVisible()
  await page.getByRole('button', { name: 'Reconcile' }).click()
  // the bench that it leads to is of the version that came of it
  await expect(page.getByRole('heading', { name: 'Version 3, the master' })).toBeVisible()

  // what is in it, on the next way out
  await page.getByRole('link', { name: /Send the master/ }).click()
  await page.getByText('Sculpting tool', { exact: true }).click()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: /^Send/ }).click()
  const { scene } = readPackage([
    { name: 'kite.zip', bytes: readFileSync((await (await downloading).path())!) },
  ])
  const [own] = kite.meshes
  const sail = scene.meshes.find(({ name }) => name === 'sail')!
  expect([...sail.faceVertices]).toEqual([...own!.faceVertices])
  // this format's names have no spaces
  expect(sail.groups!.names).toEqual(own!.groups!.names.map((name) => name.replace(' ', '_')))
  const moved = sail.points.reduce((most, value, at) => Math.max(most, Math.abs(value - own!.points[at]!)), 0)
  expect(moved).toBeGreaterThan(1)
  expect(complaints).toEqual([])
})

/** A square whose UVs lie on one line: no tangents can be worked out anywhere on it. */
const BROKEN = `o prop
v 0 0 0
v 1 0 0
v 1 1 0.2
v 0 1 0
v 2 0 0
v 2 1 0.1
vt 0 0
vt 0.3 0
vt 0.6 0
vt 0.9 0
f 1/1 2/2 3/3 4/4
f 2/2 5/3 6/4 3/3
`
test('degenerate tangents on a broken prop are gone after one mend', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.setInputFiles('[data-test=chooser]', {
    name: 'broken_prop.obj',
    mimeType: 'text/plain',
    buffer: Buffer.from(BROKEN),
  })
  await page.getByRole('button', { name: 'Bring it in' }).click()
  const list = page.getByRole('list', { name: 'Findings' })
  await expect(list).toBeVisible()
  const found = page.locator('.findings .list > li', { hasText: 'UV polygons without area' })
  await expect(found).toBeVisible()
  await found.getByRole('button', { name: /^Mend/ }).first().click()
  await expect(page.getByRole('tab', { name: 'Steps (1)' })).toBeVisible()
  await expect(found).toHaveCount(0)
  expect(complaints).toEqual([])
})
