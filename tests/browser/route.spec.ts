/** The whole route in a real browser: drop, look, send, stand-in, return, ledger, reconcile, new version. */
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { boundsOf, joinBoxes } from '../../src/core/base/math/box.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { carvePoints } from '../../src/core/practice/faults/carve-points.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import { drawnShare, drop, fits, press, watchConsole } from './helpers.ts'

const folder = mkdtempSync(join(tmpdir(), 'kelbo-browser-'))
const save = (name: string, bytes: Uint8Array | string): string => {
  const path = join(folder, name)
  writeFileSync(path, bytes)
  return path
}
const scene = buildStormLantern()

test('the whole route', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Assets' })).toBeVisible()

  // drop
  await drop(page, writeObj(scene, 'harbour_lantern.obj').files)
  await expect(page.getByText('harbour_lantern.mtl')).toBeVisible()
  await expect(page.getByLabel('Name of the asset')).toHaveValue('harbour lantern')
  await page.getByRole('button', { name: 'Bring it in' }).click()

  // look
  await expect(page).toHaveURL(/\/asset\//)
  await expect(page.getByRole('heading', { name: 'harbour lantern' })).toBeVisible()
  const bounds = scene.meshes.map((mesh) => boundsOf(mesh.points)).reduce(joinBoxes)!
  const tall = (bounds.max[1] - bounds.min[1]).toFixed(1)
  await expect(page.getByText(`${tall} cm tall`)).toBeVisible()
  await page.getByRole('row', { name: /wire_guard/ }).click()
  await expect(page.getByText('1,824 quads, 0 triangles, 0 larger')).toBeVisible()
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.03)
  await expect.poll(() => drawnShare(page, 'flat')).toBeGreaterThan(0.1)
  expect(await fits(page)).toBe(true)
  // a click in the view selects what is under it
  await page.keyboard.press('Escape')
  const solid = page.locator('canvas[data-view=solid]')
  const box = (await solid.boundingBox())!
  await solid.click({ position: { x: box.width / 2, y: box.height * 0.8 } })
  await expect(page.locator('tr.selected')).toHaveCount(1)

  // send
  await page.getByRole('link', { name: /Send the master/ }).click()
  await expect(page.getByLabel(/^tank, creases: Carried, to the last bit/)).toBeVisible()
  await page.getByText('Creases', { exact: true }).click()
  await expect(page.getByLabel(/^tank, creases: The file will not carry the 120 creases/)).toBeVisible()
  await page.getByText('Creases', { exact: true }).click()
  await expect(page.getByLabel(/^tank, creases: Carried, to the last bit/)).toBeVisible()
  expect(await fits(page)).toBe(true)
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Send and download' }).click()
  const download = await downloading
  expect(download.suggestedFilename()).toBe('harbour_lantern_sculpting_tool_trip_001.zip')
  await expect(page.getByText('Out at the sculpting tool')).toBeVisible()
  const sent = readFileSync((await download.path())!)

  // the tool: the same stand-in as a function, so that the result is known
  const [sculpted] = sculptFiles([{ name: 'sent.zip', bytes: sent }], { strength: 0.02 })
  await drop(page, [{ name: 'from_the_sculptor.obj', bytes: sculpted!.bytes }])
  await page.getByRole('button', { name: 'Take it back' }).click()

  // ledger
  await expect(page).toHaveURL(/\/return$/)
  await expect(page.getByText('from_the_sculptor.obj')).toBeVisible()
  const creases = page.getByLabel(
    /^tank, creases: 120 creased edges and corners came back smooth; they can be restored/,
  )
  await creases.hover()
  await expect(page.locator('.sentence')).toContainText('Click the mark to see where')
  await creases.click()
  await expect(creases).toHaveClass(/shown/)
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.1)
  for (const trait of ['points', 'smoothing', 'materials', 'groups'])
    await expect(page.getByLabel(new RegExp(`^tank, ${trait}:`))).toBeVisible()
  await expect(page.getByLabel('Take points from the returned file')).toBeChecked()
  await expect(
    page.getByText('smoothing, creases, materials, surfaces, groups kept from the master'),
  ).toBeVisible()
  expect(await fits(page)).toBe(true)

  // reconcile
  await page.getByRole('button', { name: 'Reconcile' }).click()
  await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Version 2, the master' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Version 1, on the bench' })).toBeVisible()

  // what is in the new version, on the next way out
  await page.getByRole('link', { name: /Send the master/ }).click()
  await expect(page.getByLabel(/^tank, creases: Carried/)).toBeVisible()
  const again = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Send and download' }).click()
  const { scene: second } = readPackage([
    { name: 'v2.zip', bytes: readFileSync((await (await again).path())!) },
  ])
  second.meshes.forEach((mesh, index) => {
    const expected = carvePoints(scene.meshes[index]!, 0.02)
    // one comparison: a check for each of twenty thousand numbers takes minutes here
    const farthest = mesh.points.reduce(
      (most, value, at) => Math.max(most, Math.abs(value - expected[at]!)),
      0,
    )
    expect(farthest).toBeLessThan(2e-4)
    expect(mesh.creases).toEqual(scene.meshes[index]!.creases)
    expect(mesh.smoothing).toEqual(scene.meshes[index]!.smoothing)
  })
  expect(complaints).toEqual([])
})

test('the demo shows a trip on its way and one that has come back; practice takes the waiting one', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  // other tests may have left trips of the like behind
  await expect(page.getByText('Back from the sculpting tool, waiting to be looked at').first()).toBeVisible()
  await page.getByRole('link', { name: 'Practice' }).click()
  await press(page.getByRole('radio', { name: /^Storm lantern, trip 1/ }))
  // the model of the trip is there before and after, with what was done to it and the way on
  await expect(page.getByText('Version 1 as it left for the sculpting tool.')).toBeVisible()
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.05)
  expect(await fits(page)).toBe(true)
  await page.getByRole('button', { name: 'Sculpt and bring it back' }).click()
  await expect(page.getByRole('list', { name: 'What Kelbo found' })).toBeVisible()
  await expect(page.getByText('as it came back', { exact: true }).first()).toBeVisible()
  await page.getByRole('link', { name: 'See what came back' }).click()
  await expect(page.getByRole('heading', { name: 'Trip 1: what came back' })).toBeVisible()
  await expect(page.getByLabel(/^rope, points: .* points moved/)).toBeVisible()
  expect(complaints).toEqual([])
})

test('practice takes the trip that one comes from, also where the list of trips is late', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Mooring bollard', exact: true }).click()
  await page.getByRole('link', { name: /Send the master/ }).click()
  await page.getByRole('button', { name: /^Send/ }).click()
  await expect(page.getByText('Out at the sculpting tool')).toBeVisible()
  let answer = (): void => {}
  const late = new Promise<void>((resolve) => (answer = resolve))
  await page.route('**/api/assets', async (route) => {
    await late
    await route.continue()
  })
  await page.getByRole('link', { name: 'stand-in' }).click()
  const sculpt = page.getByRole('button', { name: 'Sculpt and bring it back' })
  await expect(sculpt).toBeDisabled()
  answer()
  await expect(page.getByRole('radio', { name: /^Mooring bollard, trip/ })).toBeChecked()
  await sculpt.click()
  await page.getByRole('link', { name: 'See what came back' }).click()
  await expect(page.getByRole('heading', { name: 'Mooring bollard' })).toBeVisible()
  await expect(page.getByText('mooring_bollard_v', { exact: false }).first()).toBeVisible()
})

test('an asset that is not there is told in the middle of the page', async ({ page }) => {
  await page.goto('/asset/00000000-0000-4000-8000-000000000000')
  await expect(page.getByRole('alert')).toContainText('This asset is not here (any more).')
  await page.getByRole('link', { name: 'To the assets' }).click()
  await expect(page.getByRole('heading', { name: 'Assets' })).toBeVisible()
})

test.describe('bad files get a calm sentence', () => {
  const cases: [string, string | Uint8Array, RegExp][] = [
    ['empty.obj', '', /The file is empty/],
    [
      'noise.obj',
      Uint8Array.from({ length: 5000 }, (_v, at) => (at * 7919) % 256),
      /This does not look like a model/,
    ],
    ['notes.txt', 'hello', /Kelbo can’t read “notes.txt”/],
    ['broken.zip', Uint8Array.of(0x50, 0x4b, 3, 4, 1, 2, 3), /The ZIP can’t be opened/],
  ]
  test('and nothing of them is kept', async ({ page }) => {
    await page.goto('/')
    await expect(page.getByText('Courier heron')).toBeVisible()
    const before = await page.locator('tbody tr').count()
    const alert = page.getByRole('alert')
    for (const [name, content, sentence] of cases) {
      await page.locator('[data-test=chooser]').setInputFiles(save(name, content))
      await page.getByRole('button', { name: 'Bring it in' }).click()
      await expect(alert, name).toContainText(sentence)
      await expect(alert).toContainText('Nothing was saved')
      await page.getByRole('button', { name: 'Leave it' }).click()
      await expect(alert).toHaveCount(0)
    }
    await page.reload()
    await expect(page.locator('tbody tr')).toHaveCount(before)
  })
  test('what was left out is listed on the bench with its line', async ({ page }) => {
    await page.goto('/')
    const text = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nmtllib lost.mtl\nusemtl brick\nf 1 2 3\nf 1 2 99\n'
    await page.locator('[data-test=chooser]').setInputFiles(save('half.obj', text))
    await page.getByRole('button', { name: 'Bring it in' }).click()
    await expect(
      page.getByText('A polygon asks for vertex 99, but there are only 3. The polygon was left out.'),
    ).toBeVisible()
    await expect(page.getByText('half.obj, line 7')).toBeVisible()
    await expect(page.getByText('The material file “lost.mtl” is not in the package')).toBeVisible()
  })
})

test('keyboard: shortcuts, the parts list, the ledger', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Courier heron' }).click()
  await page.getByRole('row', { name: /wing_left/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.locator('tr.selected')).toContainText('wing_left')
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('tr.selected')).toContainText('wing_right')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Shortcuts' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: /Trip 1, return/ }).click()
  await page.getByLabel(/^body, topology:/).focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.sentence')).toContainText('body, points:')
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.sentence')).toContainText('wing_left, points:')
})
