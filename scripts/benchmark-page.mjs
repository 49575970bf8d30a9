/**
 * From drop to picture for a million quads, in real headless Chromium: how long, and the longest time for
 * which the page did not answer. A beat is counted every 10 ms on the page's main thread; the longest pause
 * between two beats is how long the page was deaf.
 */
import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { startApplication } from './application.mjs'
import { removeDatabase, startDatabase } from './database.mjs'
import { node } from './run.mjs'

export async function benchmarkPage() {
  if (!existsSync('/usr/bin/chromium'))
    return console.log('Chromium is not installed (Debian package chromium): the page is left out')
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-page-'))
  const path = join(folder, 'grid.obj')
  removeDatabase('benchmark-postgres')
  const database = await startDatabase('benchmark-postgres', { fast: true })
  let application = null
  let browser = null
  try {
    node('dist/server/benchmark.js', ['--grid', path])
    application = await startApplication({
      databaseUrl: database.url,
      port: 4960,
      environment: { KELBO_DEMO: 'off' },
    })
    browser = await chromium.launch({
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
    })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(application.address)
    await page.locator('[data-test=chooser]').waitFor({ state: 'attached' })
    await page.locator('[data-test=chooser]').setInputFiles(path)
    await page.getByRole('button', { name: 'Bring it in' }).waitFor()
    await page.evaluate(() => {
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
    const start = performance.now()
    await page.getByRole('button', { name: 'Bring it in' }).click()
    await page.waitForURL(/\/asset\//, { timeout: 600000 })
    const imported = performance.now() - start
    await page.locator('[data-loaded~=master]').waitFor({ timeout: 600000, state: 'attached' })
    const shown = performance.now() - start
    // turn it, as an artist would at once
    const box = await page.locator('canvas[data-view=solid]').boundingBox()
    await page.mouse.move(box.x + 200, box.y + 200)
    await page.mouse.down()
    for (let step = 0; step < 20; step++)
      await page.mouse.move(box.x + 200 + step * 8, box.y + 200 + step * 3)
    await page.mouse.up()
    await page.waitForTimeout(2000)
    const { longest, pauses } = await page.evaluate(() => window.kelboBeats)
    console.log(
      `\none million quads in the page (${(statSync(path).size / 1e6).toFixed(0)} MB): on the bench after ${(imported / 1000).toFixed(1)} s, drawn after ${(shown / 1000).toFixed(1)} s`,
    )
    console.log(
      `longest time without an answer  ${longest.toFixed(0)} ms (target at most 100); pauses over 50 ms: ${pauses.join(', ') || 'none'}`,
    )
  } finally {
    await browser?.close()
    await application?.stop()
    database.stop()
    removeDatabase('benchmark-postgres')
    rmSync(folder, { recursive: true, force: true })
  }
}
