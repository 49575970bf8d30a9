/** Milliseconds after which a process that does not come to its end is ended. */
const PATIENCE_MILLISECONDS = 7500

/**
 * Ends this process politely when it is asked to, or when whoever started it is gone: that one holds the other end of
 * standard input, where it says so by KELBO_ENDS_WITH_PARENT.
 */
export function endPolitely(stop: () => Promise<void>): void {
  let ending = false
  const end = (): void => {
    if (ending) return
    ending = true
    setTimeout(() => process.exit(1), PATIENCE_MILLISECONDS).unref()
    stop().then(
      () => process.exit(0),
      (error: unknown) => {
        console.error(error)
        process.exit(1)
      },
    )
  }
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, end)
  if (process.env.KELBO_ENDS_WITH_PARENT) process.stdin.on('end', end).on('error', end).resume()
}
