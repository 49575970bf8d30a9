/** Where people sign in: a server of its own with accounts, beside the one that the other tests use, on its database. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { bringIn, fits, watchConsole } from './helpers.ts'

const PORT = 4969
const ADDRESS = `http://127.0.0.1:${PORT}`
const PASSWORD = 'nine gulls on a rope'
const programs = join(import.meta.dirname, '../../dist/server')
let server: ChildProcess

test.use({ baseURL: ADDRESS })

/** The command line's program for accounts. */
function account(action: string, name: string, password = ''): string {
  const ran = spawnSync(process.execPath, [join(programs, 'accounts-main.js'), action, name], {
    input: `${password}\n`,
    encoding: 'utf8',
  })
  if (ran.status !== 0) throw new Error(ran.stderr)
  return ran.stdout
}

test.beforeAll(async () => {
  expect(account('add', 'Ada', PASSWORD)).toBe('Ada can sign in.\n')
  server = spawn(process.execPath, [join(programs, 'main.js')], {
    env: { ...process.env, KELBO_PORT: String(PORT), KELBO_ACCOUNTS: 'on', KELBO_DEMO: 'off' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await new Promise<void>((resolve, reject) => {
    server.stdout!.on('data', (text) => String(text).includes('server ready') && resolve())
    server.once('exit', () => reject(new Error('the server ended')))
  })
})
test.afterAll(async () => {
  const gone = new Promise((resolve) => server.once('exit', resolve))
  server.kill()
  await gone
  account('remove', 'Ada')
})

async function signIn(page: Page, password: string): Promise<void> {
  // behind it the page may have a “Rename”
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('ada')
  await page.getByLabel('Password', { exact: true }).fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
}

test('signing in, working, being signed out meanwhile, a new password, signing out', async ({ page }) => {
  const complaints = watchConsole(page)
  await page.goto('/jobs')
  await expect(page.getByText('Sign in to go on.')).toBeVisible()
  expect(await page.getByRole('link', { name: 'Assets' }).count()).toBe(0)
  expect(await fits(page)).toBe(true)
  await signIn(page, 'not the password at all')
  await expect(page.getByRole('alert')).toContainText('There is no account with this name and password.')
  await signIn(page, PASSWORD)
  // where one wanted to go
  await expect(page.getByRole('heading', { name: 'Jobs' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Ada', exact: true })).toBeVisible()

  await bringIn(page, 'Ada’s crate')
  await expect(page.getByText(/Imported crate\.obj by Ada ·/)).toBeVisible()
  await page.getByRole('tab', { name: /Steps/ }).click()
  await page.getByRole('combobox', { name: 'Add a step' }).click()
  await page.getByRole('option', { name: 'Subdivide', exact: true }).click()
  await page.getByRole('button', { name: 'Apply' }).click()
  const steps = page.getByRole('list', { name: 'Steps of the draft' }).getByRole('listitem')
  await expect(steps).toHaveCount(1)

  // a new password by the command line signs every browser out
  account('password', 'Ada', `${PASSWORD} twice`)
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('You are not signed in any more.')).toBeVisible()
  await signIn(page, `${PASSWORD} twice`)
  await expect(page.getByText('You are not signed in any more.')).toHaveCount(0)
  await expect(steps).toHaveCount(1)
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByRole('link', { name: 'Version 2, the master, on the bench' })).toBeVisible()
  await page.getByRole('link', { name: /^Jobs/ }).click()
  await expect(page.getByRole('row', { name: /Prepare: .* Ada .*done/ }).first()).toBeVisible()

  await page.getByRole('button', { name: 'Ada', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Change password …' }).click()
  await page.getByLabel('Present password').fill(`${PASSWORD} twice`)
  await page.getByLabel('New password').fill('too short')
  await page.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByRole('alert')).toContainText('15 letters or more')
  await page.getByLabel('New password').fill('eleven crates of rope')
  await page.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByText('Your password is changed.')).toBeVisible()

  await page.getByRole('button', { name: 'Ada', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  await page.reload()
  await expect(page.getByText('Sign in to go on.')).toBeVisible()
  // refusals are what was asked for; the browser tells each of them
  expect(complaints.filter((text) => !/401|422/.test(text))).toEqual([])
})
