import { join, relative } from 'node:path'

const root = join(import.meta.dirname, '../../..')

/** Where what a test beside the code found before is kept: with all that is approved, see tell.ts. */
export const keptAt = (test: string, ending: string): string => {
  const name = relative(join(root, 'src/core'), test).replace('.test.ts', '').replace(/[/\\]/g, '-')
  return join(root, 'tests/core/approved/kept', name + ending)
}
