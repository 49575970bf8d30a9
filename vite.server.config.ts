import { defineConfig } from 'vite'

/** The server, its worker processes and threads, and the command line. */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'dist/server',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      input: {
        main: 'src/server/main.ts',
        'worker-main': 'src/server/jobs/worker-main.ts',
        'task-thread': 'src/server/jobs/task-thread.ts',
        'check-main': 'src/server/check-main.ts',
        'accounts-main': 'src/server/accounts/accounts-main.ts',
        'facts-thread': 'src/host/facts-thread.ts',
        'piece-thread': 'src/host/piece-thread.ts',
        'draw-thread': 'src/host/images/draw-thread.ts',
        'work-thread': 'src/host/images/work-thread.ts',
        cli: 'src/cli/main.ts',
        // the same without a process of its own, for tests
        'command-line': 'src/cli/run-command-line.ts',
        benchmark: 'benchmarks/main.ts',
      },
      output: { format: 'es', entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
    },
  },
})
