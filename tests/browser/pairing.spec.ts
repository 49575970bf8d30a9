/** A part that came back as another: its name is drawn onto the one that it is, or both are chosen. */
import { expect, test } from '@playwright/test'
import { drop, watchConsole } from './helpers.ts'

const box = (name: string, at: number, size: number, from: number): string =>
  `o ${name}\n${[[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]]
    .map(([x, y, z]) => `v ${at + x! * size} ${y! * size} ${z! * size}`)
    .join('\n')}\n${['1 4 3 2', '5 6 7 8', '1 2 6 5', '2 3 7 6', '3 4 8 7', '4 1 5 8']
    .map((face) => `f ${face.split(' ').map((point) => Number(point) + from).join(' ')}`)
    .join('\n')}\n` // prettier-ignore
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)
const SPIRE =
  'o spire\nv 40 0 0\nv 44 0 0\nv 42 9 1\nv 42 1 5\nv 42 -3 2\nf 9 10 11\nf 10 12 11\nf 12 9 11\nf 9 13 10\n'

test('a name drawn onto another pairs the two, and no file is taken to be dropped', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/')
  await drop(page, [{ name: 'pair.obj', bytes: bytes(box('keel', 0, 1, 0) + box('mast', 5, 2, 8)) }])
  await page.getByLabel('Name of the asset').fill('Pairing')
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await page.getByRole('link', { name: /Send the master/ }).click()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Send and download' }).click()
  await downloading
  await page.getByRole('link', { name: /Trip 1, return/ }).click()
  await expect(page.getByRole('heading', { name: /^Nothing has come back/ })).toBeVisible()
  await page.setInputFiles('[data-test=return-chooser]', {
    name: 'back.obj',
    mimeType: 'text/plain',
    buffer: Buffer.from(box('keel', 0, 1, 0) + SPIRE),
  })
  await page.getByRole('button', { name: 'Take it back' }).click()
  const name = (part: string) => page.getByRole('button', { name: part, exact: true })
  await expect(page.locator('[data-test=pair-parts]')).toBeVisible()
  await name('spire').dragTo(name('mast'))
  await expect(name('spire')).toHaveCount(0)
  await expect(page.locator('[data-test=story]')).not.toContainText('did not come back')
  await expect(page.getByText('Drop it:')).toHaveCount(0)
  expect(complaints).toEqual([])
  // other tests count what is out and what is back
  const [, assetId] = /asset\/([0-9a-f-]{36})/.exec(page.url())!
  expect((await page.request.delete(`/api/assets/${assetId}`)).ok()).toBe(true)
})
