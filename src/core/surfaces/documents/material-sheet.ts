/**
 * The sheet: each material, slot, file, colour space, value and amount in wiring order, for what reads no document, and
 * for people.
 */
import type { Scene } from '../../scene/scene.ts'
import { valueText } from '../convert/convert-surface.ts'
import type { SurfaceValue, SurfaceValues } from '../model.ts'
import type { MapUse } from '../remap/map-use.ts'
import type { RemappedMaterial, RemappedParameter } from '../remap/remapped-material.ts'
import { escapeXml } from './escape-xml.ts'

export interface SheetRow {
  readonly parameter: string
  readonly slot: string | null
  readonly value: SurfaceValue | null
  readonly unit: string | null
  readonly map: string | null
  /** The file that it was found as, which channel of it, and whether that was turned round. */
  readonly source: MapUse['source'] | null
  readonly channel: string | null
  readonly inverted: boolean
  readonly colorSpace: string | null
  readonly amount: number
  /** Its pixels are multiplied by the value. */
  readonly times: boolean
  /** The value that they are multiplied by already: it is drawn into them. */
  readonly drawnTimes: SurfaceValue | null
  /** The value that a share of them is drawn over already. */
  readonly drawnOver: SurfaceValue | null
  /** Which way green points in a map of normals; null for other maps, and where it isn't known. */
  readonly direction: string | null
  readonly how: 'exact' | 'approximate' | 'none'
  readonly note: string
  readonly from: RemappedParameter['from']
}

export interface MaterialSheet {
  readonly material: string
  /** Over all parts; one that several nodes show counts for each. */
  readonly polygons: number
  /** As it came: its model, how that is known, and its values in that model's words. */
  readonly from: {
    readonly model: string
    readonly title: string
    readonly how: string
    readonly share: number
    readonly values: SurfaceValues
  }
  readonly surface: string
  readonly parameters: readonly SheetRow[]
  readonly lost: RemappedMaterial['lost']
  /** Materials that were drawn into this one; absent: it is one of the model's own. */
  readonly drawnFrom?: readonly string[]
  readonly drawnInto?: RemappedMaterial['drawnInto']
}

/** @param scene whose polygons name these materials, by their places in the list. */
export function sheetsOf(materials: readonly RemappedMaterial[], scene: Scene): MaterialSheet[] {
  const counts = new Float64Array(materials.length)
  for (const { mesh } of scene.nodes)
    for (const material of scene.meshes[mesh]?.faceMaterials ?? []) if (material >= 0) counts[material]!++
  return materials.map((material, at) => sheetOf(material, counts[at]!))
}

const sheetOf = (material: RemappedMaterial, polygons: number): MaterialSheet => ({
  material: material.name,
  polygons,
  from: {
    model: material.recognised.model.id,
    title: material.recognised.model.title,
    how: material.recognised.how,
    share: material.recognised.share,
    values: material.recognised.values,
  },
  surface: material.target.id,
  parameters: material.parameters.map((row) => ({
    parameter: row.parameter,
    slot: row.slot,
    value: row.value,
    unit:
      material.target.parameters.find(({ name, mapName }) => (name ?? mapName) === row.parameter)?.unit ??
      null,
    map: row.map?.file ?? null,
    source: row.map?.source ?? null,
    channel: row.map?.channel ?? null,
    inverted: row.map?.inverted ?? false,
    colorSpace: row.map?.colorSpace ?? null,
    amount: row.map ? row.map.amount * (row.map.drawnShare ?? 1) : 1,
    times:
      row.map !== null &&
      (row.map.isTimesValue === true ||
        material.target.timesMap === 'all' ||
        material.target.timesMap?.includes(row.parameter) === true),
    drawnTimes: row.map?.drawnTimes ?? null,
    drawnOver: row.map?.drawnOver ?? null,
    direction: row.map?.direction ?? null,
    how: row.how,
    note: row.note,
    from: row.from,
  })),
  lost: material.lost,
  ...(material.drawnFrom ? { drawnFrom: material.drawnFrom, drawnInto: material.drawnInto } : {}),
})

/** What is worth a line for a person: what the material, a map or a rule says. */
const isSaid = ({ from, map }: SheetRow): boolean => from !== 'standard' || map !== null

/** A page of its own that prints well: no script, nothing fetched. */
export function sheetPage(title: string, surface: string, sheets: readonly MaterialSheet[]): string {
  const cell = (text: string): string => `<td>${escapeXml(text)}</td>`
  const sections = sheets.map(
    ({ material, from, parameters, lost }) => `<section>
<h2>${escapeXml(material)}</h2>
<p>It came as ${escapeXml(from.title)}.</p>
<table>
<thead><tr><th>Parameter</th><th>Value</th><th>Map</th><th>Channel</th><th>Colours</th><th>Amount</th><th>Remark</th></tr></thead>
<tbody>
${parameters
  .filter(isSaid)
  .map(
    (row) =>
      `<tr>${[
        row.parameter,
        `${valueText(row.value, 4)}${row.value !== null && row.unit ? ` ${row.unit}` : ''}`,
        row.map ?? '',
        row.map ? `${row.channel}${row.inverted ? ', turned round' : ''}` : '',
        row.map ? (row.colorSpace === 'sRGB' ? 'sRGB' : 'plain numbers') : '',
        row.map && row.amount !== 1 ? `${Math.round(row.amount * 100)} %` : '',
        [row.direction ? `green ${row.direction}` : '', row.how === 'exact' ? '' : row.how, row.note]
          .filter(Boolean)
          .join('; '),
      ]
        .map(cell)
        .join('')}</tr>`,
  )
  .join('\n')}
</tbody>
</table>
${lost.length ? `<p>Without a place:</p>\n<ul>\n${lost.map(({ what, note }) => `<li>${escapeXml(what)}: ${escapeXml(note)}</li>`).join('\n')}\n</ul>` : ''}
</section>`,
  )
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>${escapeXml(title)}</title>
<style>
body { font: 11pt/1.4 system-ui, sans-serif; color: #1d1d1b; margin: 2cm; }
h1 { font-size: 16pt; } h2 { font-size: 13pt; margin: 1.5em 0 0; }
table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums; }
th, td { text-align: left; vertical-align: top; border-bottom: 1px solid #bbb; padding: 2pt 8pt 2pt 0; }
section { break-inside: avoid; }
</style>
</head>
<body>
<h1>${escapeXml(title)}</h1>
<p>Materials for ${escapeXml(surface)}, in wiring order.</p>
${sections.join('\n')}
</body>
</html>
`
}
