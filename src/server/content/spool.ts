/**
 * What this machine's disk keeps for a while so that it needs not be fetched or made again: files that were just
 * uploaded, deliveries that were measured. Nothing depends on it: what is not here (any more) is had from the database.
 */
import { link, mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises'
import { tmpdir, uptime } from 'node:os'
import { join } from 'node:path'

/** Milliseconds after which something goes. */
const KEPT_FOR = 3600 * 1000
/** Bytes of one spool; the oldest go first. */
const MOST_BYTES = 2 * 2 ** 30

export interface Spool {
  /** Keeps a file that lies on the same disk without copying it; it may then be removed where it is. */
  readonly link: (name: string, path: string) => Promise<void>
  readonly keep: (name: string, bytes: Uint8Array) => Promise<void>
  /** Where it lies; null where it doesn't, or where it lay there when the machine was started: its end may not be written. */
  readonly find: (name: string) => Promise<string | null>
}

/** @param name of the spool. Names in it are hexadecimal digits. */
export function createSpool(name: string): Spool {
  const user = process.getuid?.() ?? 0
  const folder = join(tmpdir(), `kelbo-${name}-${user}`)

  /** A folder of our own, which nobody else can write to. */
  async function own(): Promise<boolean> {
    await mkdir(folder, { recursive: true, mode: 0o700 })
    const { uid, mode } = await stat(folder)
    return uid === user && (mode & 0o077) === 0
  }
  async function tidy(): Promise<void> {
    const entries = await Promise.all(
      (await readdir(folder)).map(async (entry) => {
        const path = join(folder, entry)
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
  async function put(write: () => Promise<void>): Promise<void> {
    try {
      if (!(await own())) return
      await write()
      await tidy()
    } catch {
      // a full, forbidden or other disk: it is had from the database then
    }
  }

  return {
    link: (entry, path) =>
      put(async () => {
        await rm(join(folder, entry), { force: true })
        await link(path, join(folder, entry))
      }),
    keep: (entry, bytes) =>
      put(async () => {
        const half = join(folder, `${entry}.${process.pid}`)
        await writeFile(half, bytes, { mode: 0o600 })
        await rename(half, join(folder, entry))
      }),
    async find(entry) {
      try {
        if (!(await own())) return null
        const path = join(folder, entry)
        const age = Date.now() - (await stat(path)).mtimeMs
        return age > Math.min(KEPT_FOR, uptime() * 1000) ? null : path
      } catch {
        return null
      }
    },
  }
}
