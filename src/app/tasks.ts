/**
 * Heavy work as typed requests: plain data and arrays in, plain data and arrays out. The same functions run
 * in worker threads of the server and at the command line.
 */
import { buildCourierHeron } from '../core/practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../core/practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../core/practice/demo/storm-lantern.ts'
import type { ZlibCodec } from '../core/base/bytes/zlib.ts'
import { deliver, packageFolder, packageName, type Delivery } from '../core/trips/deliver.ts'
import type { Destination } from '../core/trips/destinations/destination.ts'
import { fileWord } from '../core/trips/split.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { readPackage } from '../core/formats/package/read-package.ts'
import type { ReadOptions, WriteOptions } from '../core/formats/registry.ts'
import type { ZipLimits } from '../core/formats/package/read-zip.ts'
import { writeZip } from '../core/formats/package/write-zip.ts'
import { inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import { KelboError } from '../core/base/messages/collector.ts'
import { reconcile, type ReconcileOptions } from '../core/reconcile/reconcile.ts'
import { packScene, unpackScene, type PackedScene } from '../core/scene/pack-scene.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { runRecipe, type StepRecord } from '../core/steps/run-steps.ts'
import { StepRefusal } from '../core/steps/step.ts'
import { runStandIn, standInOf } from '../core/practice/standins/registry.ts'
import type { StandInResult, StandInValue } from '../core/practice/standins/standin.ts'
import { compareScenes, type Ledger } from '../core/compare/compare-scenes.ts'
import { fingerprintScene, type Fingerprints } from '../core/compare/traits/fingerprint.ts'

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
  readonly options: ReadOptions
  readonly limits: ZipLimits
}

export interface SendRequest {
  readonly scene: PackedScene
  readonly assetName: string
  readonly versionNumber: number
  readonly tripNumber: number
  readonly destination: Destination
  readonly options: WriteOptions
  readonly withRecipe: boolean
}

export interface SendResult extends Omit<Delivery, 'files'> {
  /** The ZIP to hand out. */
  readonly file: PackageFile
  readonly folder: string
  readonly contents: readonly { name: string; byteLength: number }[]
}

/** What the place where tasks run has to offer. */
export interface Host {
  readonly codec: ZlibCodec | null
}
const BARE: Host = { codec: null }

/** A step that can't be done is the user's to hear. */
function refusable<Result>(run: () => Result): Result {
  try {
    return run()
  } catch (error) {
    if (error instanceof StepRefusal) throw new KelboError('step.refused', { reason: error.message })
    throw error
  }
}

const DEMO = { heron: buildCourierHeron, lantern: buildStormLantern, bollard: buildMooringBollard } as const

export const TASKS = {
  read: (request: ReadRequest, progress: Progress, { codec }: Host = BARE): DescribedScene => {
    progress(0.02, 'Reading')
    const { scene, findings } = readPackage(
      request.files,
      { ...request.options, codec },
      request.limits,
      (share) => progress(0.02 + share * 0.7, 'Reading'),
    )
    progress(0.75, 'Counting')
    return describe(scene, findings)
  },

  send: (request: SendRequest, progress: Progress, { codec }: Host = BARE): SendResult => {
    const { destination, options, withRecipe, assetName } = request
    const stem = `${fileWord(assetName).toLowerCase()}_v${request.versionNumber}`
    const delivery = refusable(() =>
      deliver(unpackScene(request.scene), { destination, options, stem, withRecipe, codec }, progress),
    )
    progress(0.95, 'Packing')
    const folder = packageFolder(assetName, destination, request.tripNumber)
    const { files, ...rest } = delivery
    return {
      ...rest,
      folder,
      file: {
        name: packageName(folder),
        bytes: writeZip(files.map((file) => ({ ...file, name: `${folder}/${file.name}` }))),
      },
      contents: files.map((file) => ({ name: file.name, byteLength: file.bytes.length })),
    }
  },

  receive: (
    request: {
      master: PackedScene
      files: readonly PackageFile[]
      options: ReadOptions
      limits: ZipLimits
    },
    progress: Progress,
    { codec }: Host = BARE,
  ): { returned: DescribedScene; ledger: Ledger } => {
    progress(0.02, 'Reading')
    const { scene, findings } = readPackage(
      request.files,
      { ...request.options, codec },
      request.limits,
      (share) => progress(0.02 + share * 0.4, 'Reading'),
    )
    const master = unpackScene(request.master)
    const ledger = compareScenes(master, scene, (share) =>
      progress(0.45 + share * 0.45, 'Matching and comparing'),
    )
    // tools send no maps back; those that are at home are not missed
    const atHome = new Set(master.images.flatMap((image) => (image.bytes ? [image.file] : [])))
    const missed = findings.filter(
      ({ code, parameters }) => code !== 'image.missing' || !atHome.has(String(parameters.file)),
    )
    return { returned: describe(scene, missed), ledger }
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
    const { scene, records } = refusable(() =>
      runRecipe(unpackScene(request.scene), request.recipe, (share, title) =>
        progress(0.02 + 0.8 * share, title),
      ),
    )
    progress(0.85, 'Counting')
    return { result: describe(scene), records }
  },

  practise: (
    request: {
      standIn: string
      files: readonly PackageFile[]
      options: Readonly<Record<string, StandInValue>>
      readOptions: ReadOptions
      limits: ZipLimits
    },
    progress: Progress,
    { codec }: Host = BARE,
  ): StandInResult => {
    const standIn = standInOf(request.standIn)
    // whoever asks has looked it up
    if (!standIn) throw new Error(`no stand-in ${request.standIn}`)
    progress(0.1, `${standIn.name} is at work`)
    return runStandIn(standIn, request.files, request.options, request.readOptions, request.limits, codec)
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
