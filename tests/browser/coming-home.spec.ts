/**
 * What tools do to a model on a trip, and the model home whole: subdivided, renumbered and a hundred times as large from
 * the sculptor in six actions; from the painter, who cut it into triangles, laid new UVs and renamed the materials while a
 * sculpt came home; and what was changed on both sides, where somebody has to choose.
 */
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { TRAITS } from '../../src/core/compare/traits/registry.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { closestSurface } from '../../src/core/mesh/closest/closest-surface.ts'
import { boundsOf } from '../../src/core/base/math/box.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { ballOf } from '../solids.ts'
import { runStandIn, standInOf } from '../../src/core/practice/standins/registry.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { drawnShare, drop, fits, press, watchConsole } from './helpers.ts'

const heron = buildCourierHeron()

/** The heron as an asset of its own. @returns its id. */
async function bringHeron(page: Page, name: string): Promise<string> {
  await page.goto('/')
  await drop(page, writeFbx(heron, 'heron.fbx', {}).files)
  await page.getByLabel('Name of the asset').fill(name)
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('heading', { name })).toBeVisible()
  return /asset\/([0-9a-f-]{36})/.exec(page.url())![1]!
}
/** Sends the master to a destination by its page. @returns the ZIP. */
async function sendTo(page: Page, destination: string | null): Promise<Buffer> {
  await page.getByRole('link', { name: /Send the master/ }).click()
  if (destination) await page.getByText(destination, { exact: true }).click()
  await expect(page.getByRole('button', { name: 'Send and download' })).toBeEnabled()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Send and download' }).click()
  return readFileSync((await (await downloading).path())!)
}
/** A version as it is written whole. */
async function versionOf(page: Page, assetId: string, number: number): Promise<Scene> {
  const asset = (await (await page.request.get(`/api/assets/${assetId}`)).json()) as {
    versions: { id: string; number: number }[]
  }
  const started = await page.request.post(`/api/assets/${assetId}/trips`, {
    data: { versionId: asset.versions.find((version) => version.number === number)!.id, destination: 'modelling', options: {}, selection: null, withRecipe: false }, // prettier-ignore
  })
  const { jobId } = (await started.json()) as { jobId: string }
  for (;;) {
    const job = (await (await page.request.get(`/api/jobs/${jobId}`)).json()) as { state: string; result: { fileId: string } | null } // prettier-ignore
    if (job.state === 'done') {
      const bytes = await (await page.request.get(`/api/files/${job.result!.fileId}`)).body()
      return readPackage([{ name: 'x.zip', bytes: new Uint8Array(bytes) }]).scene
    }
    expect(job.state).not.toBe('failed')
    await page.waitForTimeout(200)
  }
}
/** The page of a trip that nothing has come back from. */
async function waitingFor(page: Page, assetId: string, tripId: string): Promise<void> {
  await page.goto(`/asset/${assetId}/trip/${tripId}/return`)
  await expect(page.getByRole('heading', { name: /^Nothing has come back from/ })).toBeVisible()
}
const changed = (before: Scene, after: Scene): string[] => {
  const [a, b] = [fingerprintScene(before), fingerprintScene(after)]
  return TRAITS.filter((trait) => a[trait] !== b[trait])
}

test('a tool turned the layout upside down: it says so, brings it back, and then nothing of it is there to take', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  await bringHeron(page, 'Overturned heron')
  const sent = await sendTo(page, null)
  const { scene } = readPackage([{ name: 'sent.zip', bytes: new Uint8Array(sent) }])
  const overturned: Scene = {
    ...scene,
    meshes: scene.meshes.map((mesh) => ({
      ...mesh,
      points: mesh.points.map((value, at) => (at % 3 === 1 ? value + 0.01 : value)),
      uvSets: mesh.uvSets.map((set) => ({
        ...set,
        values: set.values.map((value, at) => (at % 2 ? 1 - value : value)),
      })),
    })),
  }
  const [file] = writeObj(overturned, 'heron_back.obj').files
  await drop(page, [{ name: 'heron_back.obj', bytes: file!.bytes }])
  await page.getByRole('button', { name: 'Take it back' }).click()
  const story = page.locator('[data-test=story]')
  await expect(story).toContainText('its layout of UVs is upside down')
  await expect(page.getByRole('status').filter({ hasText: 'upside down' })).toBeVisible()
  await expect(page.getByLabel(/^body, uvs: .*the layout is upside down/)).toBeVisible()
  await expect(page.getByLabel('Take uvs from the returned file')).not.toBeChecked()
  await page.getByRole('button', { name: /^Bring .* UVs to their place$/ }).click()
  await expect(page.getByText('it was brought back to where it lay')).toBeVisible()
  await expect(story).not.toContainText('UV')
  expect(await fits(page)).toBe(true)
  expect(complaints).toEqual([])
})

test('the sculptor returns it subdivided, renumbered and hundredfold: six actions later only points differ', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const assetId = await bringHeron(page, 'Subdivided heron')
  // one and two: out
  const sent = await sendTo(page, null)
  const [sculpted] = sculptFiles([{ name: 'sent.zip', bytes: sent }], {
    strength: 0.01,
    levels: 1,
    factor: 100,
  })
  // three and four: back
  await drop(page, [{ name: 'heron_sculpted.obj', bytes: sculpted!.bytes }])
  await page.getByRole('button', { name: 'Take it back' }).click()
  const story = page.locator('[data-test=story]')
  await expect(story).toContainText('Everything came back 100 times as large as it was sent')
  await expect(story).toContainText(/Came back subdivided on all parts; all [\d,]+ polygons were found again/)
  // five: to its size
  await page.getByRole('button', { name: 'Bring it to its size and place' }).click()
  await expect(story).toContainText(/that is undone here\. Points moved up to [\d.]+ cm/)
  await expect(page.getByLabel('Take points from the returned file')).toBeChecked()
  // a look on the way: how far, in the model's own unit
  await page.getByLabel(/^body, points:/).click()
  await expect(page.locator('[data-test=deviation]')).toContainText(/cm/)
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.05)
  expect(await fits(page)).toBe(true)
  // the report says the same
  const saving = page.waitForEvent('download')
  await page.getByRole('button', { name: 'as data' }).click()
  const report = JSON.parse(readFileSync((await (await saving).path())!, 'utf8')) as { story: string[] }
  expect(report.story.join(' ')).toBe(await story.textContent())
  // six: the new version
  await page.getByRole('button', { name: 'Reconcile' }).click()
  await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  expect(changed(await versionOf(page, assetId, 1), await versionOf(page, assetId, 2))).toEqual(['points'])
  expect(complaints).toEqual([])
})

test('the painter’s UVs and the sculpt that came home meanwhile are both in the new version', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const assetId = await bringHeron(page, 'Painted heron')
  const toSculpt = await sendTo(page, null)
  await page.goto(`/asset/${assetId}`)
  const toPaint = await sendTo(page, 'Texture painting tool')
  // the sculpt is home first
  const [sculpted] = sculptFiles([{ name: 'sent.zip', bytes: toSculpt }], { strength: 0.01 })
  const asset = (await (await page.request.get(`/api/assets/${assetId}`)).json()) as {
    trips: { id: string }[]
  }
  await waitingFor(page, assetId, asset.trips[0]!.id)
  await drop(page, [{ name: 'heron_sculpted.obj', bytes: sculpted!.bytes }])
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.locator('[data-test=story]')).toContainText('Points moved')
  await page.getByRole('button', { name: 'Reconcile' }).click()
  await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  // the painter, who knows nothing of it
  const painted = runStandIn(standInOf('painter')!, [{ name: 'sent.zip', bytes: toPaint }], {
    triangulates: true,
  })
  await waitingFor(page, assetId, asset.trips[1]!.id)
  await drop(page, painted.files)
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByLabel('Take uvs from the returned file')).toBeChecked()
  await expect(page.getByText('Version 1 left; what has changed since then stays')).toBeVisible()
  await page.getByRole('button', { name: 'Reconcile' }).click()
  // the painter's layout lies over itself, which is told before it is kept
  await expect(page.locator('[data-test=worse]')).toContainText('overlap')
  await page.getByRole('button', { name: 'Keep it all the same' }).click()
  await expect(page.getByText('Version 3 is the new master.')).toBeVisible()
  const [one, two, three] = [await versionOf(page, assetId, 1), await versionOf(page, assetId, 2), await versionOf(page, assetId, 3)] // prettier-ignore
  expect(changed(one, two)).toEqual(['points'])
  expect(changed(two, three)).toEqual(['uvs', 'surfaces'])
  expect(complaints).toEqual([])
})

test('the same points moved on both sides: one of them is chosen, and nothing is made before', async ({
  page,
}) => {
  const assetId = await bringHeron(page, 'Contested heron')
  const first = await sendTo(page, null)
  await page.goto(`/asset/${assetId}`)
  await sendTo(page, null)
  const { trips } = (await (await page.request.get(`/api/assets/${assetId}`)).json()) as {
    trips: { id: string }[]
  }
  for (const [trip, strength] of [
    [trips[0]!.id, 0.01],
    [trips[1]!.id, 0.03],
  ] as const) {
    const [sculpted] = sculptFiles([{ name: 'sent.zip', bytes: first }], { strength })
    await waitingFor(page, assetId, trip)
    await drop(page, [{ name: 'heron.obj', bytes: sculpted!.bytes }])
    await page.getByRole('button', { name: 'Take it back' }).click()
    await expect(page.locator('[data-test=story]')).toContainText('Points moved')
    await page.getByRole('button', { name: 'Reconcile' }).click()
    if (trip === trips[0]!.id) await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  }
  const conflicts = page.locator('[data-test=conflicts]')
  await expect(conflicts).toBeVisible()
  await expect(conflicts.getByRole('listitem')).toHaveCount(12)
  await expect(page.getByRole('button', { name: 'Reconcile' })).toBeDisabled()
  expect(await fits(page)).toBe(true)
  await conflicts.getByRole('button', { name: 'All as in version 2' }).click()
  await press(conflicts.getByRole('radio', { name: 'as it came back' }).first())
  await page.getByRole('button', { name: 'Reconcile' }).click()
  await expect(page.getByText('Version 3 is the new master.')).toBeVisible()
  expect(changed(await versionOf(page, assetId, 2), await versionOf(page, assetId, 3))).toEqual(['points'])
})

/** The heron with a body of other polygons: a ball drawn onto its surface. */
function withBodyAnew(): Scene {
  const body = heron.nodes.findIndex(({ name }) => name === 'body')
  const own = heron.meshes[heron.nodes[body]!.mesh]!
  const { min, max } = boundsOf(own.points)!
  const ball = ballOf(40, 30, 0.5)
  const { tree } = closestSurface(own)
  const points = ball.points.slice()
  for (let at = 0; at < points.length; at += 3) {
    const place = [0, 1, 2].map((axis) => (min[axis]! + max[axis]!) / 2 + points[at + axis]! * (max[axis]! - min[axis]!)) // prettier-ignore
    points.set(tree.nearest(...(place as [number, number, number]))!.point, at)
  }
  const anew = { ...ball, name: 'body', points, uvSets: [] }
  return { ...heron, meshes: heron.meshes.map((mesh) => (mesh === own ? anew : mesh)) }
}

test('a body made anew: how far its surface lies is shown, and what it takes is told before it is kept', async ({
  page,
}) => {
  const complaints = watchConsole(page)
  const assetId = await bringHeron(page, 'Heron made anew')
  await sendTo(page, null)
  await drop(page, writeObj(withBodyAnew(), 'heron_sculpted.obj', {}).files.slice(0, 1))
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.locator('[data-test=story]')).toContainText(
    /Of “body” hardly any polygon was found again.*off the master’s by [\d.]+ cm at most/,
  )
  await page.getByLabel(/^body, points: Its polygons are others/).click()
  await expect(page.locator('[data-test=deviation]')).toContainText('How far the surfaces lie apart')
  await expect.poll(() => drawnShare(page, 'solid')).toBeGreaterThan(0.05)
  const choice = page.locator('.choice')
  await expect(choice).toContainText(
    'Of “body” the polygons are others: their surface comes along with topology only.',
  )
  await page.getByLabel('Take topology from the returned file').check()
  await expect(choice).not.toContainText('the polygons are others')
  await page.getByRole('button', { name: 'Reconcile' }).click()
  const worse = page.locator('[data-test=worse]')
  await expect(worse).toContainText(/polygons of “body” have no counterpart and took UVs/)
  expect(await fits(page)).toBe(true)
  await page.getByRole('button', { name: 'Keep it all the same' }).click()
  await expect(page.getByText('Version 2 is the new master.')).toBeVisible()
  const { nodes, meshes } = await versionOf(page, assetId, 2)
  const body = meshes[nodes.find(({ name }) => name === 'body')!.mesh]!
  // two of it have no size, since the ball was drawn together there
  expect(body.faceOffsets.length - 1).toBe(40 * 30 - 2)
  expect(body.uvSets[0]!.indices.includes(-1)).toBe(false)
  expect(body.faceMaterials!.every((material) => material >= 0)).toBe(true)
  expect(complaints).toEqual([])
})
