import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['src/core/**/*.test.ts', 'tests/core/**/*.test.ts', 'tests/architecture/**/*.test.ts'],
          testTimeout: 120000,
        },
      },
      {
        test: {
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          testTimeout: 120000,
          hookTimeout: 120000,
          // they share one database
          fileParallelism: false,
        },
      },
    ],
  },
})
