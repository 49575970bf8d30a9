import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The built file of a thread: beside the built server, or in dist where the sources run. Null: not built. */
export function builtFile(name: string): string | null {
  const here = dirname(fileURLToPath(import.meta.url))
  const places = [join(here, name), join(here, '..', '..', 'dist', 'server', name)]
  return places.find((place) => existsSync(place)) ?? null
}
