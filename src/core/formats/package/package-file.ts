/** A file of a package, by its path inside it ("/" between folders). */
export interface PackageFile {
  readonly name: string
  readonly bytes: Uint8Array
  /** It lies there for a model that may name it, and is no model of its own whatever its ending. */
  readonly isBeside?: boolean
}

/** What a path in a model or material file names inside a package. */
export interface FoundFile {
  readonly file: PackageFile | null
  /** The path tried to leave the package (absolute, with a drive letter, or with `..`). */
  readonly outside: boolean
}

/** Parts of a path, with both kinds of slashes understood. */
function pathParts(path: string): { parts: string[]; outside: boolean } {
  const slashed = path
    .trim()
    .replace(/^"(.*)"$/, '$1')
    .replace(/\\/g, '/')
  let outside = slashed.startsWith('/') || /^[a-z]:/i.test(slashed) || /^[a-z]+:\/\//i.test(slashed)
  const parts: string[] = []
  for (const part of slashed
    .replace(/^[a-z]+:\/+/i, '')
    .replace(/^[a-z]:/i, '')
    .split('/')) {
    if (part === '' || part === '.') continue
    if (part === '..') {
      if (parts.length) parts.pop()
      else outside = true
    } else parts.push(part)
  }
  return { parts, outside }
}

/** The last part of a path, with slashes of either kind. */
export const fileNameOf = (path: string): string => path.replace(/\\/g, '/').split('/').pop() ?? path
/** A file’s name without its last ending. */
export const stemOf = (path: string): string => fileNameOf(path).replace(/\.[^.]*$/, '')
/** The folder of a path with its last slash; empty for none. */
export const folderOf = (path: string): string => {
  const slashed = path.replace(/\\/g, '/')
  return slashed.includes('/') ? slashed.slice(0, slashed.lastIndexOf('/') + 1) : ''
}

/** Where a file that a path names is put inside a package: at that path, or by its name if it leads outside. */
export function packagePath(path: string): string {
  const { parts, outside } = pathParts(path)
  return outside ? (parts[parts.length - 1] ?? '') : parts.join('/')
}

/** Names of one file as systems write it: a letter with its mark as one sign or two (Unicode NFC, NFD), any case. */
const loosely = (name: string): string => name.normalize('NFC').toLowerCase()

/**
 * Looks a path up inside the package only: relative to the naming file's folder, then from the package's
 * root, then by file name alone; letter case and how marks are written decide only between several. Never reads anything else.
 */
export function findInPackage(files: readonly PackageFile[], from: string, path: string): FoundFile {
  const { parts, outside } = pathParts(path)
  if (parts.length === 0) return { file: null, outside }
  const relative = parts.join('/')
  const near = pathParts(folderOf(from) + path.replace(/\\/g, '/')).parts.join('/')
  const exact = (wanted: string): PackageFile | undefined => files.find((file) => file.name === wanted)
  const loose = (wanted: string): PackageFile | undefined =>
    files.find((file) => loosely(file.name) === loosely(wanted))
  const name = parts[parts.length - 1]!
  const byName =
    files.find((file) => fileNameOf(file.name) === name) ??
    files.find((file) => loosely(fileNameOf(file.name)) === loosely(name))
  const file = outside ? byName : (exact(near) ?? exact(relative) ?? loose(near) ?? loose(relative) ?? byName)
  return { file: file ?? null, outside }
}
