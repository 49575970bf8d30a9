/**
 * A model made ready for a destination: recipe, names, files, and what of it arrives, measured by reading the
 * files back.
 */
import type { ZlibCodec } from '../base/bytes/zlib.ts'
import { placeCountOf, type CheckDescriptor } from '../checks/check.ts'
import { CHECKS } from '../checks/registry.ts'
import { findingText, runChecks } from '../checks/run-checks.ts'
import { chooseNodes, visibleNodes } from '../formats/arrange/arrange-scene.ts'
import type { PackageFile } from '../formats/package/package-file.ts'
import { readWritten } from '../formats/package/read-written.ts'
import type { FormatOptions } from '../formats/descriptor.ts'
import { endingOf, formatNamed, readBackOptions } from '../formats/registry.ts'
import type { Finding, Severity } from '../base/messages/catalogue.ts'
import { collectMessages, distinctFindings } from '../base/messages/collector.ts'
import { dropUnusedMeshes } from '../scene/edit-nodes.ts'
import type { Scene, Space } from '../scene/scene.ts'
import { nodePaths, partNodes } from '../scene/world.ts'
import { runRecipe, type StepRecord } from '../steps/run-steps.ts'
import { compareSceneSettings } from '../compare/traits/scene/compare-scene-settings.ts'
import { compareScenes } from '../compare/compare-scenes.ts'
import { recogniseReturn } from '../compare/recognise/recognise-return.ts'
import { rowsOf, type Ledger } from '../compare/ledger.ts'
import { usedMaterials } from '../compare/traits/materials/used-materials.ts'
import { compared } from '../compare/traits/trait.ts'
import { checkSettingsOf, type Destination } from './destinations/destination.ts'
import { applyNaming, undoNaming, type Renames } from './naming.ts'
import { measureSize, type SizeReport } from './size.ts'
import { fileWord, joinSplitParts, splitScene } from './split.ts'

export interface CheckResult {
  readonly check: string
  readonly severity: Severity
  readonly message: string
  readonly part: string | null
  readonly count: number
  /** The destination wants this check to be clean. */
  readonly mustBeClean: boolean
  /** A step mends it. */
  readonly mended: boolean
}

export interface Delivery {
  /** Model files first, each followed by what belongs to it; names are paths inside the folder that leaves. */
  readonly files: readonly PackageFile[]
  readonly modelCount: number
  readonly space: Space
  readonly forecast: Ledger
  readonly findings: readonly Finding[]
  readonly checks: readonly CheckResult[]
  readonly size: SizeReport
  readonly records: readonly StepRecord[]
  /** What left, before names and form, where a recipe made it another one than the version; what comes back is held against it. */
  readonly sent: Scene | null
}

export interface DeliveryRequest {
  readonly destination: Destination
  /** In place of the destination's own. */
  readonly options: FormatOptions
  /** Nodes that leave; null: all. */
  readonly selection?: readonly number[] | null
  /** Name of the model without its ending. */
  readonly stem: string
  readonly withRecipe: boolean
  /** The version with its materials in the destination's words, and what lies beside the model for them. */
  readonly rewired?: {
    readonly scene: Scene
    readonly beside: readonly PackageFile[]
    readonly findings: readonly Finding[]
  } | null
  readonly codec: ZlibCodec | null
}

/** Nodes with meshes that leave. */
function chosenParts(scene: Scene, selection: readonly number[] | null, visibleOnly: boolean): number[] {
  const visible = visibleOnly ? visibleNodes(scene) : null
  const wanted = selection && new Set(selection)
  return scene.nodes.flatMap((node, index) =>
    node.mesh >= 0 && (!wanted || wanted.has(index)) && (!visible || visible[index]) ? [index] : [],
  )
}

/** It was read back in the unit that it was written in, which the file itself doesn't say. */
const withoutUnit = (version: Scene, ledger: Ledger): Ledger =>
  version.space.unitMeters === null || ledger.scene.state !== 'same'
    ? ledger
    : { ...ledger, scene: compared('incomparable', 'unit-unknown') }

/** Areas of checks that take no time worth mentioning, whatever the model's size. */
const QUICK_AREAS = new Set<CheckDescriptor['area']>(['scene', 'materials'])

/** What the destination wants clean, and what is quick to know: the whole list is for the Bench. */
const checksFor = (destination: Destination): string[] => {
  const wanted = new Set(destination.mustBeClean)
  if (destination.polygonBudget !== null) wanted.add('polygon-count')
  if (destination.polygons === 'quads') wanted.add('not-quads')
  return CHECKS.filter((check) => wanted.has(check.id) || QUICK_AREAS.has(check.area)).map(
    (check) => check.id,
  )
}

function checkFor(scene: Scene, destination: Destination): CheckResult[] {
  const names = nodePaths(scene)
  const wanted = new Set(destination.mustBeClean)
  const rank = { error: 0, warning: 1, info: 2 }
  return runChecks(scene, { settings: checkSettingsOf(destination), checks: checksFor(destination) })
    .map((finding) => ({
      check: finding.check,
      severity: finding.severity,
      message: findingText(finding),
      part: finding.node === null ? null : names[finding.node]!,
      count: finding.places ? placeCountOf(finding.places) : finding.count,
      mustBeClean: wanted.has(finding.check),
      mended: finding.fix !== null,
    }))
    .sort((a, b) => Number(b.mustBeClean) - Number(a.mustBeClean) || rank[a.severity] - rank[b.severity])
}

/**
 * Writes a version for a destination, reads what was written, and compares. Nothing of the version changes.
 *
 * @throws StepRefusal where a step of the destination's recipe can't be done.
 * @throws KelboError `write.nothing` where the format can hold nothing of what leaves.
 */
export function deliver(
  version: Scene,
  request: DeliveryRequest,
  progress: (share: number, stage: string) => void = () => {},
): Delivery {
  const { destination, stem, codec, rewired = null } = request
  const format = formatNamed(destination.format)
  const options: FormatOptions = { ...destination.writeOptions, ...request.options }
  const selection = request.selection ?? null
  const visibleOnly = options.visibleOnly === true
  const scale = typeof options.scale === 'number' ? options.scale : 1
  let scene = rewired?.scene ?? version
  let records: readonly StepRecord[] = []
  if (destination.recipe && request.withRecipe) {
    progress(0.02, 'Preparing')
    ;({ scene, records } = runRecipe(scene, destination.recipe))
  }
  // a recipe may have made other parts of them: what was chosen is known by its id
  const chosen = chosenParts(
    scene,
    scene === version ? selection : followSelection(version, scene, selection),
    visibleOnly,
  )
  const { scene: named, renames } = applyNaming(scene, destination.naming)
  progress(0.05, 'Writing')
  const written: { model: string; files: readonly PackageFile[] }[] = []
  const findings: Finding[] = [...(rewired?.findings ?? [])]
  let space = scene.space
  for (const part of splitScene(named, destination.split, chosen)) {
    const model = format.write(part.scene, `${stem}${part.suffix}${endingOf(format, options)}`, {
      ...options,
      codec,
      selection: part.selection.length === partCount(named) ? null : part.selection,
      visibleOnly: false,
    })
    space = model.space
    written.push({ model: model.files[0]!.name, files: model.files })
    findings.push(...model.findings)
  }
  progress(0.3, 'Reading back')
  const all = filesOf(written, rewired?.beside)
  const read = readWritten(all, { ...readBackOptions(space, options), codec }, format.name, chosen.length)
  // what a format has no word for would leave as a file without anything in it
  const leftOut = new Set(read.empty)
  const models = written.filter(({ model }) => !leftOut.has(model))
  const files = leftOut.size ? filesOf(models, rewired?.beside) : all
  const joined =
    destination.split === 'materials' && models.length > 1 ? joinSplitParts(read.scene) : read.scene
  // materials that are called as the tool takes it are compared as what they are
  const back = undoNaming(joined, { nodes: new Map(), materials: renames.materials })
  progress(0.55, 'Comparing')
  const leavingOfVersion = new Set(chosenParts(version, selection, visibleOnly))
  const forecast = compareUnscaled(version, back, scale, leavingOfVersion.size, (share) =>
    progress(0.55 + 0.25 * share, 'Comparing'),
  )
  progress(0.82, 'Checking')
  const leaving = dropUnusedMeshes(
    chooseNodes(scene, { selection: chosen, visibleOnly: false, cameras: true, lights: true }),
  )
  const checks = checkFor(leaving, destination)
  const statesSpace = format.carries.includes('scene')
  const stated = statesSpace ? back.space.unitMeters : null
  return {
    files,
    modelCount: models.length,
    space,
    forecast: withRenamed(
      rowsOf(statesSpace ? forecast : withoutUnit(version, forecast), leavingOfVersion),
      version,
      renames,
    ),
    findings: distinctFindings([
      ...findings,
      ...leftOutTold(leftOut),
      ...renamesTold(renames),
      ...wishesOf(destination, back, rewired !== null),
    ]),
    checks,
    size: measureSize(version, (node) => leavingOfVersion.has(node), back, stated, destination.size),
    records,
    sent: scene === version ? null : scene,
  }
}

/**
 * The ledger of a file that was written `scale` times as large: its cells tell what else became of the traits,
 * and the scene's own cell tells of the size. Where a unit is unknown the numbers are held against each other.
 */
function compareUnscaled(
  version: Scene,
  written: Scene,
  scale: number,
  partsLeaving: number,
  progress: (share: number) => void,
): Ledger {
  // a file that holds parts as one holds them all the same: they are looked for by their polygons
  const areMerged = partNodes(written).length < partsLeaving
  const compare = (own: Scene, other: Scene): Ledger => {
    if (!areMerged) return compareScenes(own, other, progress)
    const { returned, matching } = recogniseReturn(own, other, {}, (share) => progress(share / 2))
    return compareScenes(own, returned, (share) => progress(0.5 + share / 2), matching)
  }
  if (scale === 1) return compare(version, written)
  const units = [version.space.unitMeters, written.space.unitMeters]
  const [own, its] = units.includes(null) ? [1, 1] : units
  const inUnit = (scene: Scene, unitMeters: number): Scene => ({
    ...scene,
    space: { ...scene.space, unitMeters },
  })
  const ledger = compare(inUnit(version, own!), inUnit(written, its! / scale))
  const whole = { factor: scale, turn: null, mirror: null, move: null, by: 'points' } as const
  const pairs = ledger.rows.flatMap(({ match }) =>
    match.masterNode >= 0 && match.returnedNode >= 0 ? [[match.masterNode, match.returnedNode] as const] : [],
  )
  return { ...ledger, whole, scene: compareSceneSettings(version, written, whole, pairs) }
}

/** Rows whose materials are all there and go under other names. */
function withRenamed(ledger: Ledger, version: Scene, { materials }: Renames): Ledger {
  if (materials.size === 0) return ledger
  const renamed = new Set(materials.values())
  return {
    ...ledger,
    rows: ledger.rows.map((row) => {
      const mesh = version.meshes[version.nodes[row.match.masterNode]?.mesh ?? -1]
      const cell = row.cells.materials
      if (!mesh || cell?.state !== 'same' || cell.empty) return row
      const count = usedMaterials(mesh).filter((at) => renamed.has(version.materials[at]!.name)).length
      if (count === 0) return row
      const told = compared('changed', 'materials-renamed', {
        totalCount: cell.totalCount,
        parameters: { count },
      })
      return { ...row, cells: { ...row.cells, materials: told } }
    }),
  }
}

/** Files of several models and what lies beside them, each once. */
function filesOf(
  models: readonly { readonly files: readonly PackageFile[] }[],
  beside: readonly PackageFile[] = [],
): PackageFile[] {
  const files = new Map<string, PackageFile>()
  for (const own of models)
    for (const file of own.files) if (!files.has(file.name)) files.set(file.name, file)
  return [...files.values(), ...beside]
}

function leftOutTold(names: ReadonlySet<string>): Finding[] {
  const messages = collectMessages(null)
  for (const name of names) messages.add('write.file-empty', { name })
  return messages.list()
}

function renamesTold({ nodes, materials }: Renames): Finding[] {
  const messages = collectMessages(null)
  for (const [what, names] of [
    ['parts', nodes],
    ['materials', materials],
  ] as const) {
    const [first] = names
    if (first) messages.add('delivery.renamed', { count: names.size, what, from: first[1], to: first[0] })
  }
  return messages.list()
}

/** What a destination wishes for and the files don't give it. */
function wishesOf(destination: Destination, written: Scene, isRewired: boolean): Finding[] {
  const messages = collectMessages(null)
  if (destination.polygons === 'triangles') {
    let count = 0
    for (const { faceOffsets } of written.meshes)
      for (let face = 0; face + 1 < faceOffsets.length; face++)
        if (faceOffsets[face + 1]! - faceOffsets[face]! > 3) count++
    if (count) messages.add('delivery.polygons', { count })
  }
  const names = new Set(
    written.materials.flatMap((material) =>
      material.maps.flatMap((map) => (map.slot === 'normal' ? [map.file] : [])),
    ),
  )
  // rewired maps were turned to what it wants, and what could not be told was told
  if (names.size && !isRewired)
    messages.add('delivery.normal-maps', { green: destination.normalMapGreen, names: [...names].join(', ') })
  return messages.list()
}

const partCount = (scene: Scene): number => scene.nodes.filter((node) => node.mesh >= 0).length

function followSelection(before: Scene, after: Scene, selection: readonly number[] | null): number[] | null {
  if (!selection) return null
  const ids = new Set(selection.map((node) => before.nodes[node]?.id))
  const names = new Set(selection.map((node) => before.nodes[node]?.name))
  const known = new Set(before.nodes.map((node) => node.id))
  // what a step made anew goes along where it has a chosen part's name
  return after.nodes.flatMap((node, index) =>
    ids.has(node.id) || (!known.has(node.id) && names.has(node.name)) ? [index] : [],
  )
}

/** The folder that a trip's files lie in, and the ZIP that holds it. */
export function packageFolder(asset: string, destination: Destination, tripNumber: number): string {
  return `${fileWord(asset)}/${fileWord(destination.name).toLowerCase()}/trip_${String(tripNumber).padStart(3, '0')}`
}

/** Name of the ZIP that a folder leaves as. */
export const packageName = (folder: string): string => `${folder.replaceAll('/', '_')}.zip`
