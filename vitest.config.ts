import { availableParallelism } from 'node:os'
import { join, relative } from 'node:path'
import { defineConfig } from 'vitest/config'

const root = import.meta.dirname
/** What a test beside the code found before lies with all that is approved: see tests/core/approved/tell.ts. */
const keptAt = (test: string, ending: string): string => {
  const name = relative(join(root, 'src/core'), test).replace('.test.ts', '').replace(/[/\\]/g, '-')
  return join(root, 'tests/core/approved/kept', name + ending)
}

export default defineConfig({
  test: {
    resolveSnapshotPath: keptAt,
    projects: [
      {
        test: {
          name: 'core',
          include: ['src/core/**/*.test.ts', 'tests/core/**/*.test.ts', 'tests/architecture/**/*.test.ts'],
          setupFiles: ['tests/quick-equality.ts'],
          // what hangs is found by it; these take what others leave of the processors
          testTimeout: 600000,
          // files of the core share nothing that they change: each module is loaded once
          isolate: false,
          // one a processor, not one less
          maxWorkers: availableParallelism(),
          execArgv: ['--max-old-space-size=6000'],
        },
      },
      {
        test: {
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          // what hangs is found by it: a busy machine takes two minutes for what takes ten seconds elsewhere
          testTimeout: 600000,
          hookTimeout: 600000,
          // against a real database and real processes; a second try is told in the list
          retry: 1,
          // they share one database
          fileParallelism: false,
        },
      },
    ],
  },
})
