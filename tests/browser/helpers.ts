/** What browser tests share. */
import { expect, type Locator, type Page } from '@playwright/test'

/** Every complaint of the page, so that none goes unseen. */
export function watchConsole(page: Page): string[] {
  const complaints: string[] = []
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()))
  page.on('pageerror', (error) => complaints.push(error.message))
  return complaints
}

export const fits = (page: Page): Promise<boolean> =>
  page.evaluate(
    () =>
      document.documentElement.scrollHeight <= innerHeight &&
      document.documentElement.scrollWidth <= innerWidth,
  )

/** Share of a canvas, or of its right half, that is not its ground colour. */
export async function drawnShare(
  page: Page,
  view: 'solid' | 'flat',
  half: 'whole' | 'right' = 'whole',
): Promise<number> {
  const shot = (await page.locator(`canvas[data-view=${view}]`).screenshot()).toString('base64')
  return page.evaluate(
    async ({ content, isHalf }) => {
      const image = new Image()
      image.src = `data:image/png;base64,${content}`
      await image.decode()
      const canvas = document.createElement('canvas')
      canvas.width = image.width
      canvas.height = image.height
      const context = canvas.getContext('2d')!
      context.drawImage(image, 0, 0)
      const from = isHalf ? image.width >> 1 : 0
      const { data } = context.getImageData(from, 0, image.width - from, image.height)
      let drawn = 0
      for (let at = 0; at < data.length; at += 4)
        if (Math.abs(data[at]! - 0x8d) + Math.abs(data[at + 1]! - 0x8d) + Math.abs(data[at + 2]! - 0x8d) > 24)
          drawn++
      return drawn / (data.length / 4)
    },
    { content: shot, isHalf: half === 'right' },
  )
}

export const CUBE = `o crate
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 0 0 1
v 1 0 1
v 1 1 1
v 0 1 1
f 1 4 3 2
f 5 6 7 8
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`

/** Four by four squares whose UVs fill the tile. */
const PATCH = [
  'o patch',
  ...Array.from({ length: 25 }, (_, at) => `v ${(at % 5) / 4} 0 ${-Math.floor(at / 5) / 4}`),
  ...Array.from({ length: 25 }, (_, at) => `vt ${(at % 5) / 4} ${Math.floor(at / 5) / 4}`),
  ...Array.from({ length: 16 }, (_, face) => {
    const first = Math.floor(face / 4) * 5 + (face % 4) + 1
    return `f ${[first, first + 1, first + 6, first + 5].map((corner) => `${corner}/${corner}`).join(' ')}`
  }),
].join('\n')

/** A name that no try before has given: a second one finds its own. */
export const fresh = (name: string): string => `${name} ${Date.now().toString(36)}`

export const bringInPatch = (page: Page, name: string): Promise<string> => bringIn(page, name, PATCH)

/** A small box, or what is given, as a new asset on its bench. @returns the asset's id. */
export async function bringIn(page: Page, name: string, obj = CUBE): Promise<string> {
  await page.goto('/')
  await page.setInputFiles('[data-test=chooser]', {
    name: 'crate.obj',
    mimeType: 'text/plain',
    buffer: Buffer.from(obj),
  })
  await page.getByLabel('Name of the asset').fill(name)
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('heading', { name })).toBeVisible()
  return /asset\/([0-9a-f-]{36})/.exec(page.url())![1]!
}

/** Drops files as a person would. @param on where; absent: anywhere on the page. */
export async function drop(
  page: Page,
  files: readonly { name: string; bytes: Uint8Array }[],
  on: Locator = page.locator('.page'),
): Promise<void> {
  const transfer = await page.evaluateHandle(
    (list) => {
      const data = new DataTransfer()
      for (const { name, content } of list)
        data.items.add(new File([Uint8Array.from(atob(content), (letter) => letter.charCodeAt(0))], name))
      return data
    },
    files.map(({ name, bytes }) => ({
      name: name.split('/').pop()!,
      content: Buffer.from(bytes).toString('base64'),
    })),
  )
  await on.dispatchEvent('dragover', { dataTransfer: transfer })
  await on.dispatchEvent('drop', { dataTransfer: transfer })
}

/**
 * Clicks a control whose own element is hidden behind what is drawn of it (a choice, a list that opens), once
 * that stands still: a click forced onto the hidden element hits whatever has moved there meanwhile.
 */
export async function press(control: Locator): Promise<void> {
  await control
    .locator('xpath=ancestor-or-self::*[self::label or contains(@class, "el-select__wrapper")][1]')
    .click()
}
