/** By glTF to a sculpting tablet and back: one file leaves, and what comes home stands ready in six actions. */
import { expect, test } from '@playwright/test'
import { deliver } from '../../src/core/trips/deliver.ts'
import { destinationOf } from '../../src/core/trips/destinations/registry.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { runStandIn, standInOf } from '../../src/core/practice/standins/registry.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { drop, fits, watchConsole } from './helpers.ts'

test('the heron as a tablet hands it over: under the floor, mirrored halves, lights along; ready in six actions', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const sent = deliver(completeIds(buildCourierHeron()), {
    destination: destinationOf('tablet')!,
    stem: 'tablet_heron',
    codec: null,
    options: {},
    withRecipe: true,
  })
  const { files } = runStandIn(standInOf('tablet')!, sent.files, {
    sinks: true,
    mirrors: true,
    lights: true,
  })
  await page.goto('/')
  // one and two: dropped and brought in
  await drop(page, files)
  await page.getByLabel('Name of the asset').fill('Tablet heron')
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await page.locator('[data-loaded~=master]').waitFor({ state: 'attached' })
  const findings = page.getByRole('list', { name: 'Findings' })
  await expect(findings).toBeVisible()
  // what may well be meant so is folded
  await page.getByRole('button', { name: /^Show \d+ notes$/ }).click()
  const finding = (title: string) => page.locator('.findings .list > li', { hasText: title })
  // three to six: what was wrong is mended, a click each
  for (const title of [
    'Transforms that are not baked',
    'Cameras and lights',
    'Not standing on the floor',
    'Triangles and n-gons',
  ]) {
    const found = finding(title).first()
    await expect(found).toBeVisible()
    await found.getByRole('button', { name: /^Mend/ }).first().click()
    await expect(found.getByRole('button', { name: /^Mend/ })).toHaveCount(0)
  }
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})
