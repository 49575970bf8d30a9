/** Two thousand parts: drawn, listed, scrolled through, found; panes keep the widths that they were given. */
import { expect, test } from '@playwright/test'
import { drawnShare, fits, watchConsole } from './helpers.ts'

/** Tents in rows, each a part. */
function tents(count: number): string {
  const lines: string[] = []
  for (let part = 0; part < count; part++) {
    const [x, z] = [(part % 50) * 3, Math.floor(part / 50) * 3]
    lines.push(`o tent_${part}`)
    lines.push(`v ${x} 0 ${z}`, `v ${x + 2} 0 ${z}`, `v ${x + 2} 0 ${z + 2}`, `v ${x} 0 ${z + 2}`)
    lines.push(`v ${x + 1} 2 ${z + 1}`)
    for (const [a, b] of [
      [1, 2],
      [2, 3],
      [3, 4],
      [4, 1],
    ] as const)
      // prettier-ignore
      lines.push(`f ${5 * part + b} ${5 * part + a} ${5 * part + 5}`)
  }
  return `${lines.join('\n')}\n`
}

test('two thousand parts are drawn and listed; only what is seen is there', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await page.locator('[data-test=chooser]').setInputFiles({
    name: 'camp.obj',
    mimeType: 'text/plain',
    buffer: Buffer.from(tents(2000)),
  })
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.05)
  await expect(page.getByRole('columnheader', { name: '2000 parts' })).toBeVisible()
  const rows = page.locator('tr[data-row]')
  expect(await rows.count()).toBeLessThan(100)
  await expect(rows.first()).toContainText('tent_0')
  // a click in the view finds the part in the list, wherever it stands
  const solid = page.locator('canvas[data-view=solid]')
  const box = (await solid.boundingBox())!
  await solid.click({ position: { x: box.width / 2, y: box.height / 2 } })
  const selected = page.locator('tr.selected')
  await expect(selected).toHaveCount(1)
  await expect(selected).toBeInViewport()
  // by keyboard, past the rows that are there
  await page.locator('.scroller').evaluate((element) => element.scrollTo(0, 1e6))
  await expect(rows.last()).toContainText('tent_1999')
  await rows.last().focus()
  for (let step = 0; step < 40; step++) await page.keyboard.press('ArrowUp')
  await expect(selected).toContainText('tent_1959')
  await expect(selected).toBeFocused()
  // faster than rows are drawn: no press is lost
  await rows.last().evaluate((_row) => {
    for (let step = 0; step < 100; step++)
      document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }))
  })
  await expect(selected).toContainText('tent_1859')
  await expect(selected).toBeFocused()
  // only this part, and all again
  await page.keyboard.press('o')
  await expect(page.getByLabel('Alone')).toBeChecked()
  await page.keyboard.press('o')
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})

test('panes keep the widths that they were given', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Courier heron' }).click()
  const splitter = page.locator('.splitpanes__splitter').first()
  const before = (await splitter.boundingBox())!
  await page.mouse.move(before.x, before.y + 200)
  await page.mouse.down()
  await page.mouse.move(before.x + 90, before.y + 200, { steps: 5 })
  await page.mouse.up()
  await expect.poll(async () => (await splitter.boundingBox())!.x).toBeGreaterThan(before.x + 60)
  // and by keyboard
  const byMouse = (await splitter.boundingBox())!.x
  await splitter.focus()
  for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowLeft')
  await expect.poll(async () => byMouse - (await splitter.boundingBox())!.x).toBeGreaterThan(50)
  await expect.poll(async () => byMouse - (await splitter.boundingBox())!.x).toBeLessThan(110)
  const dragged = (await splitter.boundingBox())!.x
  await page.reload()
  await expect.poll(async () => Math.abs((await splitter.boundingBox())!.x - dragged)).toBeLessThan(3)
})
