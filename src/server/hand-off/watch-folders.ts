/** Watches the hand-off folders: writes what leaves, and takes what lands. */
import { isModelName } from '../../core/formats/package/read-package.ts'
import {
  lookAgain,
  settledFiles,
  type FolderEntry,
  type SeenEntry,
} from '../../core/trips/hand-off/settled-files.ts'
import type { Database } from '../db/connection.ts'
import { listDestinations } from '../destinations/destination-store.ts'
import { writeLog, type Log } from '../plugins/logging.ts'
import { BACK, backFolder, filesIn, makeFolders, type HandOff } from './folders.ts'
import { seenEntries } from './landing-store.ts'
import { takeLanding } from './take-landing.ts'
import { writeOut } from './write-out.ts'

const keyOf = (folder: string, { path, byteLength, writtenAt }: FolderEntry): string =>
  [folder, path, byteLength, writtenAt].join('\n')

export interface HandOffWatch {
  /** One look, to its end; what goes wrong in it is thrown. */
  readonly look: () => Promise<void>
  close(): Promise<void>
}

/**
 * A look at all folders every few seconds, since disks on a network announce no changes. What has been taken once is
 * known again by path, size and time, also after a restart; nothing in the folders is moved or removed.
 *
 * @param clock milliseconds by which a file is told to have been quiet
 */
export function watchFolders(
  { db }: Database,
  handOff: HandOff,
  log: Log,
  clock: () => number = Date.now,
): HandOffWatch {
  let taken: Set<string> | null = null
  const seen = new Map<string, SeenEntry[]>()
  let closed = false
  /** The looks so far: one after the other, whoever asks for them. */
  let looks: Promise<void> = Promise.resolve()
  let timer: NodeJS.Timeout | null = null
  let failedLast = false

  async function lookInto(folder: string): Promise<void> {
    const place = backFolder(handOff, folder)
    const now = clock()
    const entries = lookAgain(seen.get(folder) ?? [], await filesIn(place), now)
    seen.set(folder, entries)
    for (const landing of settledFiles(entries, now, handOff.quietMilliseconds)) {
      const landed = landing.entries.filter((entry) => !taken!.has(keyOf(folder, entry)))
      // maps alone are no return; a model brings along what lies beside it
      if (!landed.some(({ path }) => isModelName(path))) continue
      const beside = landing.entries.filter((entry) => !landed.includes(entry) && !isModelName(entry.path))
      const [first] = landed.filter(({ path }) => isModelName(path))
      const within = `${folder ? `${folder}/` : ''}${BACK}/${landing.folder || first!.path}`
      if (
        await takeLanding(
          db,
          place,
          { place: within, destinationFolder: folder },
          [...landed, ...beside],
          landed.map(({ path, byteLength, writtenAt }) => ({ path, byteLength, writtenAt })),
        )
      )
        for (const entry of landed) taken!.add(keyOf(folder, entry))
    }
  }

  async function lookOnce(): Promise<void> {
    const destinations = await listDestinations(db)
    const folders = await makeFolders(
      handOff,
      destinations.map(({ name }) => name),
    )
    taken ??= new Set(
      (await seenEntries(db)).flatMap(({ place, entries }) => entries.map((entry) => keyOf(place, entry))),
    )
    await writeOut(db, handOff)
    for (const folder of folders) if (!closed) await lookInto(folder)
  }

  const look = (): Promise<void> => {
    const next = looks.then(lookOnce)
    looks = next.catch(() => undefined)
    return next
  }
  const again = (): void => {
    if (closed) return
    void look()
      .then(
        () => void (failedLast = false),
        (error: unknown) => {
          // a disk that is gone is said once, and looked for again
          if (!failedLast) writeLog(log, 'hand-off', { err: error })
          failedLast = true
        },
      )
      .then(() => {
        if (!closed) timer = setTimeout(again, handOff.everyMilliseconds)
      })
  }
  again()
  return {
    look,
    async close() {
      closed = true
      if (timer) clearTimeout(timer)
      await looks
    },
  }
}
