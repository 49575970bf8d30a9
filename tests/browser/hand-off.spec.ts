/** The hand-off folder as an artist meets it: a file put there is back on its route, and a doubtful one asks. */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { bringIn, watchConsole } from './helpers.ts'

test('sent, saved into the folder by a tool, and back on the route without a hand on the page', async ({
  page,
}) => {
  const root = process.env.KELBO_HANDOFF
  expect(root, 'the server has to be started with KELBO_HANDOFF').toBeTruthy()
  const complaints = watchConsole(page)
  // files of an earlier run stay in the folder
  const name = `Landing crate ${Date.now() % 1e6}`
  const assetId = await bringIn(page, name)
  await page.getByRole('link', { name: /Send the master/ }).click()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Send and download' }).click()
  await downloading
  await expect(page.getByText('It also lies in the hand-off folder')).toBeVisible()
  const tool = join(root!, 'Sculpting_tool')
  const own = `${name.replaceAll(' ', '_')}_trip_001`
  await expect.poll(() => readdirSync(join(tool, 'out'))).toContain(own)
  const model = readdirSync(join(tool, 'out', own)).find((file) => file.endsWith('.obj'))!
  mkdirSync(join(tool, 'back', own))
  const bytes = readFileSync(join(tool, 'out', own, model))
  writeFileSync(join(tool, 'back', own, model), bytes)
  // nobody touches the page: the route shows that it is back
  await expect(page.getByRole('link', { name: /Trip 1.*back/i })).toBeVisible()
  // the same once more would take its place: that is asked
  writeFileSync(join(tool, 'back', `${own}_again.obj`), bytes)
  await expect(page.getByRole('link', { name: /Assets \(\d+ landed\)/ })).toBeVisible()
  await page.getByRole('link', { name: /Assets/ }).click()
  const asking = (place: string) => page.getByRole('listitem').filter({ hasText: place })
  const list = asking(`${own}_again.obj`)
  await expect(list).toContainText('something has come back from its trip already')
  await list.getByText('Which trip is it of?').click()
  await page.getByRole('option', { name: `${name}, trip 1 to Sculpting tool (something is back)` }).click()
  await list.getByRole('button', { name: 'Take it back' }).click()
  await expect(page).toHaveURL(new RegExp(`${assetId}/trip/.*/return`))
  await expect(page.getByText(`${own}_again.obj`).first()).toBeVisible()
  await page.getByRole('link', { name: /^Assets/ }).click()
  await expect(list).toHaveCount(0)
  // what fits nothing can be put away
  const strange = `stranger_${own}.obj`
  writeFileSync(join(root!, 'back', strange), 'o rock\nv 0 0 0\nv 9 0 1\nv 2 7 0\nf 1 2 3\n')
  const stranger = asking(strange)
  await expect(stranger).toContainText('no trip that is out has a model like it')
  await stranger.getByRole('button', { name: 'Set aside' }).click()
  await expect(stranger).toHaveCount(0)
  expect(complaints).toEqual([])
  // other tests count what is out and what is back
  expect((await page.request.delete(`/api/assets/${assetId}`)).ok()).toBe(true)
})
