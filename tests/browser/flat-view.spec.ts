/** The flat view at work: islands placed by hand and by figures, seams chosen by hand, colours, before and after. */
import { expect, test, type Page } from '@playwright/test'
import { bringInPatch, drawnShare, fits, press, watchConsole } from './helpers.ts'

async function openBench(page: Page, name: string): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name, exact: true }).click()
  await ready(page)
}
async function ready(page: Page): Promise<void> {
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  await expect(page.getByRole('list', { name: 'Findings' })).toBeVisible()
}
async function choose(page: Page, kind: string): Promise<void> {
  await press(page.getByRole('combobox', { name: 'What a click chooses' }))
  await page.getByRole('option', { name: kind, exact: true }).click()
}
/** Where a UV of the first tile lies on the canvas, while the tile is framed. */
async function placeOf(page: Page, u: number, v: number): Promise<{ x: number; y: number }> {
  const box = (await page.locator('canvas[data-view=flat]').boundingBox())!
  const side = Math.min(box.width, box.height) / 1.12
  return { x: box.width / 2 + (u - 0.5) * side, y: box.height / 2 - (v - 0.5) * side }
}
async function clickFlat(page: Page, u: number, v: number, modifiers: 'Shift'[] = []): Promise<void> {
  await page.locator('canvas[data-view=flat]').click({ position: await placeOf(page, u, v), modifiers })
}
/** A drag from one UV to another, in several moves as a hand makes it. */
async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  const box = (await page.locator('canvas[data-view=flat]').boundingBox())!
  const [a, b] = [await placeOf(page, ...from), await placeOf(page, ...to)]
  await page.mouse.move(box.x + a.x, box.y + a.y)
  await page.mouse.down()
  await page.mouse.move(box.x + (a.x + b.x) / 2, box.y + (a.y + b.y) / 2, { steps: 4 })
  await page.mouse.move(box.x + b.x, box.y + b.y, { steps: 4 })
  await page.mouse.up()
}
const steps = (page: Page, count: number) => page.getByRole('tab', { name: `Steps (${count})` })

test('an island is moved by hand, by a press and by figures; each is a step that can be taken back', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await bringInPatch(page, 'Patch to place')
  await ready(page)
  await choose(page, 'UV islands')
  await page.getByRole('button', { name: 'Larger' }).click()
  await clickFlat(page, 0.3, 0.3)
  const bar = page.getByRole('toolbar', { name: 'Place what is chosen' })
  await expect(bar).toContainText('16 polygons')
  expect(await fits(page)).toBe(true)

  // by hand: an eighth of the tile to the right, and it snaps to nothing on the way
  await drag(page, [0.3, 0.3], [0.42, 0.3])
  await expect(steps(page, 1)).toBeVisible()
  await steps(page, 1).click()
  await expect(page.getByText('Move the UVs').first()).toBeVisible()

  // what was chosen stays chosen, so that work goes on
  await expect(bar).toContainText('16 polygons')
  await bar.getByRole('button', { name: 'Turn' }).click()
  await expect(steps(page, 2)).toBeVisible()
  await bar.getByRole('button', { name: 'By figures' }).click()
  await page
    .getByRole('spinbutton', { name: 'To the right' })
    .or(page.getByLabel('To the right'))
    .first()
    .fill('1')
  await expect(page.getByText('Would change 64 corners.')).toBeVisible()
  await page.getByRole('button', { name: 'Apply' }).click()
  await expect(steps(page, 3)).toBeVisible()

  // what is placed turned over is said before it is done
  await page.keyboard.press('Escape')
  for (const left of [2, 1]) {
    await page.locator('canvas[data-view=flat]').focus()
    await page.keyboard.press('Control+z')
    await expect(steps(page, left)).toBeVisible()
  }
  // as it was before the steps, for as long as the key is held
  await page.keyboard.down('b')
  await expect(page.getByText('as it was before the steps')).toBeVisible()
  await page.keyboard.up('b')
  await expect(page.getByText('as it was before the steps')).toHaveCount(0)
  expect(complaints).toEqual([])
})

test('seams by hand: a loop, a shortest way, and the island falls in two', async ({ page }) => {
  const complaints = watchConsole(page)
  await bringInPatch(page, 'Patch to cut')
  await ready(page)
  await choose(page, 'edge loops')
  await page.getByRole('button', { name: 'Larger' }).click()
  // the side between the second and the third column
  await clickFlat(page, 0.495, 0.3)
  const bar = page.getByRole('toolbar', { name: 'Place what is chosen' })
  await expect(bar).toContainText('4 edges')
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Cut the UVs' }).click()
  await page.getByText('chosen edges', { exact: true }).last().click()
  await expect(page.getByText('1 island more.')).toBeVisible()
  await page.getByRole('button', { name: 'Apply' }).click()
  await expect(steps(page, 1)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('tab', { name: 'Steps', exact: true })).toBeVisible()

  // the views came close to the seam
  await page.getByRole('button', { name: 'View part' }).click()
  await choose(page, 'shortest way')
  await clickFlat(page, 0.1, 0.1)
  await clickFlat(page, 0.88, 0.12)
  await expect(bar).toContainText('4 edges')
  await clickFlat(page, 0.89, 0.9, ['Shift'])
  await expect(bar).toContainText('8 edges')
  expect(complaints).toEqual([])
})

test('a corner is drawn while near ones give way', async ({ page }) => {
  const complaints = watchConsole(page)
  await bringInPatch(page, 'Patch to draw')
  await ready(page)
  await choose(page, 'corners of UVs')
  await page.getByRole('button', { name: 'Larger' }).click()
  await clickFlat(page, 0.51, 0.51)
  const bar = page.getByRole('toolbar', { name: 'Place what is chosen' })
  // four polygons meet there
  await expect(bar).toContainText('4 corners')
  await press(page.getByRole('combobox', { name: 'What gives way while corners are drawn' }))
  await page.getByRole('option', { name: 'all of the island' }).click()
  await drag(page, [0.5, 0.5], [0.58, 0.55])
  await expect(steps(page, 1)).toBeVisible()
  // more than the corner itself: what lies around moved as well
  await steps(page, 1).click()
  await expect(page.getByText(/Move the UVs/).first()).toBeVisible()
  await expect(page.getByText(/^(2[0-9]|3[0-9]|[4-6][0-9]) corners/).first()).toBeVisible()
  expect(complaints).toEqual([])
})

test('colours say how even the UVs are, the checker lies under them', async ({ page }) => {
  const complaints = watchConsole(page)
  await openBench(page, 'Storm lantern')
  // the tile is wholly under the checker, where lines alone cover little
  const before = await drawnShare(page, 'flat')
  await press(page.getByRole('combobox', { name: 'What the colours show' }))
  await page.getByRole('option', { name: 'texel density' }).click()
  await expect(
    page.getByText(/% of the surface within 1.5 times of even; even is .* pixels a centimetre/),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Chart' }).click()
  await expect(page.getByRole('img', { name: /Distribution: texel density/ })).toBeVisible()
  await expect.poll(() => drawnShare(page, 'flat')).toBeGreaterThan(before)
  await press(page.getByRole('combobox', { name: 'What the colours show' }))
  await page.getByRole('option', { name: 'stretch' }).click()
  await expect(page.getByText(/^[\d.]+ % of the surface within 1.5 times of even$/)).toBeVisible()
  await press(page.getByRole('combobox', { name: 'What the colours show' }))
  await page.getByRole('option', { name: 'none' }).click()
  await page.getByText('Checker').click()
  await expect.poll(() => drawnShare(page, 'flat')).toBeGreaterThan(before)
  expect(complaints).toEqual([])
})
