import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'tests/browser',
  // what hangs is found by them: a busy machine takes ten times as long as a quiet one
  timeout: 480000,
  expect: { timeout: 90000 },
  workers: 1,
  // once more, so that one late answer of a busy machine is told (“flaky”) and does not stand for a fault
  retries: 1,
  reporter: [
    ['list'],
    ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? '.kelbo/test-results/browser.json' }],
  ],
  use: {
    baseURL: process.env.KELBO_ADDRESS ?? 'http://127.0.0.1:4780',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
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
        // pages are drawn by the processor itself: by way of a GPU in software they take longer
        '--disable-gpu-rasterization',
        '--disable-gpu-compositing',
      ],
    },
  },
})
