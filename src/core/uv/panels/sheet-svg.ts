/** A sheet of panels as an SVG document whose units are millimetres. Source of the form: SVG 1.1 (Second Edition), W3C. */
import type { PanelSheet } from './panel-sheet.ts'

const escaped = (text: string): string =>
  text
    .replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '')

const short = (value: number): string => String(Number(value.toFixed(3)))

export function sheetSvg({ width, height, items }: PanelSheet): string {
  const drawn = items.map((item) => {
    if (item.kind === 'text')
      return `<text x="${short(item.at[0])}" y="${short(height - item.at[1])}" font-size="${short(item.size)}" text-anchor="${item.anchor}">${escaped(item.text)}</text>`
    const corners = item.points.map(([x, y]) => `${short(x)} ${short(height - y)}`).join('L')
    return `<path d="M${corners}${item.closed ? 'Z' : ''}" stroke-width="${item.width}"/>`
  })
  const [w, h] = [short(width), short(height)]
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 0 ${w} ${h}">`,
    '<g fill="none" stroke="#000" stroke-linejoin="round">',
    ...drawn.filter((one) => one.startsWith('<path')),
    '</g>',
    '<g fill="#000" font-family="Helvetica, Arial, sans-serif">',
    ...drawn.filter((one) => one.startsWith('<text')),
    '</g>',
    '</svg>',
    '',
  ].join('\n')
}
