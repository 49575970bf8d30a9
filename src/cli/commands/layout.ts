import { writeFileSync } from 'node:fs'
import { defaultsOf, hasValue, type OptionDescriptor } from '../../core/base/options/option.ts'
import { layoutSvg } from '../../core/uv/islands/layout-svg.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseOptions, parseReadOptions } from '../load.ts'
import { UsageError } from '../usage-error.ts'

const FIRST_TILE = 1001
const OPTIONS: readonly OptionDescriptor[] = [
  { id: 'set', title: 'UV set', kind: 'text', default: '', most: 500 },
  {
    id: 'size',
    title: 'Side',
    unit: 'pixels',
    kind: 'number',
    default: 2048,
    min: 16,
    max: 65536,
    whole: true,
  },
  { id: 'tile', title: 'Tile', kind: 'number', default: FIRST_TILE, min: FIRST_TILE, max: 1999, whole: true },
]

/** How the UVs of a model lie, as an SVG document, to paint over. */
export const layoutCommand: Command = (paths, values) => {
  const [path, to] = wanted(paths, 'FILE', 'OUT.svg')
  if (!/\.svg$/i.test(to!)) throw new UsageError(`“${to}” has to end in .svg.`)
  const options = { ...defaultsOf(OPTIONS.filter(hasValue)), ...parseOptions(values.option ?? [], OPTIONS) }
  const { scene, findings } = loadModel(path!, parseReadOptions(values.read))
  const number = (options['tile'] as number) - FIRST_TILE
  const svg = layoutSvg(scene, {
    set: String(options['set'] ?? ''),
    size: options['size'] as number,
    tile: { column: number % 10, row: Math.floor(number / 10) },
  })
  if (svg) writeFileSync(to!, svg)
  return {
    output: { file: svg ? to : null, bytes: svg ? Buffer.byteLength(svg) : 0 },
    text: svg ? `${to}` : 'No polygon lies in that tile; nothing was written.',
    findings,
    status: svg ? 0 : 1,
  }
}
