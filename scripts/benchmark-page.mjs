/**
 * What the whole application takes, in real headless Chromium and against a real database: from drop to picture for a
 * million quads and for two thousand parts, how long a picture of them takes, and a long list at the server.
 *
 * A beat is counted every 10 ms on the page's main thread; the longest pause between two beats is how long the page
 * was deaf.
 */
import { existsSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import pg from 'pg'
import { startApplication } from './application.mjs'
import { removeDatabase, startDatabase } from './database.mjs'
import { node, root, run } from './run.mjs'

const BROWSER_OPTIONS = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--use-gl=angle',
    '--use-angle=gl-egl',
    '--ignore-gpu-blocklist',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--no-first-run',
  ],
}
const seconds = (milliseconds) => `${(milliseconds / 1000).toFixed(2)} s`

/** `count` parts of side x side quads each, in rows; or all of them as one part. */
function writeParts(path, count, side, asOne) {
  const lines = []
  const across = Math.ceil(Math.sqrt(count))
  if (asOne) lines.push('o whole')
  let first = 1
  for (let part = 0; part < count; part++) {
    const left = (part % across) * (side + 1)
    const back = Math.floor(part / across) * (side + 1)
    if (!asOne) lines.push(`o part_${part}`)
    for (let j = 0; j <= side; j++)
      for (let i = 0; i <= side; i++)
        lines.push(`v ${left + i} ${(Math.sin(i * 0.7 + part) * Math.cos(j * 0.5)).toFixed(4)} ${back + j}`)
    for (let j = 0; j < side; j++)
      for (let i = 0; i < side; i++) {
        const a = first + j * (side + 1) + i
        lines.push(`f ${a} ${a + side + 1} ${a + side + 2} ${a + 1}`)
      }
    first += (side + 1) ** 2
  }
  writeFileSync(path, `${lines.join('\n')}\n`)
}

async function openPage(browser, address) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(address)
  await page.locator('[data-test=chooser]').waitFor({ state: 'attached' })
  return page
}

const countBeats = (page) =>
  page.evaluate(() => {
    const beats = { longest: 0, start: performance.now(), last: performance.now(), pauses: [] }
    window.kelboBeats = beats
    setInterval(() => {
      const now = performance.now()
      const pause = now - beats.last - 10
      if (pause > 50)
        beats.pauses.push(`${Math.round(pause)} ms at ${((now - beats.start) / 1000).toFixed(1)} s`)
      beats.longest = Math.max(beats.longest, pause)
      beats.last = now
    }, 10)
  })

/** The milliseconds that one picture of the solid view takes, asked of the worker that draws it. */
async function pictureTime(page) {
  for (const worker of page.workers()) {
    if (!worker.url().includes('viewer')) continue
    return worker.evaluate(
      () =>
        new Promise((resolve) => {
          const post = self.postMessage.bind(self)
          self.postMessage = (message, ...rest) => {
            if (message.type !== 'measured') return post(message, ...rest)
            self.postMessage = post
            resolve(message.milliseconds)
          }
          self.onmessage({ data: { type: 'measure', times: 15 } })
        }),
    )
  }
  throw new Error('the page has no viewer')
}

/** Drops a file and waits for its picture. */
async function fromDrop(browser, address, path) {
  const page = await openPage(browser, address)
  await page.locator('[data-test=chooser]').setInputFiles(path)
  await page.getByRole('button', { name: 'Bring it in' }).waitFor()
  await countBeats(page)
  const start = performance.now()
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await page.waitForURL(/\/asset\//, { timeout: 600000 })
  const imported = performance.now() - start
  await page.locator('[data-loaded~=master]').waitFor({ timeout: 600000, state: 'attached' })
  const drawn = performance.now() - start
  // turn it, as an artist would at once
  const box = await page.locator('canvas[data-view=solid]').boundingBox()
  await page.mouse.move(box.x + 200, box.y + 200)
  await page.mouse.down()
  for (let step = 0; step < 20; step++) await page.mouse.move(box.x + 200 + step * 8, box.y + 200 + step * 3)
  await page.mouse.up()
  await page.waitForTimeout(2000)
  const { longest, pauses } = await page.evaluate(() => window.kelboBeats)
  // the checks, which begin with the picture, are over
  await page.locator('.findings, .ask button').first().waitFor({ timeout: 600000 })
  await page.waitForTimeout(500)
  const picture = await pictureTime(page)
  await page.close()
  return { imported, drawn, longest, pauses, picture }
}

const tell = (name, { imported, drawn, longest, pauses }) =>
  console.log(
    `${name}  on the bench after ${seconds(imported)}, drawn after ${seconds(drawn)}; longest time without an answer ${longest.toFixed(0)} ms (target at most 100)${pauses.length ? `, pauses over 50 ms: ${pauses.join(', ')}` : ''}`,
  )

/** A list of 200 assets with 50 versions each, as the server gives it; rows are copied, as a list opens no document. */
async function benchmarkList(databaseUrl, address) {
  const client = new pg.Client(databaseUrl)
  await client.connect()
  try {
    await client.query(`
      with one as (select scene_id from versions limit 1),
      added as (insert into assets (name) select 'asset ' || n from generate_series(1, 200) n returning id)
      insert into versions (asset_id, number, scene_id, note)
      select added.id, number, one.scene_id, 'copied' from added, one, generate_series(1, 50) number`)
    await client.query('analyze')
  } finally {
    await client.end()
  }
  const times = []
  let count = 0
  for (let time = 0; time < 21; time++) {
    const start = performance.now()
    const answer = await fetch(`${address}/api/assets`)
    count = (await answer.json()).assets.length
    times.push(performance.now() - start)
  }
  times.sort((a, b) => a - b)
  console.log(
    `\na list of ${count} assets, 200 of them with 50 versions each: ${times[10].toFixed(1)} ms, asked over HTTP (target below 50)`,
  )
}

export async function benchmarkPage() {
  if (!existsSync('/usr/bin/chromium'))
    return console.log('Chromium is not installed (Debian package chromium): the page is left out')
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-page-'))
  const grid = join(folder, 'grid.obj')
  const parts = join(folder, 'parts.obj')
  const one = join(folder, 'one.obj')
  removeDatabase('benchmark-postgres')
  const database = await startDatabase('benchmark-postgres', { fast: true })
  let application = null
  let browser = null
  try {
    node('dist/server/benchmark.js', ['--grid', grid])
    writeParts(parts, 2000, 10, false)
    writeParts(one, 2000, 10, true)
    application = await startApplication({
      databaseUrl: database.url,
      port: 4960,
      environment: { KELBO_DEMO: 'off', KELBO_LOG: 'error' },
    })
    browser = await chromium.launch(BROWSER_OPTIONS)
    const single = await fromDrop(browser, application.address, one)
    const many = await fromDrop(browser, application.address, parts)
    console.log('\n200 000 quads in the page')
    tell('  as one part      ', single)
    tell('  as 2 000 parts   ', many)
    console.log(
      `  drawn            2 000 parts / one part ${(many.drawn / single.drawn).toFixed(2)} from drop to picture; one picture ${many.picture.toFixed(1)} ms beside ${single.picture.toFixed(1)} ms, ${(many.picture / single.picture).toFixed(2)} times (target at most 1.5)`,
    )
    const million = await fromDrop(browser, application.address, grid)
    tell(`\none million quads in the page (${(statSync(grid).size / 1e6).toFixed(0)} MB):`, million)
    await benchmarkList(database.url, application.address)
    console.log('\nlists while ten people ask for 50 jobs')
    run(process.execPath, ['--import', 'tsx', join(root, 'tests/long/lists.ts'), application.address])
  } finally {
    await browser?.close()
    await application?.stop()
    database.stop()
    removeDatabase('benchmark-postgres')
    rmSync(folder, { recursive: true, force: true })
  }
}
