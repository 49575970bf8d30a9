/**
 * Deliveries that were measured, on this machine's disk for a while: sending hands out the very bytes that the forecast
 * was about, and writes nothing a second time. What is not here any more is written again.
 */
import { createHash } from 'node:crypto'
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deserialize, serialize } from 'node:v8'
import type { SendResult } from '../../app/send-version.ts'

const folder = (): string => join(tmpdir(), `kelbo-deliveries-${process.getuid?.() ?? 0}`)

/** Milliseconds after which a delivery goes. */
const KEPT_FOR = 3600 * 1000
/** Bytes of all deliveries together; the oldest go first. */
const MOST_BYTES = 2 * 2 ** 30
/** One that is larger is not kept: writing it again takes less than the disk it would fill. */
const MOST_OF_ONE = 2 ** 30

const nameOf = (key: string): string => createHash('sha256').update(key).digest('hex')

async function tidy(): Promise<void> {
  const entries = await Promise.all(
    (await readdir(folder())).map(async (name) => {
      const path = join(folder(), name)
      const found = await stat(path).catch(() => null)
      return found && { path, bytes: found.size, since: found.mtimeMs }
    }),
  )
  let held = 0
  for (const entry of entries.filter((found) => found !== null).sort((a, b) => b.since - a.since)) {
    held += entry.bytes
    if (held > MOST_BYTES || Date.now() - entry.since > KEPT_FOR) await rm(entry.path, { force: true })
  }
}

/** Keeps a delivery under the request that it was written for. One that can't be kept is written again later. */
export async function keepDelivery(key: string, delivery: SendResult): Promise<void> {
  if (delivery.contents.reduce((sum, file) => sum + file.byteLength, 0) > MOST_OF_ONE) return
  try {
    await mkdir(folder(), { recursive: true, mode: 0o700 })
    await tidy()
    const path = join(folder(), nameOf(key))
    const half = `${path}.${process.pid}`
    await writeFile(half, serialize(delivery), { mode: 0o600 })
    await rename(half, path)
  } catch {
    // a full or forbidden disk: the delivery is written again when it is sent
  }
}

/** The delivery of the very same request; null where it is not here (any more). */
export async function keptDelivery(key: string): Promise<SendResult | null> {
  try {
    const path = join(folder(), nameOf(key))
    if (Date.now() - (await stat(path)).mtimeMs > KEPT_FOR) return null
    return deserialize(await readFile(path)) as SendResult
  } catch {
    return null
  }
}
