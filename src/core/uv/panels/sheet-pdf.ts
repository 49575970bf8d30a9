/**
 * A sheet of panels as a PDF at true size: one page as large as the sheet, or pages of a printer's size to be put together.
 * Source of the form: ISO 32000-1:2008 (PDF 1.7), chapters 7.5 (file structure), 8.5 (paths), 9.2 (text), 14.11.2 (pages).
 */
import type { PanelSheet, SheetItem } from './panel-sheet.ts'

export type SheetPages = 'one' | 'a4' | 'a3'

/** Points to a millimetre. */
const POINT = 72 / 25.4
/** Millimetres. */
const SIZES: Readonly<Record<Exclude<SheetPages, 'one'>, readonly [number, number]>> = {
  a4: [210, 297],
  a3: [297, 420],
}
/** Rim that a printer leaves white, millimetres; pages meet at the frame inside it. */
const RIM = 12
/** Widths of Helvetica's letters come to about this share of the size, in the middle. */
const LETTER = 0.52

/** Larger pages than this a reader need not show (14 400 points, Annex C). */
const LARGEST = 14400 / POINT

/** Pages that somebody might print. */
const MOST_PAGES = 600

/** Why a sheet can't be a PDF; its words are for the artist. */
export class SheetTooLarge extends Error {}

/** @throws SheetTooLarge. */
function refuseBeyond(count: number, { width, height }: PanelSheet): void {
  if (count <= MOST_PAGES) return
  const [wide, tall] = [width, height].map((value) => (value / 1000).toFixed(1))
  throw new SheetTooLarge(
    `The sheet is ${wide} by ${tall} m: ${count.toLocaleString('en-US')} pages, and ${MOST_PAGES} is the limit. Is the model as large as that? Its unit may be another one; the SVG has no limit.`,
  )
}

const number = (value: number): string => String(Number(value.toFixed(3)))

/** A string of the standard encoding; letters that it hasn't are question marks. */
const literal = (text: string): string =>
  `(${[...text]
    .map((sign) => {
      const code = sign.codePointAt(0)!
      if (sign === '“' || sign === '”') return '"'
      if (code < 32 || code > 255 || (code > 126 && code < 161)) return '?'
      return /[()\\]/.test(sign) ? `\\${sign}` : code > 126 ? `\\${code.toString(8).padStart(3, '0')}` : sign
    })
    .join('')})`

/** Drawing operators for everything, in millimetres. */
function operators(items: readonly SheetItem[]): string {
  const lines = ['1 j 0 G 0 g']
  for (const item of items) {
    if (item.kind === 'path') {
      const [first, ...rest] = item.points
      if (!first) continue
      lines.push(
        `${number(item.width)} w ${number(first[0])} ${number(first[1])} m ${rest.map(([x, y]) => `${number(x)} ${number(y)} l`).join(' ')} ${item.closed ? 's' : 'S'}`,
      )
      continue
    }
    const wide = item.anchor === 'middle' ? (item.text.length * item.size * LETTER) / 2 : 0
    lines.push(
      `BT /F1 ${number(item.size)} Tf ${number(item.at[0] - wide)} ${number(item.at[1])} Td ${literal(item.text)} Tj ET`,
    )
  }
  return lines.join('\n')
}

/** @returns the file; ASCII throughout. @throws SheetTooLarge where it would have too many pages. */
export function sheetPdf(sheet: PanelSheet, pages: SheetPages): Uint8Array {
  const { width, height, items } = sheet
  const objects: string[] = []
  const add = (body: string): number => objects.push(body)
  const stream = (dictionary: string, content: string): string =>
    `<< ${dictionary} /Length ${content.length} >>\nstream\n${content}\nendstream`
  // 1 catalog, 2 pages, 3 font, 4 the drawing
  add('<< /Type /Catalog /Pages 2 0 R >>')
  add('')
  add('<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>')
  add(
    stream(
      `/Type /XObject /Subtype /Form /BBox [0 0 ${number(width)} ${number(height)}] /Resources << /Font << /F1 3 0 R >> >>`,
      operators(items),
    ),
  )
  const kids: number[] = []
  const page = (wide: number, tall: number, content: string): void => {
    const drawn = add(stream('', content))
    kids.push(
      add(
        `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${number(wide * POINT)} ${number(tall * POINT)}] /Resources << /Font << /F1 3 0 R >> /XObject << /X1 4 0 R >> >> /Contents ${drawn} 0 R >>`,
      ),
    )
  }
  const scale = `${POINT} 0 0 ${POINT} 0 0 cm`
  if (pages === 'one') {
    // beyond what a page may measure its own unit is larger (UserUnit is not read everywhere): it is cut into strips
    const columns = Math.ceil(width / LARGEST)
    const rows = Math.ceil(height / LARGEST)
    refuseBeyond(columns * rows, sheet)
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const [x, y] = [column * LARGEST, Math.max(0, height - (row + 1) * LARGEST)]
        const [wide, tall] = [Math.min(LARGEST, width - x), Math.min(LARGEST, height - row * LARGEST)]
        page(wide, tall, `q ${scale} 1 0 0 1 ${number(-x)} ${number(-y)} cm /X1 Do Q`)
      }
  } else {
    const [wide, tall] = SIZES[pages]
    const [across, down] = [wide - 2 * RIM, tall - 2 * RIM]
    const [columns, rows] = [Math.ceil(width / across), Math.ceil(height / down)]
    refuseBeyond(columns * rows, sheet)
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        // the topmost row comes first
        const [x, y] = [column * across, height - (row + 1) * down]
        page(
          wide,
          tall,
          [
            `q ${scale} 0.1 w ${RIM} ${RIM} ${number(across)} ${number(down)} re S`,
            `BT /F1 4 Tf ${RIM} ${RIM - 6} Td ${literal(`row ${row + 1} of ${rows}, column ${column + 1} of ${columns}`)} Tj ET`,
            `${RIM} ${RIM} ${number(across)} ${number(down)} re W n`,
            `1 0 0 1 ${number(RIM - x)} ${number(RIM - y)} cm /X1 Do Q`,
          ].join('\n'),
        )
      }
  }
  objects[1] = `<< /Type /Pages /Count ${kids.length} /Kids [${kids.map((kid) => `${kid} 0 R`).join(' ')}] >>`
  let text = '%PDF-1.4\n'
  const places = objects.map((body, at) => {
    const place = text.length
    text += `${at + 1} 0 obj\n${body}\nendobj\n`
    return place
  })
  const table = text.length
  text += `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${places.map((place) => `${String(place).padStart(10, '0')} 00000 n \n`).join('')}`
  text += `trailer\n<< /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0))
}
