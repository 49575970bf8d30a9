/**
 * Heavy work as typed requests: plain data and arrays in, plain data and arrays out. The same functions run
 * in worker threads of the server and at the command line.
 */
import { buildCourierHeron } from '../core/demo/courier-heron.ts'
import { buildMooringBollard } from '../core/demo/mooring-bollard.ts'
import { buildStormLantern } from '../core/demo/storm-lantern.ts'
import { writeObj } from '../core/formats/obj/write-obj.ts'
import type { ObjReadOptions, ObjWriteOptions } from '../core/formats/obj/options.ts'
import type { PackageFile } from '../core/formats/package-file.ts'
import { readPackage } from '../core/formats/read-package.ts'
import type { ZipLimits } from '../core/formats/zip/read-zip.ts'
import { readBackOptions } from '../core/formats/registry.ts'
import { writeZip } from '../core/formats/zip/write-zip.ts'
import { inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import type { Finding } from '../core/messages/catalogue.ts'
import { KelboError } from '../core/messages/collector.ts'
import { reconcile, type ReconcileOptions } from '../core/reconcile/reconcile.ts'
import { packScene, unpackScene, type PackedScene } from '../core/scene/pack-scene.ts'
import type { Scene, Space } from '../core/scene/scene.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { runRecipe, type StepRecord } from '../core/steps/run-steps.ts'
import { StepRefusal } from '../core/steps/step.ts'
import { sculptFiles, type SculptorOptions } from '../core/standins/sculptor.ts'
import { compareScenes, type Ledger } from '../core/traits/compare-scenes.ts'
import { fingerprintScene, type Fingerprints } from '../core/traits/fingerprint.ts'

/** A scene on its way to the store, with what lists and pages show of it. */
export interface DescribedScene {
  readonly packed: PackedScene
  readonly inspection: SceneInspection
  readonly fingerprints: Fingerprints
}

/** Told the share done (0 to 1) and the words of what is being done. */
export type Progress = (share: number, stage: string) => void

const describe = (scene: Scene, findings: readonly Finding[] = []): DescribedScene => ({
  packed: packScene(scene),
  inspection: inspectScene(scene, findings),
  fingerprints: fingerprintScene(scene),
})

export interface ReadRequest {
  readonly files: readonly PackageFile[]
  readonly options: Partial<ObjReadOptions>
  readonly limits: ZipLimits
}

export interface SendRequest {
  readonly scene: PackedScene
  readonly fileName: string
  readonly options: Partial<ObjWriteOptions>
}

export interface SendResult {
  /** The file to hand out: a ZIP where there is more than the model itself. */
  readonly file: PackageFile
  readonly modelBytes: number
  readonly contents: readonly { name: string; byteLength: number }[]
  readonly space: Space
  /** What reading the written file back and comparing it gives. */
  readonly forecast: Ledger
  readonly findings: readonly Finding[]
}

const DEMO = { heron: buildCourierHeron, lantern: buildStormLantern, bollard: buildMooringBollard } as const

export const TASKS = {
  read: (request: ReadRequest, progress: Progress): DescribedScene => {
    progress(0.02, 'Reading')
    const { scene, findings } = readPackage(request.files, request.options, request.limits, (share) =>
      progress(0.02 + share * 0.7, 'Reading'),
    )
    progress(0.75, 'Counting')
    return describe(scene, findings)
  },

  send: (request: SendRequest, progress: Progress): SendResult => {
    const scene = unpackScene(request.scene)
    progress(0.05, 'Writing')
    const written = writeObj(scene, request.fileName, request.options)
    progress(0.3, 'Reading back')
    const back = readPackage(written.files, readBackOptions(written.space, request.options))
    progress(0.6, 'Comparing')
    const master: Scene = request.options.selection
      ? { ...scene, nodes: scene.nodes.filter((_node, index) => request.options.selection!.includes(index)) }
      : scene
    const forecast = compareScenes(master, back.scene, (share) => progress(0.6 + 0.3 * share, 'Comparing'))
    const [model] = written.files
    const alone = written.files.length === 1
    progress(0.92, 'Packing')
    return {
      file: alone
        ? model!
        : { name: request.fileName.replace(/\.obj$/i, '.zip'), bytes: writeZip(written.files) },
      modelBytes: model!.bytes.length,
      contents: written.files.map((file) => ({ name: file.name, byteLength: file.bytes.length })),
      space: written.space,
      forecast,
      findings: written.findings,
    }
  },

  receive: (
    request: {
      master: PackedScene
      files: readonly PackageFile[]
      options: Partial<ObjReadOptions>
      limits: ZipLimits
    },
    progress: Progress,
  ): { returned: DescribedScene; ledger: Ledger } => {
    progress(0.02, 'Reading')
    const { scene, findings } = readPackage(request.files, request.options, request.limits, (share) =>
      progress(0.02 + share * 0.4, 'Reading'),
    )
    const ledger = compareScenes(unpackScene(request.master), scene, (share) =>
      progress(0.45 + share * 0.45, 'Matching and comparing'),
    )
    return { returned: describe(scene, findings), ledger }
  },

  reconcile: (
    request: { master: PackedScene; returned: PackedScene; options: ReconcileOptions },
    progress: Progress,
  ): { result: DescribedScene; taken: Partial<Record<string, number>> } => {
    const { scene, taken, findings } = reconcile(
      unpackScene(request.master),
      unpackScene(request.returned),
      request.options,
      (share) => progress(share * 0.8, 'Reconciling'),
    )
    return { result: describe(scene, findings), taken }
  },

  prepare: (
    request: { scene: PackedScene; recipe: Recipe },
    progress: Progress,
  ): { result: DescribedScene; records: readonly StepRecord[] } => {
    progress(0.02, 'Preparing')
    try {
      const { scene, records } = runRecipe(unpackScene(request.scene), request.recipe, (share, title) =>
        progress(0.02 + 0.8 * share, title),
      )
      progress(0.85, 'Counting')
      return { result: describe(scene), records }
    } catch (error) {
      if (error instanceof StepRefusal) throw new KelboError('step.refused', { reason: error.message })
      throw error
    }
  },

  practise: (
    request: {
      files: readonly PackageFile[]
      options: Partial<SculptorOptions>
      readOptions: Partial<ObjReadOptions>
      limits: ZipLimits
    },
    progress: Progress,
  ): { files: readonly PackageFile[] } => {
    progress(0.1, 'The sculptor is at work')
    return { files: sculptFiles(request.files, request.options, request.readOptions, request.limits) }
  },

  demo: (request: { name: keyof typeof DEMO }, progress: Progress): DescribedScene => {
    progress(0.1, 'Building')
    return describe(DEMO[request.name]())
  },
} as const

export type TaskName = keyof typeof TASKS
export type TaskRequest<Name extends TaskName> = Parameters<(typeof TASKS)[Name]>[0]
export type TaskResult<Name extends TaskName> = ReturnType<(typeof TASKS)[Name]>

/** Buffers that may move to another thread instead of being copied; each once. */
export function transferList(value: unknown): ArrayBuffer[] {
  const buffers = new Set<ArrayBuffer>()
  const visit = (entry: unknown): void => {
    if (ArrayBuffer.isView(entry)) {
      const { buffer } = entry
      if (buffer instanceof ArrayBuffer) buffers.add(buffer)
    } else if (Array.isArray(entry)) for (const item of entry) visit(item)
    else if (entry !== null && typeof entry === 'object') for (const item of Object.values(entry)) visit(item)
  }
  visit(value)
  return [...buffers]
}
