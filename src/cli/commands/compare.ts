import { wanted, type Command } from '../command.ts'
import { hasDifferences, ledgerDocument, ledgerText, mapsDocument, storyOf } from '../ledger-text.ts'
import { readPair, wholeLine } from '../read-pair.ts'

/** The ledger of one file against another. */
export const compareCommand: Command = (paths, values) => {
  const [a, b] = wanted(paths, 'A', 'B')
  const pair = readPair(a!, b!, values)
  return {
    output: {
      ...ledgerDocument(pair.ledger),
      undone: pair.whole?.undone ? pair.whole.text : null,
      ...(values['with-maps'] ? { maps: mapsDocument(pair.master, pair.returned, pair.matching) } : {}),
    },
    text: [
      ...wholeLine(pair),
      storyOf(pair.ledger).join(' '),
      '',
      ledgerText(pair.ledger, values.all === true),
    ].join('\n'),
    findings: pair.findings,
    status: pair.whole || hasDifferences(pair.ledger) ? 1 : 0,
  }
}
