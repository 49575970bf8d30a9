import { createInterface } from 'node:readline'

/** What is typed is not shown. A line of standard input where that is no terminal. */
export async function askPassword(prompt: string): Promise<string> {
  const { stdin, stderr } = process
  if (!stdin.isTTY) {
    for await (const line of createInterface({ input: stdin })) return line
    return ''
  }
  stderr.write(prompt)
  stdin.setRawMode(true)
  stdin.setEncoding('utf8')
  let typed = ''
  try {
    for await (const text of stdin.iterator({ destroyOnReturn: false }) as AsyncIterable<string>)
      for (const letter of text) {
        if (letter === '\r' || letter === '\n') return typed
        if (letter === '\u0003' || letter === '\u0004') throw new Error('Nothing was changed.')
        if (letter === '\u007f' || letter === '\b') typed = [...typed].slice(0, -1).join('')
        else if (letter >= ' ') typed += letter
      }
    return typed
  } finally {
    stdin.setRawMode(false)
    stderr.write('\n')
  }
}
