/** Layers by their files: text, binary, or the first of a package. Source: OpenUSD, “Usdz file format specification”. */
import { asciiText } from '../../base/bytes/parse-number.ts'
import { normalizeTextBytes } from '../../base/bytes/text.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { findInPackage, type PackageFile } from '../package/package-file.ts'
import { isZip, readZip } from '../package/read-zip.ts'
import type { LayerFinder } from './compose.ts'
import type { UsdLayer } from './layer.ts'
import { isCrate } from './open-crate.ts'
import { readCrate } from './read-crate.ts'
import { readUsdText } from './read-text.ts'

const LAYER_ENDING = /\.usd[ac]?$/i

export interface OpenedFile {
  readonly layer: UsdLayer
  /** The file that the layer is, and what lies beside it. */
  readonly file: string
  readonly beside: readonly PackageFile[]
  /** Other files that were taken in, by their names in the package. */
  readonly taken: ReadonlySet<string>
  readonly finder: LayerFinder
  readonly form: 'text' | 'binary' | 'package'
  /** Such as 0.8.0 of a binary file. */
  readonly version: string | null
}

function layerOf(file: PackageFile, messages: MessageCollector): UsdLayer {
  if (isCrate(file.bytes)) return readCrate(file.bytes, file.name, messages)
  const text = normalizeTextBytes(file.bytes)
  if (!/^\s*#(usda|sdf)/.test(asciiText(text, 0, Math.min(64, text.length))))
    throw new KelboError(file.bytes.length ? 'file.not-a-model' : 'file.empty', {}, file.name)
  return readUsdText(text, file.name)
}

/** @throws KelboError `usd.package`, and what reading a layer throws. */
export function openLayers(
  dropped: PackageFile,
  around: readonly PackageFile[],
  messages: MessageCollector,
): OpenedFile {
  const isPackage = isZip(dropped)
  let file = dropped
  let beside = around
  if (isPackage) {
    const { files } = readZip(dropped)
    // the first file is the model; some programs put it elsewhere
    const first = files.find(({ name }) => LAYER_ENDING.test(name))
    if (!first) throw new KelboError('usd.package', {}, dropped.name)
    file = first
    beside = files
  }
  const layers = new Map<string, UsdLayer | null>()
  const taken = new Set<string>()
  const finder: LayerFinder = {
    open: (asset, from) => {
      // a file inside a package inside: package[file]
      const { file: found } = findInPackage(beside, from, asset.replace(/\[.*\]$/, ''))
      if (!found) return null
      if (!layers.has(found.name)) {
        layers.set(found.name, null)
        try {
          layers.set(
            found.name,
            isZip(found) ? openLayers(found, beside, messages).layer : layerOf(found, messages),
          )
          taken.add(found.name)
        } catch (error) {
          if (!(error instanceof KelboError)) throw error
          messages.add(error.code, error.parameters)
        }
      }
      const layer = layers.get(found.name)
      return layer ? { layer, file: found.name } : null
    },
  }
  const layer = layerOf(file, messages)
  return {
    layer,
    file: file.name,
    beside,
    taken,
    finder,
    form: isPackage ? 'package' : isCrate(file.bytes) ? 'binary' : 'text',
    version: isCrate(file.bytes) ? [...file.bytes.subarray(8, 11)].join('.') : null,
  }
}
