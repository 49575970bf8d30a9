/** A ledger as something to keep: plain data, or one page to print. */
import { shownName } from '../../base/messages/names-text.ts'
import { renderText } from '../../base/messages/render.ts'
import { STATE_WORDS, type NoteDescriptor, type TraitState } from '../traits/trait.ts'
import { wholeText } from '../whole/whole-text.ts'
import { tellStory, type StoryLedger } from './tell-story.ts'

export interface ReportSource {
  readonly asset: string
  readonly trip: number
  readonly destination: string
  readonly file: string
  /** When it came back. */
  readonly at: string
  readonly ledger: StoryLedger
  /** In the order in which they are shown. */
  readonly traits: readonly { readonly id: string; readonly title: string }[]
  readonly notes: Readonly<Record<string, NoteDescriptor>>
}

export interface Report {
  readonly kind: 'kelbo-report'
  readonly asset: string
  readonly trip: number
  readonly destination: string
  readonly file: string
  readonly at: string
  readonly story: readonly string[]
  /** What happened to all of it; null for nothing. */
  readonly whole: { readonly text: string; readonly undone: boolean } | null
  readonly parts: readonly {
    readonly name: string
    readonly polygons: number
    readonly traits: readonly {
      readonly trait: string
      readonly state: TraitState
      readonly says: string
      readonly changed: number
      readonly total: number
      readonly deviation: number | null
    }[]
  }[]
}

export function makeReport({ ledger, traits, notes, ...about }: ReportSource): Report {
  const titles = new Map(traits.map(({ id, title }) => [id, title]))
  const whole = ledger.whole ?? ledger.undone ?? null
  return {
    kind: 'kelbo-report',
    ...about,
    story: tellStory(ledger, {
      titleOf: (trait) => titles.get(trait) ?? trait,
      isToolsOwn: (note) => notes[note]?.toolsOwn === true,
    }),
    whole: whole && { text: wholeText(whole), undone: !ledger.whole },
    parts: ledger.rows.map(({ name, faceCount, cells }) => ({
      name,
      polygons: faceCount,
      traits: traits.flatMap(({ id, title }) => {
        const cell = cells[id]
        if (!cell || cell.empty) return []
        return [
          {
            trait: title,
            state: cell.state,
            says: renderText(notes[cell.note]?.ledger ?? cell.note, cell.parameters),
            changed: cell.changedCount,
            total: cell.totalCount,
            deviation: cell.deviation,
          },
        ]
      }),
    })),
  }
}

const plain = (text: string): string =>
  text.replace(/[&<>"]/g, (letter) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[letter]!)

const STYLE = `body{font:14px/1.5 system-ui,sans-serif;color:#1d1f24;max-width:50rem;margin:2.5rem auto;padding:0 1rem}
h1{font-size:1.4rem;margin:0}h2{font-size:1rem;margin:1.4rem 0 .2rem}p{margin:.3rem 0}.story{font-size:1.1rem}
table{border-collapse:collapse;width:100%}td{border-top:1px solid #d9d4c7;padding:.2rem .6rem .2rem 0;vertical-align:top}
td:first-child{width:7rem}td:nth-child(2){width:10rem}.soft{color:#5d5b55}
@media print{h2,tr{break-inside:avoid}body{margin:0}}`

/** One page that needs nothing beside it: what is the same of a part is one line. */
export function reportPage(report: Report): string {
  const rows = report.parts.map(({ name, polygons, traits }) => {
    const told = traits.filter(({ state }) => state !== 'same')
    const same = traits.filter(({ state }) => state === 'same').map(({ trait }) => trait)
    return `<h2>${plain(shownName(name))} <span class="soft">${polygons === 1 ? 'one polygon' : `${polygons.toLocaleString('en-US')} polygons`}</span></h2>
<table>${told
      .map(
        ({ trait, state, says }) =>
          `<tr><td>${plain(trait)}</td><td>${STATE_WORDS[state]}</td><td>${plain(says)}</td></tr>`,
      )
      .join('\n')}
${same.length ? `<tr><td class="soft">the same</td><td colspan="2" class="soft">${plain(same.join(', '))}</td></tr>` : ''}</table>`
  })
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${plain(report.asset)}, trip ${report.trip}</title><style>${STYLE}</style></head>
<body><h1>${plain(report.asset)}, trip ${report.trip}: what came back</h1>
<p class="soft">${plain(report.file)} from the ${plain(report.destination.toLowerCase())}, ${plain(report.at)}</p>
<p class="story">${report.story.map(plain).join(' ')}</p>
${rows.join('\n')}
</body></html>
`
}
