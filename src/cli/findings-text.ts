/** What was found in files, as the command line prints it: what is said of many places stands there once. */
import { messagePlace, type Finding } from '../core/base/messages/catalogue.ts'
import { readableNumber } from '../core/base/messages/render.ts'
import { entryOf, messageText } from '../core/formats/catalogue.ts'

interface Line {
  readonly first: Finding
  readonly message: string
  count: number
}

/** @returns a line for each sentence of each file, in the order in which they came. */
export function findingLines(findings: readonly Finding[]): string[] {
  const lines = new Map<string, Line>()
  for (const finding of findings) {
    const message = messageText(finding.code, finding.parameters)
    const key = JSON.stringify([finding.file, finding.code, message])
    const line = lines.get(key)
    if (line) line.count++
    else lines.set(key, { first: finding, message, count: 1 })
  }
  /** Lines of one code and file, which is what totals count. */
  const alike = new Map<string, Line[]>()
  for (const line of lines.values()) {
    const key = JSON.stringify([line.first.file, line.first.code])
    alike.set(key, [...(alike.get(key) ?? []), line])
  }
  const lastOf = new Map<Line, number>()
  for (const own of alike.values()) {
    const unlisted = own[0]!.first.total - own.reduce((sum, { count }) => sum + count, 0)
    if (unlisted <= 0) continue
    // not listed, they may say something else, unless all that are listed say the same
    if (own.length === 1) own[0]!.count += unlisted
    else lastOf.set(own.at(-1)!, unlisted)
  }
  return [...lines.values()].flatMap((line) => {
    const { first, message, count } = line
    const { severity } = entryOf(first.code)
    const place = messagePlace(first)
    const where = count > 1 ? `${place ? `${place} ` : ''}and ${readableNumber(count - 1)} more` : place
    const more = lastOf.get(line)
    return [
      `${severity}: ${where ? `${where}: ` : ''}${message}`,
      ...(more
        ? [`${severity}: ${first.file ? `${first.file}: ` : ''}${readableNumber(more)} more like these.`]
        : []),
    ]
  })
}
