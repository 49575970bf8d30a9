/** A version's materials for another surface model: told, made a new version of, or written as files. */
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { wrapsFiles } from '../core/formats/package/read-package.ts'
import { readZip, type ZipLimits } from '../core/formats/package/read-zip.ts'
import { FORMATS, formatById } from '../core/formats/registry.ts'
import { describeFindings, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { MaterialSheet } from '../core/surfaces/documents/material-sheet.ts'
import type { RemapResult } from '../core/surfaces/remap/remap-scene.ts'
import { targetOf, type RemapRules } from '../core/surfaces/remap/rules.ts'
import { describeScene, type DescribedScene } from './describe.ts'
import type { Host, Progress } from './host.ts'
import { remapModel } from './remap-model.ts'

/** What is told of it, as plain data. */
export interface RemapDocument {
  readonly sheets: readonly MaterialSheet[]
  readonly sets: RemapResult['sets']
  readonly doubtful: RemapResult['doubtful']
  readonly maps: readonly { path: string; copies: string | null; done: string | null }[]
  readonly messages: SceneInspection['messages']
}

/** Files with those of archives in their place. @throws KelboError as `readZip` does. */
export const unzipped = (files: readonly PackageFile[], limits: ZipLimits): PackageFile[] =>
  files.flatMap((file) => (wrapsFiles(file) ? readZip(file, limits).files : [file]))

export async function remapVersion(
  scene: Scene,
  request: {
    readonly surface: string
    readonly files: readonly PackageFile[]
    readonly rules: RemapRules
    readonly mode: 'look' | 'keep' | 'files'
    readonly format: string | null
    readonly stem: string
  },
  progress: Progress,
  host: Host,
): Promise<{ document: RemapDocument; result: DescribedScene | null; files: PackageFile[] | null }> {
  const { mode, stem } = request
  const format = mode === 'files' ? (formatById(request.format ?? '') ?? FORMATS[0]!) : null
  const remapped = await remapModel(
    scene,
    {
      target: targetOf(request.surface, request.rules),
      files: request.files,
      rules: request.rules,
      stem,
      makes: mode !== 'look',
    },
    progress,
    host,
  )
  const { result, plan, sheets, findings } = remapped
  const written = format?.write(remapped.scene, `${stem}${format.endings[0]!}`, { codec: host.codec })
  return {
    document: {
      sheets,
      sets: result.sets,
      doubtful: result.doubtful,
      maps: plan.maps.map(({ path, copies, done }) => ({ path, copies, done: done || null })),
      messages: describeFindings([...findings, ...(written?.findings ?? [])]),
    },
    result: mode === 'keep' ? describeScene(remapped.scene) : null,
    files: written ? [...written.files, ...remapped.documents] : null,
  }
}
