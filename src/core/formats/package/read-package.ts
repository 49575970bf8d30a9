import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { type Scene } from '../../scene/scene.ts'
import { fileNameOf, type PackageFile } from './package-file.ts'
import type { ReadOptions } from '../descriptor.ts'
import { formatNames, formatOf, optionsFor } from '../registry.ts'
import { isZip, readZip, ZIP_LIMITS_DEFAULTS, type ZipLimits } from './read-zip.ts'
import { completeIds } from '../../scene/ids.ts'
import { appendScene } from './append-scene.ts'
import { isMaterialDocument, withDocumentMaterials } from './document-materials.ts'

export interface PackageResult {
  readonly scene: Scene
  readonly findings: readonly Finding[]
  /** Names of the model files that were read. */
  readonly models: readonly string[]
}

/** A ZIP that only holds files together; some formats are ZIPs themselves. */
export const wrapsFiles = (file: PackageFile): boolean => isZip(file) && !formatOf(file.name)

/**
 * Reads what an artist drops: model files, with material files and images beside them, or ZIPs of these.
 * Parts of several models are appended to one scene, in the space of the first; materials of the same name are one
 * material where they say the same, and are kept apart where they don't. Every node, mesh and material has an id.
 *
 * @throws KelboError `package.no-model`, `file.unknown-format`, and what reading the only model throws. Of
 * several models one that can't be read becomes a finding.
 */
export function readPackage(
  dropped: readonly PackageFile[],
  options: ReadOptions = {},
  limits: ZipLimits = ZIP_LIMITS_DEFAULTS,
  progress: (share: number) => void = () => {},
): PackageResult {
  const findings: Finding[] = []
  const files: PackageFile[] = []
  for (const file of dropped)
    if (wrapsFiles(file)) {
      const unpacked = readZip(file, limits)
      files.push(...unpacked.files)
      findings.push(...unpacked.findings)
    } else files.push(file)
  progress(0.1)
  const models = files.filter((file) => formatOf(file.name) && !file.isBeside)
  if (models.length === 0) {
    const only = dropped.length === 1 && !isZip(dropped[0]!) ? dropped[0]! : null
    if (!only) throw new KelboError('package.no-model')
    throw new KelboError(
      'file.unknown-format',
      { name: fileNameOf(only.name), known: formatNames() },
      only.name,
    )
  }
  let failure: KelboError | null = null
  const results: { model: PackageFile; scene: Scene; findings: readonly Finding[] }[] = []
  const taken = new Set<string>()
  models.forEach((model, index) => {
    // what another has taken in already is no model of its own
    if (taken.has(model.name)) return
    try {
      const format = formatOf(model.name)!
      const result = format.read(model, files, optionsFor(format, options))
      results.push({ model, scene: result.scene, findings: result.findings })
      for (const name of result.taken ?? []) taken.add(name)
    } catch (error) {
      if (!(error instanceof KelboError)) throw error
      failure = error
      if (models.length > 1)
        findings.push({
          code: error.code,
          parameters: error.parameters,
          file: model.name,
          line: null,
          byte: null,
          total: 1,
        })
    }
    progress(0.1 + (0.9 * (index + 1)) / models.length)
  })
  // two that take in each other are both there
  const kept = results.filter(({ model }) => !taken.has(model.name))
  const read: string[] = []
  let scene: Scene | null = null
  for (const { model, ...result } of kept.length ? kept : results) {
    findings.push(...result.findings)
    if (scene) {
      const messages = collectMessages(model.name)
      const names = { first: fileNameOf(read[0]!), file: fileNameOf(model.name) }
      scene = appendScene(scene, result.scene, names, messages)
      findings.push(...messages.list())
    } else scene = result.scene
    read.push(model.name)
  }
  if (!scene) throw failure ?? new KelboError('package.no-model')
  if (files.some(({ name }) => isMaterialDocument(name))) {
    const messages = collectMessages(null)
    scene = withDocumentMaterials(scene, files, messages)
    findings.push(...messages.list())
  }
  return { scene: completeIds(scene), findings, models: read }
}

/** A model file, or a package that may hold one. */
export const isModelName = (name: string): boolean =>
  formatOf(name) !== null || name.toLowerCase().endsWith('.zip')
