import { availableParallelism } from 'node:os'
import { defineConfig } from 'vitest/config'
import { keptAt } from './tests/core/approved/kept-at.ts'

const WHOLE_APPLICATION = 'tests/server/life.test.ts'

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
          exclude: [WHOLE_APPLICATION],
          // what hangs is found by it: a busy machine takes two minutes for what takes ten seconds elsewhere
          testTimeout: 600000,
          hookTimeout: 600000,
          // against a real database and real processes; a second try is told in the list
          retry: 1,
          // they share one database
          fileParallelism: false,
        },
      },
      {
        test: {
          // starts the whole application again and again, with databases of its own: it runs beside the others
          name: 'life',
          include: [WHOLE_APPLICATION],
          testTimeout: 600000,
          hookTimeout: 600000,
          retry: 1,
        },
      },
    ],
  },
})
