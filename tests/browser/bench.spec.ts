/** The Bench in a real browser: a faulty prop is made ready, and what was done is a recipe. */
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { buildMooringBollard } from '../../src/core/practice/demo/mooring-bollard.ts'
import { runChecks } from '../../src/core/checks/run-checks.ts'
import { drawnShare, fits, press, watchConsole } from './helpers.ts'

async function openBench(page: Page, name: string): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name, exact: true }).click()
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  await expect(page.getByRole('list', { name: 'Findings' })).toBeVisible()
}
const finding = (page: Page, title: string) => page.locator('.findings .list > li', { hasText: title })
const count = (page: Page, word: RegExp) =>
  page.getByRole('group', { name: 'Show' }).getByRole('button', { name: word })
const mend = (page: Page, title: string) =>
  finding(page, title).getByRole('button', { name: /^Mend/ }).first().click()

test('the bollard: from faults to ready, with fixes, and the steps saved as a recipe', async ({ page }) => {
  const complaints = watchConsole(page)
  await openBench(page, 'Mooring bollard')
  const scene = buildMooringBollard()
  const known = runChecks(scene, { settings: { wantQuads: true } })
  const faults = known.filter((entry) => entry.severity === 'error').length
  await expect(count(page, /faults/)).toContainText(String(faults))
  expect(await fits(page)).toBe(true)

  // a finding shows itself: the part is chosen, places are stepped through, the views come close
  await finding(page, 'Turned polygons').getByText('5 polygons are turned').click()
  await expect(page.locator('tr.selected')).toContainText('column')
  await expect(page.getByText('all 5 places')).toBeVisible()
  await page.getByRole('button', { name: 'The next place' }).click()
  await page.getByRole('button', { name: 'The next place' }).click()
  await expect(page.getByText('place 2 of 5')).toBeVisible()
  await expect(page.getByText('A polygon seen from behind is a hole')).toBeVisible()
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.3)

  // filters
  await page.getByLabel('Find in the findings').fill('overlap')
  await expect(page.locator('.findings .list > li')).toHaveCount(1)
  await page.getByLabel('Find in the findings').fill('')

  // one by one, in the order in which they stand
  await mend(page, 'Doubled polygons')
  await expect(finding(page, 'Doubled polygons')).toHaveCount(0)
  await expect(page.getByText('Remove doubled polygons: 3 polygons')).toBeVisible()
  // taken back, and done again
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(finding(page, 'Doubled polygons')).toHaveCount(1)
  await mend(page, 'Doubled polygons')
  await expect(finding(page, 'Non-manifold')).toHaveCount(0)
  for (const title of [
    'Turned polygons',
    'Unwelded points',
    'Loose points',
    'Names that tools refuse',
    'Polygons without a material',
  ]) {
    await expect(finding(page, title).first()).toBeVisible()
    await mend(page, title)
    await expect(finding(page, title)).toHaveCount(0)
  }
  await expect(count(page, /faults/)).toContainText('0')
  await expect(count(page, /doubts/)).toContainText('0')
  await expect(page.getByRole('row', { name: /bolt_Sud/ })).toBeVisible()

  // a note as well: back to quads, on to the floor; with the step form, seen before it is applied
  await page.getByRole('tab', { name: 'Steps (6)' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  // by its name and one key
  await page.keyboard.type('Put on the')
  await expect(page.getByRole('option', { name: 'Put on the floor' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Would change 6 parts.')).toBeVisible()
  await page.getByRole('button', { name: 'Apply' }).click()
  await expect(page.getByRole('list', { name: 'Steps of the draft' }).getByRole('listitem')).toHaveCount(7)
  // what can't be done is said before it is tried
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Give polygons a material' }).click()
  await page.getByLabel('Material', { exact: true }).fill('gold')
  await expect(page.getByText('There is no material “gold” in this model.')).toBeVisible()
  await page.getByRole('button', { name: 'Leave it' }).click()

  // the draft outlives the page
  await page.reload()
  await expect(page.getByText('Version 1, the master, with 7 steps')).toBeVisible()
  await page.getByRole('tab', { name: 'Steps (7)' }).click()

  // saved, and kept as a version
  await page.getByRole('button', { name: 'Save as recipe' }).click()
  await page.getByLabel('Name of the recipe').fill('Found on a disk')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('list', { name: 'Recipes' })).toContainText('Found on a disk')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByRole('heading', { name: 'Version 2, the master' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Version 1, on the bench' })).toBeVisible()
  await page.getByRole('tab', { name: 'Findings' }).click()
  await expect(page.getByRole('list', { name: 'Findings' })).toBeVisible()
  await expect(count(page, /faults/)).toContainText('0')

  // the recipe does the same on the first version, in one go
  await page.getByRole('link', { name: 'Version 1, on the bench' }).click()
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  await expect(count(page, /faults/)).toContainText(String(faults))
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('button', { name: 'Use' }).click()
  await page.getByRole('tab', { name: 'Findings' }).click()
  await expect(count(page, /faults/)).toContainText('0')
  expect(complaints).toEqual([])
})

test('choosing by island, measuring, and marking a part', async ({ page }) => {
  const complaints = watchConsole(page)
  await openBench(page, 'Storm lantern')
  await press(page.getByRole('combobox', { name: 'What a click chooses' }))
  await page.getByRole('option', { name: 'UV islands' }).click()
  const solid = page.locator('canvas[data-view=solid]')
  const box = (await solid.boundingBox())!
  await solid.click({ position: { x: box.width / 2, y: box.height * 0.72 } })
  await expect(page.getByText(/^[\d,]+ chosen$/)).toBeVisible()
  await expect(page.locator('tr.selected')).toHaveCount(1)
  // chosen polygons are what a step can be limited to
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Cut into triangles' }).click()
  await page.getByText('chosen polygons').click()
  const chosen = (await page.getByText(/^[\d,]+ chosen$/).textContent())!.replace(' chosen', '')
  await expect(page.getByText(`Would change ${chosen} polygons.`)).toBeVisible()

  await page.getByText('Ruler').click()
  await solid.click({ position: { x: box.width / 2, y: box.height * 0.72 } })
  await expect(page.getByText('click the second point')).toBeVisible()
  await solid.click({ position: { x: box.width / 2 + 40, y: box.height * 0.72 } })
  await expect(page.locator('.ruler')).toHaveText(/^\d+(\.\d+)? (cm|mm)$/)
  // what was measured is known in truth: the model is scaled by it, as a step that can be taken back
  await page.getByRole('button', { name: 'Known size' }).click()
  await page
    .getByRole('textbox', { name: /in centimetres/ })
    .or(page.locator('.el-message-box input'))
    .first()
    .fill('12,5')
  await page.getByRole('button', { name: 'Scale the model' }).click()
  await expect(page.getByRole('tab', { name: 'Steps (1)' })).toBeVisible()
  await expect(page.getByText('Scale to a known size').first()).toBeVisible()
  // the ruler goes when the step is done
  await expect(page.locator('.ruler')).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('tab', { name: 'Steps', exact: true })).toBeVisible()

  await press(page.getByRole('combobox', { name: 'What a click chooses' }))
  await page.getByRole('option', { name: 'parts', exact: true }).click()
  await page.getByRole('row', { name: /wire_guard/ }).click()
  await page.getByText('stays home').click()
  await page.getByRole('radio', { name: 'moss' }).click()
  await expect(page.getByRole('row', { name: /wire_guard/ })).toContainText('stays home')
  // it is left out of what is sent, from the start
  await page.getByRole('link', { name: /Send the master/ }).click()
  await expect(page.getByLabel(/^tank, creases: Carried/)).toBeVisible()
  await expect(page.getByLabel(/^wire_guard, creases:/)).toHaveCount(0)
  expect(complaints).toEqual([])
})

test('the bollard unwrapped and packed, with seams shown before, clean checks, and its layout saved', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await openBench(page, 'Mooring bollard')
  // 1: the steps, 2: which, 3: apply; seams are shown before
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Unwrap', exact: true }).click()
  await expect(page.getByText(/Would change 1,9\d\d polygons\./)).toBeVisible()
  await expect(page.getByText(/islands use \d+ % of the tile/)).toBeVisible()
  await page.getByRole('button', { name: 'Apply' }).click()
  await expect(page.getByRole('list', { name: 'Steps of the draft' }).getByRole('listitem')).toHaveCount(1)
  // what it is for is clean now
  await page.getByRole('tab', { name: 'Findings' }).click()
  await expect(page.getByRole('list', { name: 'Findings' })).toBeVisible()
  for (const title of ['Overlapping UVs', 'Stretched UVs', 'Uneven texel density', 'UVs outside the tile'])
    await expect(finding(page, title)).toHaveCount(0)
  // the layout leaves as a drawing
  await page.getByRole('button', { name: 'Save UVs' }).click()
  const [svg] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'as SVG' }).click(),
  ])
  expect(svg.suggestedFilename()).toBe('Mooring bollard_uv.svg')
  expect(readFileSync(await svg.path(), 'utf8')).toContain('<title>column</title>')
  await page.getByRole('button', { name: 'Save UVs' }).click()
  const [png] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'as PNG, 1,024' }).click(),
  ])
  expect([...readFileSync(await png.path()).subarray(1, 4)]).toEqual([80, 78, 71])
  // the draft is left as it was found
  await page.getByRole('tab', { name: /^Steps/ }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('tab', { name: 'Steps', exact: true })).toBeVisible()
  expect(complaints).toEqual([])
})
