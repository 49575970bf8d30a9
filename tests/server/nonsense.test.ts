/** Requests that no page sends: each gets a sentence or is mended, none a fault of our own. */
import { connect } from 'node:net'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { AssetDocument } from '../../src/contract/api.ts'
import { storableText } from '../../src/server/db/storable-text.ts'
import { soundFileName } from '../../src/server/plugins/sound-text.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { HOST, importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
let asset: AssetDocument
beforeAll(async () => {
  process.env.KELBO_REQUEST_LIMIT = '3000000'
  process.env.KELBO_UPLOAD_PATIENCE = '3'
  harness = await startHarness()
  const job = await importFiles(harness, [lanternZip()])
  asset = (await harness.call('GET', `/assets/${String(job.result!.assetId)}`)).body as AssetDocument
})
afterAll(async () => {
  delete process.env.KELBO_REQUEST_LIMIT
  delete process.env.KELBO_UPLOAD_PATIENCE
  await harness.close()
})

const WORDS = ['advice', 'code', 'message']
const STEPS = [{ step: 'to-floor', params: {} }]
const cube = { name: 'sail.obj', bytes: Buffer.from('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') }

describe('names', () => {
  const rename = (name: unknown) => harness.call('PATCH', `/assets/${asset.id}`, { name, from: asset.name })
  test.each([
    ['of nothing', ''],
    ['of blanks', ' \t  \u00a0\u3000'],
    ['of letters that can’t be seen', '\u200b\u200d'],
    ['of control characters', '\u0001\u0002\u0000'],
    ['of half a pair', '\ud800'],
    ['that are too long', 'x'.repeat(400)],
    ['that are none', 7],
  ])('%s are refused in words', async (_what, name) => {
    for (const answer of [
      await rename(name),
      await harness.call('POST', '/recipes', { name, steps: STEPS }),
    ]) {
      expect(answer.status).toBe(400)
      expect(Object.keys(answer.body as object).sort()).toEqual(WORDS)
    }
  })
  test('with such letters among others lose them', async () => {
    expect((await rename('Po\u0000st\ud800 la\u0007ntern')).status).toBe(204)
    const { name } = (await harness.call('GET', `/assets/${asset.id}`)).body as AssetDocument
    expect(name).toBe('Post lantern')
    asset = { ...asset, name }
  })
  test('of files keep their endings, whatever else they lose', () => {
    expect(soundFileName(`${'ä'.repeat(300)}.obj`)).toBe(`${'ä'.repeat(196)}.obj`)
    expect(soundFileName('..\\..\\etc/pass\u0000wd.obj')).toBe('passwd.obj')
    expect(soundFileName('')).toBe('file')
    expect(soundFileName('e\u0301.obj')).toBe('\u00e9.obj')
    // what may name something of a model stays as it is
    expect(storableText('e\u0301\u0007\u0000')).toBe('e\u0301\u0007')
  })
  test('of an import and its files are mended too', async () => {
    const job = await importFiles(harness, [{ ...cube, name: `${'long'.repeat(100)}\u0001.obj` }], {})
    expect(job.state).toBe('done')
    const answer = await harness.upload('/assets', [cube], { name: 'A\u0000B', options: '{}' })
    expect(answer.status).toBe(202)
    expect((await harness.upload('/assets', [cube], { name: '\u0001', options: '{}' })).status).toBe(400)
  })
})

describe('recipes and marks', () => {
  test('unknown steps, and parameters that a step has not, can’t be saved', async () => {
    for (const step of [
      { step: 'fly', params: {} },
      { step: 'subdivide', params: { levels: 99 } },
      { step: 'subdivide', params: { wings: 2 } },
    ]) {
      const answer = await harness.call('POST', '/recipes', { name: 'x', steps: [step] })
      expect([answer.status, (answer.body as { code: string }).code]).toEqual([422, 'recipe.unsound'])
    }
  })
  test('marks under letters that are none are kept under the rest of them', async () => {
    const mark = { role: 'home', label: 'none' }
    const answer = await harness.call('PATCH', `/assets/${asset.id}/parts`, {
      marks: { 'a\ud800\u0000b': mark },
      from: { 'a\ud800\u0000b': null },
    })
    expect(answer.status).toBe(204)
    expect(((await harness.call('GET', `/assets/${asset.id}`)).body as AssetDocument).partMarks).toEqual({
      ab: mark,
    })
  })
})

describe('forms', () => {
  const post = (payload: Buffer, boundary = 'kelbo') =>
    harness.call('POST', '/assets', payload, { 'content-type': `multipart/form-data; boundary=${boundary}` })
  const part = (text: string): Buffer => Buffer.from(text.replaceAll('\n', '\r\n'))
  test.each([
    ['nothing', part('')],
    [
      'a part that does not end',
      part('--kelbo\ncontent-disposition: form-data; name="file"; filename="a.obj"\n\nv 0 0 0'),
    ],
    ['a header that is none', part('--kelbo\nnonsense\n\nx\n--kelbo--\n')],
    [
      'another boundary',
      part('--other\ncontent-disposition: form-data; name="file"; filename="a.obj"\n\nv\n--other--\n'),
    ],
  ])('of %s are refused in words', async (_what, payload) => {
    const answer = await post(payload)
    expect(answer.status).toBeGreaterThanOrEqual(400)
    expect(answer.status).toBeLessThan(500)
    expect(Object.keys(answer.body as object).sort()).toEqual(WORDS)
  })
  test('whose files are too much together are refused, with the limit', async () => {
    const large = Buffer.alloc(1100000, 'v 0 0 0\n')
    const answer = await harness.upload(
      '/assets',
      [1, 2, 3].map((at) => ({ name: `${at}.obj`, bytes: large })),
    )
    expect(answer.status).toBe(413)
    expect((answer.body as { code: string }).code).toBe('upload.too-large')
    expect((answer.body as { message: string }).message).toMatch(/more than 3 MB together, or more than 500/)
  })
  test('that stop coming are given up', async () => {
    const address = await harness.app.server.listen({ port: 0, host: '127.0.0.1' })
    const socket = connect(Number(new URL(address).port), '127.0.0.1')
    const ended = new Promise<void>((resolve) => socket.once('close', () => resolve()))
    socket.on('error', () => undefined)
    socket.write(
      `POST /api/assets HTTP/1.1\r\nhost: ${HOST}\r\ncontent-type: multipart/form-data; boundary=kelbo\r\ncontent-length: 1000\r\n\r\n--kelbo\r\n`,
    )
    let answered = ''
    socket.on('data', (text) => (answered += String(text)))
    await ended
    expect(answered).toMatch(/^HTTP\/1\.1 408/)
    expect(answered).toContain('upload.stalled')
  })
  test('of random bytes never end in a fault of our own', async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const chance = chanceOf(seed)
      const pieces = ['--kelbo\r\n', 'content-disposition: form-data; name="file"; filename="a.obj"\r\n', '\r\n', 'v 0 0 0', '--kelbo--', '\u0000', '"', ';', 'content-type: x\r\n'] // prettier-ignore
      const text = Array.from({ length: 12 }, () => pieces[Math.floor(chance() * pieces.length)]).join('')
      const answer = await post(Buffer.from(text))
      expect([seed, answer.status < 500]).toEqual([seed, true])
    }
  })
})
