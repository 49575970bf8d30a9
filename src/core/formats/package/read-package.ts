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

interface ReadModel {
  readonly model: PackageFile
  readonly scene: Scene
  readonly findings: readonly Finding[]
}

interface ReadModels {
  /** Of all files, those of ZIPs among them. */
  readonly files: readonly PackageFile[]
  /** In the order in which they were dropped; none that another has taken in. */
  readonly read: readonly ReadModel[]
  /** What is said of the package, and of nothing in it. */
  readonly findings: readonly Finding[]
  /** Models that can't be read. */
  readonly failed: readonly { readonly name: string; readonly error: KelboError }[]
}

/** @throws KelboError `package.no-model`, `file.unknown-format`. */
function readModels(
  dropped: readonly PackageFile[],
  options: ReadOptions,
  limits: ZipLimits,
  progress: (share: number) => void,
): ReadModels {
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
  const failed: { name: string; error: KelboError }[] = []
  const results: ReadModel[] = []
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
      failed.push({ name: model.name, error })
    }
    progress(0.1 + (0.9 * (index + 1)) / models.length)
  })
  // two that take in each other are both there
  const kept = results.filter(({ model }) => !taken.has(model.name))
  return { files, read: kept.length ? kept : results, findings, failed }
}

/** With what material documents beside it say, and ids. */
function completed(scene: Scene, files: readonly PackageFile[], findings: Finding[]): Scene {
  if (!files.some(({ name }) => isMaterialDocument(name))) return completeIds(scene)
  const messages = collectMessages(null)
  const described = withDocumentMaterials(scene, files, messages)
  findings.push(...messages.list())
  return completeIds(described)
}

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
  const { files, read, failed, ...whole } = readModels(dropped, options, limits, progress)
  const findings = [...whole.findings]
  if (read.length === 0) throw failed.at(-1)?.error ?? new KelboError('package.no-model')
  for (const { name, error } of failed)
    findings.push({
      code: error.code,
      parameters: error.parameters,
      file: name,
      line: null,
      byte: null,
      total: 1,
    })
  const [first, ...others] = read as [ReadModel, ...ReadModel[]]
  findings.push(...first.findings)
  let { scene } = first
  for (const { model, ...more } of others) {
    findings.push(...more.findings)
    const messages = collectMessages(model.name)
    const names = { first: fileNameOf(first.model.name), file: fileNameOf(model.name) }
    scene = appendScene(scene, more.scene, names, messages)
    findings.push(...messages.list())
  }
  scene = completed(scene, files, findings)
  return { scene, findings, models: read.map(({ model }) => model.name) }
}

/**
 * The same, with a scene of its own for each model; what a model takes in (a layer, a reference) is none of its own.
 *
 * @returns the models that were read, at least one, and those that can't be.
 * @throws KelboError as `readPackage` does; where no model can be read, what reading the last one throws.
 */
export function readPackageEach(
  dropped: readonly PackageFile[],
  options: ReadOptions = {},
  limits: ZipLimits = ZIP_LIMITS_DEFAULTS,
  progress: (share: number) => void = () => {},
): { readonly models: readonly PackageResult[]; readonly failed: ReadModels['failed'] } {
  const { files, read, failed, findings } = readModels(dropped, options, limits, progress)
  if (read.length === 0) throw failed.at(-1)?.error ?? new KelboError('package.no-model')
  return {
    failed,
    models: read.map(({ model, ...own }) => {
      const told = [...findings, ...own.findings]
      const scene = completed(own.scene, files, told)
      return { scene, findings: told, models: [model.name] }
    }),
  }
}

/** A model file, or a package that may hold one. */
export const isModelName = (name: string): boolean =>
  formatOf(name) !== null || name.toLowerCase().endsWith('.zip')
