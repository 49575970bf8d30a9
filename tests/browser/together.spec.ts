/** First impressions and two people at once: the list of assets, shortcuts, a master that has moved on, whole assets. */
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import type { AssetDocument } from '../../src/contract/api.ts'
import { bringIn, drop, fits, fresh, watchConsole } from './helpers.ts'

const assetOf = async (page: Page, id: string): Promise<AssetDocument> =>
  (await page.request.get(`/api/assets/${id}`)).json() as Promise<AssetDocument>

async function prepareElsewhere(page: Page, asset: AssetDocument): Promise<void> {
  const before = asset.versions.length
  await page.request.post(`/api/assets/${asset.id}/prepare`, {
    data: { versionId: asset.versions.at(-1)!.id, recipe: { name: 'Theirs', steps: [{ step: 'to-floor', params: {} }, { step: 'triangulate', params: {} }] } }, // prettier-ignore
  })
  await expect.poll(async () => (await assetOf(page, asset.id)).versions.length).toBe(before + 1)
}

test('shortcuts work on a fresh page, before anything was clicked', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Assets' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Shortcuts' })).toBeVisible()
})

test('every asset has a picture; a list of many is searched, sorted and narrowed by where they are', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const crate = fresh('Crate')
  for (let at = 1; at <= 8; at++) await bringIn(page, `${crate} ${at}`)
  await page.goto('/')
  const pictures = page.locator('.frame img')
  await expect.poll(() => pictures.count()).toBeGreaterThan(8)
  // an image that is not there yet has no width
  await expect
    .poll(() =>
      pictures.evaluateAll((images) =>
        Math.min(...images.map((image) => (image as HTMLImageElement).naturalWidth)),
      ),
    )
    .toBeGreaterThan(100)
  await page.getByLabel('Find an asset').fill(`${crate.toLowerCase()} 3`)
  await expect(page.getByRole('link', { name: new RegExp(crate) })).toHaveCount(1)
  await page.getByLabel('Find an asset').fill('')
  await page.getByRole('radiogroup', { name: 'Where it is' }).getByText('Out').click()
  await expect(page.getByRole('link', { name: `${crate} 3` })).toHaveCount(0)
  await page.getByRole('radiogroup', { name: 'Where it is' }).getByText('All').click()
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})

test('a master that has moved on is told, and the artist chooses what becomes of both', async ({ page }) => {
  const id = await bringIn(page, 'Shared crate')
  await page.getByRole('tab', { name: /Steps/ }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Subdivide', exact: true }).click()
  await page.getByRole('button', { name: 'Apply' }).click()
  await prepareElsewhere(page, await assetOf(page, id))
  await page
    .getByRole('button', { name: /Keep as version|Keep/ })
    .first()
    .click()
  const dialog = page.getByRole('dialog', { name: 'The master has moved on' })
  await expect(dialog).toContainText('Version 2 was made meanwhile')
  await expect(dialog.getByRole('button', { name: 'Look at version 2, without these steps' })).toBeVisible()
  // put away, the question leaves everything as it was
  await page.keyboard.press('Escape')
  await expect(page.getByRole('list', { name: 'Steps of the draft' }).getByRole('listitem')).toHaveCount(1)
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await dialog.getByRole('button', { name: 'Do the steps on version 2' }).click()
  await expect(page.getByText('Version 3 is the new master.')).toBeVisible()
  const { versions } = await assetOf(page, id)
  expect(versions[2]!.note).toContain('on version 2')
  // twelve triangles of theirs, each cut in three by ours
  expect(versions[2]!.polygons).toBe(36)
})

test('a newer master that comes to light while the artist works leaves their steps before them', async ({
  page,
}) => {
  const id = await bringIn(page, 'Marked crate')
  await page.getByRole('tab', { name: /Steps/ }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Subdivide', exact: true }).click()
  await page.getByRole('button', { name: 'Apply' }).click()
  const steps = page.getByRole('list', { name: 'Steps of the draft' }).getByRole('listitem')
  await expect(steps).toHaveCount(1)
  await prepareElsewhere(page, await assetOf(page, id))
  // marking a part asks for the asset anew
  await page.getByRole('row', { name: /crate/ }).click()
  await page.getByText('stays home').click()
  await expect(page.getByRole('link', { name: 'Version 2, the master, on the bench' })).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Version 1, with 1 step' })).toBeVisible()
  await page.getByRole('tab', { name: 'Steps (1)' }).click()
  await expect(steps).toHaveCount(1)
})

test('a long life fits the route, and its whole history is a click away', async ({ page }) => {
  const id = await bringIn(page, 'Old crate')
  for (let at = 0; at < 14; at++) await prepareElsewhere(page, await assetOf(page, id))
  await page.goto(`/asset/${id}`)
  await expect(page.getByRole('link', { name: 'Send the master on a new trip' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Version 15, the master, on the bench' })).toBeVisible()
  await expect(page.getByText(/\d+ earlier/)).toBeVisible()
  expect(await fits(page)).toBe(true)
  const route = (await page.getByRole('navigation', { name: 'The asset’s route' }).boundingBox())!
  expect(route.height).toBeLessThanOrEqual(72)
  await page.getByRole('button', { name: 'The whole history' }).click()
  await expect(page.getByRole('list', { name: 'The whole history' }).getByRole('link')).toHaveCount(15)
})

test('an asset is exported with its history and comes in again by a drop', async ({ page }) => {
  const name = fresh('Travelling crate')
  const id = await bringIn(page, name)
  await prepareElsewhere(page, await assetOf(page, id))
  await page.goto('/')
  const download = page.waitForEvent('download')
  await page
    .getByRole('button', { name: `More for ${name}` })
    .first()
    .click()
  await page.getByRole('menuitem', { name: 'Export with its history' }).click()
  const file = await download
  expect(file.suggestedFilename()).toBe(`${name.toLowerCase().replaceAll(' ', '_')}.kelbo-asset`)
  await page.setInputFiles('[data-test=chooser]', {
    name: file.suggestedFilename(),
    mimeType: 'application/octet-stream',
    buffer: readFileSync(await file.path()),
  })
  await expect(page.getByText(`“${name}” is here with its whole history.`)).toBeVisible()
  const copy = /asset\/([0-9a-f-]{36})/.exec(page.url())![1]!
  expect(copy).not.toBe(id)
  expect((await assetOf(page, copy)).versions).toHaveLength(2)
})

test('who has gone elsewhere while a version was made is not fetched back', async ({ page }) => {
  const complaints = watchConsole(page)
  await bringIn(page, fresh('Waiting crate'))
  await page.getByRole('tab', { name: 'Steps' }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Cut into triangles', exact: true }).click()
  await page.getByRole('button', { name: 'Apply' }).click()
  // the answer to what becomes of the job waits until the artist has left
  let letGo = (): void => undefined
  const gone = new Promise<void>((resolve) => (letGo = resolve))
  await page.route(/\/api\/assets\/[^/]+\/prepare/, async (route) => {
    await gone
    await route.continue()
  })
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await page.getByRole('link', { name: 'Destinations' }).click()
  await expect(page).toHaveURL(/\/destinations/)
  letGo()
  await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  await expect(page).toHaveURL(/\/destinations/)
  expect(complaints).toEqual([])
})

test('a trip from which nothing comes home is closed, and opened again', async ({ page }) => {
  const complaints = watchConsole(page)
  const id = await bringIn(page, fresh('Lent crate'))
  await page.getByRole('link', { name: 'Send the master on a new trip' }).click()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: /Send and download|Send it as it is/ }).click()
  const sent = readFileSync(await (await downloading).path())
  const route = page.getByRole('navigation', { name: 'The asset’s route' })
  await expect(route).toContainText('Out at the')
  await page.getByRole('button', { name: 'Close the trip' }).click()
  await expect(page.getByText('Nothing came back from this trip, and nothing is waited for.')).toBeVisible()
  await expect(route).toContainText('closed')
  await expect(route.getByText('Here', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Open it again' }).click()
  await expect(route).toContainText('Out at the')

  // what came back as it left: there is nothing to take, and it is no longer waited for
  await drop(page, [{ name: 'crate.zip', bytes: sent }])
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.locator('[data-test=story]')).toBeVisible()
  await expect(route).toContainText('waiting to be looked at')
  await expect(page.getByText('Nothing of the return is chosen: version 1 stays as it is.')).toBeVisible()
  await page.getByRole('button', { name: 'Close the trip' }).click()
  await expect(route.getByText('Here', { exact: true })).toBeVisible()
  expect((await assetOf(page, id)).versions).toHaveLength(1)
  await expect(page.getByRole('button', { name: 'Open it again' })).toBeVisible()
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})
