/** Which files in a folder have been written to the end, and which of them landed together. */

export interface FolderEntry {
  /** Below the folder, with "/" between. */
  readonly path: string
  readonly byteLength: number
  /** Milliseconds since 1970 at which it was last written. */
  readonly writtenAt: number
}

/** What was seen of a file, and since when it has been so. */
export interface SeenEntry extends FolderEntry {
  /** Milliseconds of the watcher's own clock: those of a shared disk may go otherwise. */
  readonly since: number
}

/** Files of one folder inside, or of none, that stay as they are. */
export interface Landing {
  /** The folder inside that they lie in; empty for those that lie in none. */
  readonly folder: string
  readonly entries: readonly SeenEntry[]
}

const keyOf = ({ path, byteLength, writtenAt }: FolderEntry): string => `${path}\n${byteLength}\n${writtenAt}`

/** What is seen now, with since when each has been so. */
export function lookAgain(
  before: readonly SeenEntry[],
  entries: readonly FolderEntry[],
  now: number,
): SeenEntry[] {
  const known = new Map(before.map((entry) => [keyOf(entry), entry]))
  return entries.map((entry) => known.get(keyOf(entry)) ?? { ...entry, since: now })
}

/**
 * Files that landed together: all of one folder inside, once none of them has changed for `quietFor` milliseconds. An
 * empty file is still being written.
 */
export function settledFiles(seen: readonly SeenEntry[], now: number, quietFor: number): Landing[] {
  const folders = new Map<string, SeenEntry[]>()
  for (const entry of seen) {
    const folder = entry.path.includes('/') ? entry.path.slice(0, entry.path.indexOf('/')) : ''
    folders.set(folder, [...(folders.get(folder) ?? []), entry])
  }
  return [...folders]
    .filter(([, entries]) =>
      entries.every(({ byteLength, since }) => byteLength > 0 && now - since >= quietFor),
    )
    .map(([folder, entries]) => ({ folder, entries }))
}
