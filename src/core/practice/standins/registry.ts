import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import { fileNameOf, type PackageFile } from '../../formats/package/package-file.ts'
import { FORMATS, formatOf, type ReadOptions } from '../../formats/registry.ts'
import { isZip, readZip, ZIP_LIMITS_DEFAULTS, type ZipLimits } from '../../formats/package/read-zip.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { engine } from './engine.ts'
import { modeller } from './modeller.ts'
import { sculptor } from './sculptor.ts'
import type { StandInDescriptor, StandInResult, StandInValue } from './standin.ts'

export const STAND_INS: readonly StandInDescriptor[] = [sculptor, modeller, engine]

export const standInOf = (id: string): StandInDescriptor | null =>
  STAND_INS.find((standIn) => standIn.id === id) ?? null

/** A parameter's value within its bounds; what doesn't fit its type is its default. */
function soundValue(parameter: StandInDescriptor['parameters'][number], value: unknown): StandInValue {
  switch (parameter.type) {
    case 'boolean':
      return typeof value === 'boolean' ? value : parameter.default
    case 'number':
      return typeof value === 'number' && Number.isFinite(value)
        ? Math.min(parameter.max, Math.max(parameter.min, value))
        : parameter.default
    case 'text':
      return typeof value === 'string' ? value.slice(0, parameter.most) : parameter.default
    case 'choice':
      return parameter.choices.some((choice) => choice.value === value)
        ? (value as string)
        : parameter.default
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
  const unpacked = files.flatMap((file) => (isZip(file) ? readZip(file, limits).files : [file]))
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
    standIn.parameters.map((parameter) => [parameter.name, soundValue(parameter, options[parameter.name])]),
  )
  return standIn.run(model, unpacked, {
    value: (name) => values.get(name)!,
    readOptions,
    codec,
  })
}
