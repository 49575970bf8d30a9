import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { placeCountOf } from '../core/checks/check.ts'
import { checkOf } from '../core/checks/registry.ts'
import { findingText, runChecks } from '../core/checks/run-checks.ts'
import { CHECK_SETTINGS_DEFAULTS } from '../core/checks/settings.ts'
import { asDestination, destinationFileSchema, schemaComplaint } from '../contract/destinations.ts'
import { deliver } from '../core/trips/deliver.ts'
import { checkSettingsOf, type Destination } from '../core/trips/destinations/destination.ts'
import { costOf, FATE_WORDS, fateOf } from '../core/trips/fate.ts'
import { DESTINATIONS, destinationOf } from '../core/trips/destinations/registry.ts'
import { stemOf, type PackageFile } from '../core/formats/package/package-file.ts'
import { NODE_CODEC } from '../host/node-codec.ts'
import { readPackage } from '../core/formats/package/read-package.ts'
import { FORMATS, formatOf, readBackOptions } from '../core/formats/registry.ts'
import { writeZip } from '../core/formats/package/write-zip.ts'
import { describeFindings, inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import { reconcile } from '../core/reconcile/reconcile.ts'
import type { Scene } from '../core/scene/scene.ts'
import { nodePaths } from '../core/scene/world.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { STEPS } from '../core/steps/registry.ts'
import { parseRecipe, runRecipe } from '../core/steps/run-steps.ts'
import type { ParameterDescriptor } from '../core/steps/step.ts'
import { compareScenes } from '../core/compare/compare-scenes.ts'
import { type Ledger } from '../core/compare/ledger.ts'
import { noteText, TRAITS, type Trait } from '../core/compare/traits/registry.ts'
import { type TraitComparison } from '../core/compare/traits/trait.ts'
import { loadModel, parseCheckSettings, parseReadOptions, parseWriteOptions } from './load.ts'
import { UsageError } from './usage.ts'

export interface Arguments {
  readonly json?: boolean
  readonly to?: string
  readonly for?: string
  readonly recipe?: string
  readonly list?: boolean
  readonly take?: string[]
  readonly option?: string[]
  readonly read?: string[]
}

export interface Outcome {
  readonly output: unknown
  readonly text: string
  readonly findings: readonly Finding[]
  readonly status: 0 | 1
}

type Command = (paths: readonly string[], values: Arguments) => Outcome

const wanted = (paths: readonly string[], ...names: string[]): string[] => {
  if (paths.length !== names.length) throw new UsageError(`Expected ${names.join(' ')}.`)
  return [...paths]
}

function inspectionText(inspection: SceneInspection): string {
  const lines = [
    `${inspection.format}, ${inspection.unitMeters ? `1 unit = ${inspection.unitMeters} m` : 'unit not stated'}, ${inspection.upAxis} up`,
  ]
  for (const node of inspection.nodes) {
    if (node.mesh === null) continue
    const mesh = inspection.meshes[node.mesh]!
    const sets = mesh.uvSets.map((set) => `${set.name} (${set.islands} islands)`).join(', ') || 'none'
    lines.push(
      `${node.path}: ${mesh.vertices} vertices, ${mesh.faces['3']} triangles, ${mesh.faces['4']} quads, ${mesh.faces.n} larger; UVs ${sets}; ${mesh.hardEdges} hard edges; ${mesh.creases.edges} creases; materials ${mesh.materials.map((material) => material.name).join(', ') || 'none'}`,
    )
  }
  return lines.join('\n')
}

const cellDocument = (cell: TraitComparison) => ({
  state: cell.state,
  empty: cell.empty,
  deviation: cell.deviation,
  changed: cell.changedCount,
  total: cell.totalCount,
  note: noteText(cell.note, cell.parameters),
  places: cell.places && {
    element: cell.places.element,
    master: cell.places.master.length,
    returned: cell.places.returned.length,
  },
})

export function ledgerDocument(ledger: Ledger) {
  return {
    parts: ledger.rows.map((row) => ({
      name: row.name,
      matchedBy: row.match.by,
      correspondence: row.correspondenceKind,
      traits: Object.fromEntries(
        Object.entries(row.cells).map(([trait, cell]) => [trait, cellDocument(cell as TraitComparison)]),
      ),
    })),
    scene: cellDocument(ledger.scene),
    whole: ledger.whole,
  }
}

/** The states that count as a difference. */
const differs = (cell: TraitComparison): boolean => cell.state !== 'same' && cell.state !== 'within'

const hasDifferences = (ledger: Ledger): boolean =>
  differs(ledger.scene) ||
  ledger.rows.some((row) => Object.values(row.cells).some((cell) => cell && differs(cell)))

function ledgerText(ledger: Ledger): string {
  const lines: string[] = []
  for (const row of ledger.rows) {
    const cells = Object.entries(row.cells).filter(([, cell]) => cell && differs(cell))
    lines.push(`${row.name}: ${cells.length ? '' : 'everything the same'}`)
    for (const [trait, cell] of cells)
      lines.push(`  ${trait.padEnd(11)} ${cell!.state.padEnd(12)} ${noteText(cell!.note, cell!.parameters)}`)
  }
  if (differs(ledger.scene)) lines.push(`scene: ${noteText(ledger.scene.note, ledger.scene.parameters)}`)
  return lines.join('\n')
}

/** Writes files beside each other; a ZIP where the name asks for one. */
function save(path: string, files: readonly PackageFile[]): void {
  mkdirSync(dirname(path), { recursive: true })
  if (/\.zip$/i.test(path)) return writeFileSync(path, writeZip(files))
  for (const file of files) {
    const target = join(dirname(path), file.name)
    mkdirSync(dirname(target), { recursive: true })
    writeFileSync(target, file.bytes)
  }
}

const outName = (path: string): string => basename(path).replace(/\.zip$/i, '.obj')

function checkTarget(path: string): void {
  if (!formatOf(outName(path)))
    throw new UsageError(
      `“${path}” is no format that can be written: ${FORMATS.map((format) => format.name).join(', ')}, ZIP.`,
    )
}

/** Writes a scene and reads it back. */
function writeAndForecast(scene: Scene, path: string, options: Record<string, unknown>) {
  const written = formatOf(outName(path))!.write(scene, outName(path), { ...options, codec: NODE_CODEC })
  const back = readPackage(written.files, readBackOptions(written.space, options))
  save(path, written.files)
  return { written, forecast: compareScenes(scene, back.scene) }
}

/** One that ships, by its id, or a JSON file of one. */
function destinationNamed(id: string | undefined): Destination | null {
  if (!id) return null
  const shipped = destinationOf(id)
  if (shipped) return shipped
  if (!/\.json$/i.test(id))
    throw new UsageError(
      `“${id}” is no destination: ${DESTINATIONS.map((entry) => entry.id).join(', ')}, or a JSON file of one.`,
    )
  const parsed = destinationFileSchema.safeParse(readJson(id))
  if (!parsed.success) throw new UsageError(`“${id}” is no destination: ${schemaComplaint(parsed.error)}.`)
  return asDestination({ ...parsed.data.destination, id: basename(id).replace(/\.json$/i, '') })
}

function readJson(path: string): unknown {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch {
    throw new UsageError(`There is no file “${path}”.`)
  }
  try {
    return JSON.parse(text) as unknown
  } catch (error) {
    throw new UsageError(`“${path}” is no JSON: ${(error as Error).message}.`)
  }
}

const loadRecipe = (path: string): Recipe => parseRecipe(readJson(path))

/** The forecast of a file for a destination: what each cell means for the trip. */
function deliveryText(ledger: Ledger, destination: Destination): string {
  const lines: string[] = []
  for (const row of ledger.rows) {
    lines.push(`${row.name}:`)
    for (const [trait, cell] of Object.entries(row.cells)) {
      const fate = fateOf(trait as Trait, cell!, destination)
      if (fate !== 'carried')
        lines.push(
          `  ${trait.padEnd(11)} ${FATE_WORDS[fate]}: ${costOf(cell!.note) ?? noteText(cell!.note, cell!.parameters)}`,
        )
    }
  }
  return lines.join('\n')
}

const parameterText = (parameter: ParameterDescriptor): string =>
  [
    parameter.name,
    parameter.type === 'choice' ? parameter.choices.join('|') : parameter.type,
    parameter.unit,
    `default ${String(parameter.default)}`,
  ]
    .filter(Boolean)
    .join(', ')

export const COMMANDS: Readonly<Record<string, Command>> = {
  inspect(paths, values) {
    const [path] = wanted(paths, 'FILE')
    const { scene, findings } = loadModel(path!, parseReadOptions(values.read ?? []))
    const inspection = inspectScene(scene, findings)
    const serious = inspection.messages.some((message) => message.severity === 'error')
    return { output: inspection, text: inspectionText(inspection), findings, status: serious ? 1 : 0 }
  },

  convert(paths, values) {
    const [from, to] = wanted(paths, 'IN', 'OUT')
    checkTarget(to!)
    const destination = destinationNamed(values.to)
    const { scene, findings } = loadModel(from!, parseReadOptions(values.read ?? []))
    const options = parseWriteOptions(values.option ?? [], outName(to!))
    if (destination) {
      const format = formatOf(outName(to!))!
      const target = { ...destination, format: format.id as Destination['format'] }
      const delivery = deliver(scene, {
        destination: target,
        options,
        stem: stemOf(outName(to!)),
        withRecipe: true,
        codec: NODE_CODEC,
      })
      save(to!, delivery.files)
      const rows = ledgerDocument(delivery.forecast)
      return {
        output: {
          files: delivery.files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
          destination: destination.id,
          size: delivery.size,
          checks: delivery.checks,
          forecast: {
            ...rows,
            parts: rows.parts.map((part, index) => ({
              ...part,
              fates: Object.fromEntries(
                Object.entries(delivery.forecast.rows[index]!.cells).map(([trait, cell]) => [
                  trait,
                  fateOf(trait as Trait, cell!, destination),
                ]),
              ),
            })),
          },
          messages: describeFindings([...findings, ...delivery.findings]),
        },
        text: deliveryText(delivery.forecast, destination),
        findings: [...findings, ...delivery.findings],
        status: hasDifferences(delivery.forecast) ? 1 : 0,
      }
    }
    const { written, forecast } = writeAndForecast(scene, to!, options)
    return {
      output: {
        files: written.files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
        forecast: ledgerDocument(forecast),
        messages: describeFindings([...findings, ...written.findings]),
      },
      text: ledgerText(forecast),
      findings: [...findings, ...written.findings],
      status: hasDifferences(forecast) ? 1 : 0,
    }
  },

  compare(paths, values) {
    const [a, b] = wanted(paths, 'A', 'B')
    const options = parseReadOptions(values.read ?? [])
    const master = loadModel(a!, options)
    const returned = loadModel(b!, options)
    const ledger = compareScenes(master.scene, returned.scene)
    return {
      output: ledgerDocument(ledger),
      text: ledgerText(ledger),
      findings: [...master.findings, ...returned.findings],
      status: hasDifferences(ledger) ? 1 : 0,
    }
  },

  reconcile(paths, values) {
    const [masterPath, returnedPath, to] = wanted(paths, 'MASTER', 'RETURNED', 'OUT')
    checkTarget(to!)
    const take = (values.take ?? ['points']).flatMap((text) => text.split(',')).filter(Boolean)
    for (const trait of take)
      if (!TRAITS.includes(trait as Trait))
        throw new UsageError(`“${trait}” is no trait: ${TRAITS.join(', ')}.`)
    const options = parseReadOptions(values.read ?? [])
    const master = loadModel(masterPath!, options)
    const returned = loadModel(returnedPath!, options)
    const result = reconcile(master.scene, returned.scene, { take: take as Trait[] })
    const { written, forecast } = writeAndForecast(result.scene, to!, {})
    return {
      output: {
        taken: result.taken,
        files: written.files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
        againstMaster: ledgerDocument(compareScenes(master.scene, result.scene)),
      },
      text: `Took ${
        Object.entries(result.taken)
          .map(([trait, parts]) => `${trait} (${parts} parts)`)
          .join(', ') || 'nothing: no chosen trait differs'
      }.`,
      findings: [...master.findings, ...returned.findings, ...written.findings],
      status: hasDifferences(forecast) ? 1 : 0,
    }
  },

  check(paths, values) {
    const [path] = wanted(paths, 'FILE')
    const destination = destinationNamed(values.for)
    const { scene, findings: said } = loadModel(path!, parseReadOptions(values.read ?? []))
    const settings = {
      ...(destination ? checkSettingsOf(destination) : {}),
      ...parseCheckSettings(values.option ?? []),
    }
    const findings = runChecks(scene, { settings })
    const names = nodePaths(scene)
    const rank = { error: 0, warning: 1, info: 2 }
    const sorted = [...findings].sort((a, b) => rank[a.severity] - rank[b.severity])
    return {
      output: {
        settings: { ...CHECK_SETTINGS_DEFAULTS, ...settings },
        findings: sorted.map((finding) => ({
          check: finding.check,
          problem: finding.problem,
          severity: finding.severity,
          part: finding.node === null ? null : names[finding.node]!,
          parts: finding.nodes.map((node) => names[node]!),
          count: finding.count,
          message: findingText(finding),
          why: checkOf(finding.check)!.why,
          places: finding.places && {
            element: finding.places.element,
            places: placeCountOf(finding.places),
            elements: [...finding.places.elements],
          },
          fix: finding.fix,
        })),
      },
      text:
        sorted
          .map(
            (finding) =>
              `${finding.severity.padEnd(7)} ${finding.node === null ? '' : `${names[finding.node]!}: `}${findingText(finding)}${finding.fix ? `  (mended by ${finding.fix.step})` : ''}`,
          )
          .join('\n') || 'Nothing found.',
      findings: said,
      // what is only worth knowing is no fault
      status: findings.some((finding) => finding.severity !== 'info') ? 1 : 0,
    }
  },

  prepare(paths, values) {
    if (values.list) {
      wanted(paths)
      return {
        output: STEPS.map(({ id, area, title, description, changes, parameters }) => ({
          step: id,
          area,
          title,
          description,
          changes,
          parameters,
        })),
        text: STEPS.map(
          (step) =>
            `${step.id}\n  ${step.description}${step.parameters.map((parameter) => `\n  ${parameterText(parameter)}`).join('')}`,
        ).join('\n'),
        findings: [],
        status: 0,
      }
    }
    const [from, to] = wanted(paths, 'IN', 'OUT')
    if (!values.recipe) throw new UsageError('“prepare” needs --recipe FILE, or --list.')
    checkTarget(to!)
    const recipe = loadRecipe(values.recipe)
    const { scene, findings } = loadModel(from!, parseReadOptions(values.read ?? []))
    const { scene: prepared, records } = runRecipe(scene, recipe)
    const { written } = writeAndForecast(prepared, to!, parseWriteOptions(values.option ?? [], outName(to!)))
    return {
      output: {
        recipe: recipe.name,
        steps: records.map(({ step, changedCount, of, notes, warning }) => ({
          step: step.step,
          changed: changedCount,
          of,
          notes,
          warning,
        })),
        files: written.files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
        messages: describeFindings([...findings, ...written.findings]),
      },
      text: records
        .map(
          ({ step, changedCount, of, notes }) =>
            `${step.step}: ${changedCount} ${of}${notes.length ? `. ${notes.join(' ')}` : ''}`,
        )
        .join('\n'),
      findings: [...findings, ...written.findings],
      status: 0,
    }
  },
}
