import { chromium } from '@playwright/test'
const base = 'http://127.0.0.1:4791'
const ask = async (m: string, p: string, b?: unknown) => {
  const r = await fetch(base + '/api' + p, {
    method: m,
    headers: b ? { 'content-type': 'application/json' } : {},
    body: b ? JSON.stringify(b) : undefined,
  })
  const t = await r.text()
  try {
    return JSON.parse(t)
  } catch {
    return t
  }
}
const finished = async (id: string) => {
  for (;;) {
    const j = (await ask('GET', '/jobs')).find?.((x: any) => x.id === id) ?? (await ask('GET', '/jobs/' + id))
    if (j?.state === 'done' || j?.state === 'failed') return j
    await new Promise((r) => setTimeout(r, 500))
  }
}
const list = await ask('GET', '/assets')
const all = list.assets ?? list
const heron = all.find((a: any) => /heron/i.test(a.name))
const asset = await ask('GET', '/assets/' + heron.id)
const v = asset.versions.at(-1)
const send = async (destination: string) =>
  (
    await finished(
      (
        await ask('POST', `/assets/${asset.id}/trips`, {
          versionId: v.id,
          destination,
          options: {},
          selection: null,
          withRecipe: true,
        })
      ).jobId,
    )
  ).result.tripId
const practise = async (trip: string, standIn: string, options: object) => {
  const j = await finished(
    (await ask('POST', `/trips/${trip}/practise`, { standIn, options, from: null })).jobId,
  )
  const n = await finished(j.result.nextJob)
  if (n.state !== 'done') console.log(n.error)
}
const t1 = await send('sculpting')
await practise(t1, 'sculptor', { levels: 1, hundredfold: true })
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--use-gl=angle', '--use-angle=gl-egl', '--ignore-gpu-blocklist', '--no-first-run'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.on('console', (m) => {
  if (m.type() === 'error') console.log(m.text())
})
await page.goto(`${base}/asset/${asset.id}/trip/${t1}/return`)
await page.waitForTimeout(3500)
await page.screenshot({ path: '/tmp/s1.png' })
await page.getByRole('button', { name: /Bring it to its size/ }).click()
await page.waitForTimeout(9000)
await page.getByLabel(/^body, points:/).click()
await page.waitForTimeout(4000)
await page.screenshot({ path: '/tmp/s2.png' })
await browser.close()
