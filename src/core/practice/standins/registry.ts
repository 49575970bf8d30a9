import { checkOption, OptionRefusal } from '../../base/options/check-options.ts'
import { hasValue, type OptionValue, type ValueOption } from '../../base/options/option.ts'
import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import { fileNameOf, type PackageFile } from '../../formats/package/package-file.ts'
import type { ReadOptions } from '../../formats/descriptor.ts'
import { FORMATS, formatOf } from '../../formats/registry.ts'
import { wrapsFiles } from '../../formats/package/read-package.ts'
import { readZip, ZIP_LIMITS_DEFAULTS, type ZipLimits } from '../../formats/package/read-zip.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { assembler } from './assembler.ts'
import { engine } from './engine.ts'
import { modeller } from './modeller.ts'
import { painter } from './painter.ts'
import { renderer } from './renderer.ts'
import { patternMaker } from './pattern-maker.ts'
import { roughHand } from './rough-hand.ts'
import { sculptor } from './sculptor.ts'
import { tablet } from './tablet.ts'
import type { StandInDescriptor, StandInResult } from './standin.ts'

export const STAND_INS: readonly StandInDescriptor[] = [
  sculptor,
  modeller,
  painter,
  patternMaker,
  engine,
  renderer,
  roughHand,
  tablet,
  assembler,
]

/** The stand-in of an id; null for none. */
export const standInOf = (id: string): StandInDescriptor | null =>
  STAND_INS.find((standIn) => standIn.id === id) ?? null

/** A parameter's value within its bounds; what doesn't fit its kind is its default. */
function soundValue(option: ValueOption, value: unknown): OptionValue {
  if (option.kind === 'number' && typeof value === 'number' && Number.isFinite(value))
    return Math.min(option.max, Math.max(option.min, value))
  if (option.kind === 'text' && typeof value === 'string') return value.slice(0, option.most)
  try {
    return checkOption(option, value)
  } catch (error) {
    if (error instanceof OptionRefusal) return option.default
    throw error
  }
}

/**
 * Gives a stand-in what a trip sent, ZIPs unpacked.
 * @throws KelboError `package.no-model`, `standin.format` where it can't read the model's format.
 */
export function runStandIn(
  standIn: StandInDescriptor,
  files: readonly PackageFile[],
  options: Readonly<Record<string, unknown>> = {},
  readOptions: ReadOptions = {},
  limits: ZipLimits = ZIP_LIMITS_DEFAULTS,
  codec: ZlibCodec | null = null,
): StandInResult {
  const unpacked = files.flatMap((file) => (wrapsFiles(file) ? readZip(file, limits).files : [file]))
  const models = unpacked.filter((file) => formatOf(file.name))
  if (models.length === 0) throw new KelboError('package.no-model')
  const model = models.find((file) => standIn.reads.includes(formatOf(file.name)!.id))
  if (!model)
    throw new KelboError('standin.format', {
      name: standIn.name,
      file: fileNameOf(models[0]!.name),
      formats: FORMATS.filter((format) => standIn.reads.includes(format.id))
        .map((format) => format.name)
        .join(', '),
    })
  const values = new Map(
    standIn.parameters.filter(hasValue).map((option) => [option.id, soundValue(option, options[option.id])]),
  )
  return standIn.run(model, unpacked, {
    value: (id) => values.get(id)!,
    readOptions,
    codec,
  })
}
