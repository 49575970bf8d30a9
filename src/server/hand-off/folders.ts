/** Folders on the server's disk that files are handed over in: one a destination, and one that all share. */
import { lstat, mkdir, readdir } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import type { FolderEntry } from '../../core/trips/hand-off/settled-files.ts'
import { fileWord } from '../../core/trips/split.ts'

/** Beside each other in a destination's folder: what leaves, and what is to come home. */
export const OUT = 'out'
export const BACK = 'back'

export interface HandOff {
  readonly root: string
  /** Milliseconds between two looks. */
  readonly everyMilliseconds: number
  /** Milliseconds without a change after which a file has been written to the end. */
  readonly quietMilliseconds: number
}

/** @returns null where there is no hand-off folder. */
export function handOffOf(environment: NodeJS.ProcessEnv): HandOff | null {
  const folder = environment.KELBO_HANDOFF?.trim()
  if (!folder) return null
  const seconds = Number(environment.KELBO_HANDOFF_QUIET ?? 5)
  return {
    root: resolve(folder),
    everyMilliseconds: 2000,
    quietMilliseconds: (Number.isFinite(seconds) && seconds >= 0 ? seconds : 5) * 1000,
  }
}

/** The folder of a destination; those of one name share one. */
export const folderOf = (destinationName: string): string => fileWord(destinationName)

export const backFolder = ({ root }: HandOff, folder: string): string =>
  folder ? join(root, folder, BACK) : join(root, BACK)

/** The folders of destinations, and the shared one, made where they are not there. */
export async function makeFolders(handOff: HandOff, destinationNames: readonly string[]): Promise<string[]> {
  const folders = [...new Set(destinationNames.map(folderOf))]
  for (const folder of folders) await mkdir(join(handOff.root, folder, OUT), { recursive: true })
  for (const folder of ['', ...folders]) await mkdir(backFolder(handOff, folder), { recursive: true })
  return ['', ...folders]
}

/** Folders inside that are looked into, and files of one that are looked at. */
const MOST_DEPTH = 4
export const MOST_ENTRIES = 2000

/** What programs write while they are not done, and what systems put beside files. */
const isPassing = (name: string): boolean =>
  name.startsWith('.') || name.endsWith('~') || /\.(tmp|part|partial|crdownload|lock)$/i.test(name)

/** Files in a folder and in folders inside it; links are not followed. */
export async function filesIn(folder: string): Promise<FolderEntry[]> {
  const found: FolderEntry[] = []
  const visit = async (path: string, depth: number): Promise<void> => {
    for (const name of (await readdir(join(folder, path))).sort()) {
      if (isPassing(name) || found.length >= MOST_ENTRIES) continue
      const inside = path ? `${path}/${name}` : name
      const entry = await lstat(join(folder, inside)).catch(() => null)
      if (entry?.isDirectory() && depth < MOST_DEPTH) await visit(inside, depth + 1)
      else if (entry?.isFile())
        found.push({ path: inside, byteLength: entry.size, writtenAt: Math.floor(entry.mtimeMs) })
    }
  }
  await visit('', 1)
  return found
}
