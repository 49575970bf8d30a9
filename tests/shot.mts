import { chromium } from '@playwright/test'
const base = 'http://127.0.0.1:4791'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--use-gl=angle', '--use-angle=gl-egl', '--ignore-gpu-blocklist', '--no-first-run'] })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const assets = await (await fetch(base + '/api/assets')).json() as any
const list = assets.assets ?? assets
for (const a of list) console.log(a.id, a.name, (a.trips ?? []).map((t: any) => t.number + ' ' + t.state + ' ' + t.destination.id).join(', '))
const withBack = list.find((a: any) => a.trips?.some((t: any) => t.state === 'back'))
const trip = withBack.trips.find((t: any) => t.state === 'back')
await page.goto(`${base}/asset/${withBack.id}/trip/${trip.id}/return`)
await page.waitForTimeout(4000)
await page.screenshot({ path: '/tmp/return1.png' })
console.log(page.url())
await browser.close()
