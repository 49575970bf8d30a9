/** Content by hash, and the threads that work on it. */
import { randomBytes } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { getBlobs, putBytes } from '../../src/server/content/blob-store.ts'
import { openThreads } from '../../src/server/jobs/threads.ts'
import { ZIP_LIMITS_DEFAULTS } from '../../src/core/formats/package/read-zip.ts'
import { startHarness, type Harness } from './harness.ts'

describe('content', () => {
  let harness: Harness
  beforeAll(async () => {
    harness = await startHarness({ worker: false })
  })
  afterAll(() => harness.close())

  test('many at once: small, empty, of several chunks, that pack well and that don’t', async () => {
    const { db } = harness.database
    const contents = [
      new Uint8Array(0),
      Uint8Array.of(7),
      new Uint8Array(200_000),
      new Uint8Array(randomBytes(300_000)),
      new Uint8Array(randomBytes(9 * 2 ** 20)),
      ...Array.from({ length: 250 }, (_entry, at) => Uint8Array.of(at, 1, 2)),
    ]
    const hashes = await db.transaction((tx) => putBytes(tx, contents))
    const loaded = await getBlobs(db, [...hashes, hashes[1]!])
    expect(loaded.size).toBe(contents.length)
    contents.forEach((content, at) =>
      expect(Buffer.compare(loaded.get(hashes[at]!)!, content), `${content.length} bytes`).toBe(0),
    )
    // typed arrays are laid over them
    for (const bytes of loaded.values()) expect(bytes.byteOffset).toBe(0)
    await expect(getBlobs(db, [hashes[0]!, 'f'.repeat(64)])).rejects.toThrow(/no content ffff/)
  })
})

describe('threads', () => {
  const file = (text: string) => ({ name: 'x.obj', bytes: new TextEncoder().encode(text) })
  const request = (text: string) => ({ files: [file(text)], options: {}, limits: ZIP_LIMITS_DEFAULTS })
  const triangle = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'
  const never = new AbortController().signal
  const ignore = (): void => {}

  test('one after another in the same thread, also after a file that can’t be read', async () => {
    const threads = openThreads()
    const points = async (text: string): Promise<number> =>
      (await threads.run('read', request(text), ignore, never)).inspection.meshes[0]!.vertices
    expect(await points(triangle)).toBe(3)
    await expect(points('')).rejects.toMatchObject({ code: expect.stringMatching(/\./) as string })
    expect(await points(`v 5 5 5\n${triangle.replace('f 1 2 3', 'f 2 3 4 1')}`)).toBe(4)
    await threads.close()
  })
  test('an aborted task ends its thread, and the next has another', async () => {
    const threads = openThreads()
    const abort = new AbortController()
    const big = triangle.repeat(200_000)
    const running = threads.run('read', request(big), () => abort.abort(new Error('enough')), abort.signal)
    await expect(running).rejects.toThrow('enough')
    const { inspection } = await threads.run('read', request(triangle), ignore, never)
    expect(inspection.meshes[0]!.vertices).toBe(3)
    const gone = new AbortController()
    gone.abort(new Error('before it began'))
    await expect(threads.run('read', request(triangle), ignore, gone.signal)).rejects.toThrow(
      'before it began',
    )
    await threads.close()
  })
})
