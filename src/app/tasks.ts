/**
 * Heavy work as typed requests: plain data and arrays in, plain data and arrays out, for threads of the server's
 * workers. Each is one use case of this folder, with its scenes packed for the way.
 */
import type { ReadOptions } from '../core/formats/descriptor.ts'
import { entryOf, messageText } from '../core/formats/catalogue.ts'
import { fileNameOf, type PackageFile } from '../core/formats/package/package-file.ts'
import type { ZipLimits } from '../core/formats/package/read-zip.ts'
import type { Ledger } from '../core/compare/ledger.ts'
import { restoreMatching, type KeptMatching } from '../core/compare/match-scenes.ts'
import { buildCourierHeron } from '../core/practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../core/practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../core/practice/demo/signal-kite.ts'
import { buildStormLantern } from '../core/practice/demo/storm-lantern.ts'
import { runRandomTrips, type RandomTrip } from '../core/practice/faults/random-trips.ts'
import { runStandIn, standInOf } from '../core/practice/standins/registry.ts'
import type { StandInResult } from '../core/practice/standins/standin.ts'
import type { OptionValues } from '../core/base/options/option.ts'
import { reconcile } from '../core/reconcile/reconcile.ts'
import {
  reconcileThreeWays,
  type Conflict,
  type ThreeWayOptions,
} from '../core/reconcile/three-ways/reconcile-three-ways.ts'
import { describeFindings, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import { packPlain, unpackPlain, unpackScene, type PackedScene } from '../core/scene/pack-scene.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { runRecipe, type StepRecord } from '../core/steps/run-steps.ts'
import { signScene, type SceneSignature } from '../core/trips/hand-off/sign-scene.ts'
import { describeScene, type DescribedScene } from './describe.ts'
import { targetOf, type RemapRules } from '../core/surfaces/remap/rules.ts'
import { BARE_HOST, type Host, type Progress } from './host.ts'
import { newFindings, type NewFinding } from './new-findings.ts'
import { readEach, readFiles, type ReadRequest } from './read-files.ts'
import { receiveFiles, type ReturnRequest } from './receive-files.ts'
import { remapVersion, unzipped, type RemapDocument } from './remap-version.ts'
import { showSurfaces, type ShownSurfaces } from './show-surfaces.ts'
import type { ImageWork } from '../core/image/operations/work-on-image.ts'
import { imageOperation } from '../core/image/operations/registry.ts'
import { workOnImages } from './work-on-images.ts'
import { signFiles, type SignedFiles } from './sign-files.ts'
import { sendVersion, told, type SendRequest, type SendResult } from './send-version.ts'

const DEMO = {
  heron: buildCourierHeron,
  lantern: buildStormLantern,
  bollard: buildMooringBollard,
  kite: buildSignalKite,
} as const

export const TASKS = {
  read: (request: ReadRequest, progress: Progress, host: Host = BARE_HOST): DescribedScene => {
    const { scene, findings } = readFiles(request, (share, stage) => progress(share * 0.75, stage), host)
    progress(0.76, 'Counting')
    return describeScene(scene, findings, true, host.facts)
  },

  /** Each model of a drop by itself, and what could not be read, in words. */
  readEach: (
    request: ReadRequest,
    progress: Progress,
    host: Host = BARE_HOST,
  ): { models: { name: string; described: DescribedScene }[]; left: string[] } => {
    const { models, failed } = readEach(request, (share, stage) => progress(share * 0.6, stage), host)
    return {
      models: models.map(({ scene, findings, models: [name] }, index) => {
        progress(0.6 + (0.4 * index) / models.length, 'Counting')
        return { name: name!, described: describeScene(scene, findings, true, host.facts) }
      }),
      left: failed.map(({ name, error }) => {
        const why = messageText(error.code, error.parameters)
        return `“${fileNameOf(name)}” was left out: ${why} ${entryOf(error.code).advice}`
      }),
    }
  },

  send: (
    request: SendRequest & { readonly scene: PackedScene },
    progress: Progress,
    host: Host = BARE_HOST,
  ): Promise<SendResult> => sendVersion(unpackScene(request.scene), request, progress, host),

  receive: (
    request: ReturnRequest & { readonly master: PackedScene },
    progress: Progress,
    host: Host = BARE_HOST,
  ): { returned: DescribedScene; ledger: Ledger; matching: PackedScene } => {
    const { returned, findings, ledger, matching } = receiveFiles(
      unpackScene(request.master),
      request,
      progress,
      host,
    )
    return {
      returned: describeScene(returned, findings, false, host.facts),
      ledger,
      matching: packPlain(matching),
    }
  },

  reconcile: (
    request: {
      /** What left. */
      readonly master: PackedScene
      readonly returned: PackedScene
      /** What the result stands on, where that is not what left: a newer master, or the version before a recipe. */
      readonly onto?: PackedScene | null
      readonly options: ThreeWayOptions
      /** Whether the result is held against what it stands on. */
      readonly checks?: boolean
      /** As receiving gave it; absent: the scenes are matched anew. */
      readonly matching?: PackedScene | null
    },
    progress: Progress,
    host: Host = BARE_HOST,
  ): {
    /** Null as long as a conflict is not chosen. */
    result: DescribedScene | null
    taken: Partial<Record<string, number>>
    messages: SceneInspection['messages']
    conflicts: readonly Conflict[]
    /** What the result has wrong that what it stands on had not; empty where it was not asked for. */
    worse: readonly NewFinding[]
  } => {
    const base = unpackScene(request.master)
    const returned = unpackScene(request.returned)
    const kept = request.matching && unpackPlain<KeptMatching>(request.matching)
    const matching = (kept && restoreMatching(base, returned, kept)) ?? undefined
    const told = (share: number): void => progress(share * 0.8, 'Reconciling')
    const onto = request.onto ? unpackScene(request.onto) : base
    const { scene, taken, findings, conflicts } = request.onto
      ? reconcileThreeWays(base, returned, onto, request.options, told, matching)
      : { ...reconcile(base, returned, request.options, told, matching), conflicts: [] }
    if (request.checks) progress(0.82, 'Checking')
    return {
      result: scene && describeScene(scene, findings, true, host.facts),
      worse: scene && request.checks ? newFindings(onto, scene) : [],
      taken,
      messages: describeFindings(findings),
      conflicts,
    }
  },

  prepare: (
    request: { readonly scene: PackedScene; readonly recipe: Recipe },
    progress: Progress,
    host: Host = BARE_HOST,
  ): { result: DescribedScene; records: readonly StepRecord[] } => {
    progress(0.02, 'Preparing')
    let prepared: ReturnType<typeof runRecipe>
    try {
      prepared = runRecipe(unpackScene(request.scene), request.recipe, (share, title) =>
        progress(0.02 + 0.8 * share, title),
      )
    } catch (error) {
      throw told(error)
    }
    const { scene, records } = prepared
    progress(0.85, 'Counting')
    return { result: describeScene(scene, [], true, host.facts), records }
  },

  practise: (
    request: {
      readonly standIn: string
      readonly files: readonly PackageFile[]
      readonly options: OptionValues
      readonly readOptions: ReadOptions
      readonly limits: ZipLimits
    },
    progress: Progress,
    { codec }: Host = BARE_HOST,
  ): StandInResult => {
    const standIn = standInOf(request.standIn)
    // whoever asks has looked it up
    if (!standIn) throw new Error(`no stand-in ${request.standIn}`)
    progress(0.1, `${standIn.name} is at work`)
    return runStandIn(standIn, request.files, request.options, request.readOptions, request.limits, codec)
  },

  /** Signatures of what landed: of all of it, and of each model file by itself where there are several. */
  signFiles: (request: ReadRequest, progress: Progress, host: Host = BARE_HOST): SignedFiles =>
    signFiles(request, progress, host),

  signScene: (
    request: { readonly scene: PackedScene; readonly chosen: readonly string[] | null },
    progress: Progress,
  ): SceneSignature => {
    progress(0.5, 'Looking')
    return signScene(unpackScene(request.scene), request.chosen)
  },

  /** Random trips of one model, and how many of its points were found again on each. */
  randomTrips: (
    request: { readonly scene: PackedScene; readonly count: number; readonly seed: number },
    progress: Progress,
  ): RandomTrip[] =>
    runRandomTrips(unpackScene(request.scene), request, (share) =>
      progress(share, `Trip ${Math.round(share * request.count) + 1} of ${request.count}`),
    ),

  /** Materials for another surface model: what becomes of them, and the scene or the files where they are wanted. */
  remap: async (
    request: {
      readonly scene: PackedScene
      readonly files: readonly PackageFile[]
      readonly surface: string
      readonly rules: RemapRules
      readonly mode: 'look' | 'keep' | 'files'
      readonly format: string | null
      readonly stem: string
      readonly limits: ZipLimits
    },
    progress: Progress,
    host: Host = BARE_HOST,
  ): Promise<{
    document: RemapDocument
    result: DescribedScene | null
    files: PackageFile[] | null
  }> => {
    const { scene, files, surface, rules, mode, format, stem, limits } = request
    return remapVersion(
      unpackScene(scene),
      { surface, files: unzipped(files, limits), rules, mode, format, stem },
      progress,
      host,
    )
  },

  /** The model with its materials as they came, and with what they become, for drawing both. */
  'show-surfaces': async (
    request: {
      readonly scene: PackedScene
      readonly files: readonly PackageFile[]
      readonly surface: string
      readonly rules: RemapRules
      readonly limits: ZipLimits
    },
    progress: Progress,
    host: Host = BARE_HOST,
  ): Promise<{
    before: DescribedScene
    after: DescribedScene
    notDrawn: ShownSurfaces['notDrawn']
  }> => {
    const { scene, files, surface, rules, limits } = request
    const { before, after, notDrawn } = await showSurfaces(
      unpackScene(scene),
      { target: targetOf(surface, rules), files: unzipped(files, limits), rules },
      (share, stage) => progress(share * 0.9, stage),
      host,
    )
    return {
      before: describeScene(before, [], false),
      after: describeScene(after, [], false),
      notDrawn,
    }
  },

  /** An operation on images. */
  images: (
    request: {
      readonly operation: string
      readonly options: OptionValues
      readonly files: readonly PackageFile[]
      /** The model whose islands an operation asks for. */
      readonly scene: PackedScene | null
      readonly limits: ZipLimits
    },
    progress: Progress,
    host: Host = BARE_HOST,
  ): Promise<ImageWork> => {
    if (!host.images) throw new Error('no images here')
    const { operation, options, files, scene, limits } = request
    return workOnImages(
      imageOperation(operation)!,
      options,
      unzipped(files, limits),
      progress,
      host.images,
      scene && unpackScene(scene),
    )
  },

  demo: (request: { readonly name: keyof typeof DEMO }, progress: Progress): DescribedScene => {
    progress(0.1, 'Building')
    return describeScene(DEMO[request.name]())
  },
} as const

export type TaskName = keyof typeof TASKS
export type TaskRequest<Name extends TaskName> = Parameters<(typeof TASKS)[Name]>[0]
export type TaskResult<Name extends TaskName> = Awaited<ReturnType<(typeof TASKS)[Name]>>
