import { writeFileSync } from 'node:fs'
import { defaultsOf, hasValue, type OptionDescriptor } from '../../core/base/options/option.ts'
import { panelSheet, type PanelSheet } from '../../core/uv/panels/panel-sheet.ts'
import { sheetPdf, SheetTooLarge, type SheetPages } from '../../core/uv/panels/sheet-pdf.ts'
import { sheetSvg } from '../../core/uv/panels/sheet-svg.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseOptions, parseReadOptions } from '../load.ts'
import { UsageError } from '../usage-error.ts'

const OPTIONS: readonly OptionDescriptor[] = [
  { id: 'set', title: 'UV set', kind: 'text', default: '', most: 500 },
  {
    id: 'pages',
    title: 'Pages of a PDF',
    kind: 'choice',
    default: 'one',
    choices: [
      { value: 'one', title: 'one, as large as the sheet' },
      { value: 'a4', title: 'A4' },
      { value: 'a3', title: 'A3' },
    ],
  },
]

function written(sheet: PanelSheet, pages: SheetPages | null): Uint8Array {
  if (pages === null) return new TextEncoder().encode(sheetSvg(sheet))
  try {
    return sheetPdf(sheet, pages)
  } catch (error) {
    if (error instanceof SheetTooLarge) throw new UsageError(error.message)
    throw error
  }
}

/** The islands of a model as panels at true size, to be printed and cut. */
export const panelsCommand: Command = (paths, values) => {
  const [path, to] = wanted(paths, 'FILE', 'OUT.svg or OUT.pdf')
  if (!/\.(svg|pdf)$/i.test(to!)) throw new UsageError(`“${to}” has to end in .svg or .pdf.`)
  const options = { ...defaultsOf(OPTIONS.filter(hasValue)), ...parseOptions(values.option ?? [], OPTIONS) }
  const { scene, findings } = loadModel(path!, parseReadOptions(values.read))
  const sheet = panelSheet(scene, { set: String(options['set'] ?? '') })
  const bytes = sheet && written(sheet, /\.pdf$/i.test(to!) ? (options['pages'] as SheetPages) : null)
  if (bytes) writeFileSync(to!, bytes)
  const size = sheet ? `${(sheet.width / 1000).toFixed(2)} x ${(sheet.height / 1000).toFixed(2)} m` : ''
  return {
    output: sheet
      ? { file: to, bytes: bytes!.length, panels: sheet.panelCount, millimetres: [sheet.width, sheet.height] }
      : { file: null, bytes: 0, panels: 0, millimetres: null },
    text: sheet
      ? `${to}: ${sheet.panelCount} ${sheet.panelCount === 1 ? 'panel' : 'panels'}, ${size}`
      : 'No part has such UVs; nothing was written.',
    findings,
    status: sheet ? 0 : 1,
  }
}
