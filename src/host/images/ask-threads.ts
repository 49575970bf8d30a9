/** Work spread over threads, one piece at a time each. */
import { parentPort, Worker } from 'node:worker_threads'

/**
 * @param order numbers of the pieces, in the order in which they are begun.
 * @param told how many are done.
 * @returns the answers by the pieces' numbers.
 * @throws Error where a thread ends or fails.
 */
export async function askThreads<Answer>(
  file: string,
  threadCount: number,
  order: readonly number[],
  pieceOf: (at: number) => unknown,
  told: (done: number, share: number) => void,
): Promise<Answer[]> {
  const answers = new Array<Answer>(order.length)
  let next = 0
  let done = 0
  const threads = Array.from({ length: threadCount }, () => new Worker(file))
  try {
    await Promise.all(
      threads.map(async (thread) => {
        for (let turn = next++; turn < order.length; turn = next++) {
          const at = order[turn]!
          answers[at] = await askThread<Answer>(thread, pieceOf(at), (share) => told(done, share))
          told(++done, 0)
        }
      }),
    )
  } finally {
    for (const thread of threads) void thread.terminate()
  }
  return answers
}

interface Message<Answer> {
  readonly answer?: Answer
  readonly fault?: string
  /** Of the piece that is worked on. */
  readonly share?: number
}

function askThread<Answer>(thread: Worker, piece: unknown, told: (share: number) => void): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const end = (): void => {
      thread.off('message', onMessage).off('error', onError).off('exit', onExit)
    }
    const onMessage = (message: Message<Answer>): void => {
      if (message.share !== undefined) return told(message.share)
      end()
      if (message.answer !== undefined) resolve(message.answer)
      else reject(new Error(message.fault))
    }
    const onError = (error: Error): void => {
      end()
      reject(error)
    }
    const onExit = (code: number): void => {
      end()
      reject(new Error(`the thread ended with ${code}`))
    }
    thread.on('message', onMessage).on('error', onError).on('exit', onExit)
    thread.postMessage(piece)
  })
}

/** In a thread: answers each piece that it is asked for. */
export function answerInThread<Piece>(
  work: (piece: Piece, told: (share: number) => void) => Promise<unknown>,
): void {
  const port = parentPort!
  port.on('message', (piece: Piece) => {
    void work(piece, (share) => port.postMessage({ share })).then(
      (answer) => port.postMessage({ answer }),
      (error: unknown) => port.postMessage({ fault: error instanceof Error ? error.stack : String(error) }),
    )
  })
}
