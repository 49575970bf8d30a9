/**
 * A session at the Bench: one version, a draft of steps on top of it, and the checks of what that gives. It
 * lives in a web worker; everything it holds is remembered, so that a step more or less costs only itself.
 */
import { placeCountOf, placeElements, type CheckFinding } from '../core/checks/check.ts'
import { createCheckMemory, findingText, runChecks } from '../core/checks/run-checks.ts'
import type { CheckSettings } from '../core/checks/settings.ts'
import { growOverScene, type Chosen, type Clicked, type GrowKind } from '../core/steps/grow-selection.ts'
import { growthDistances, weldGrowth } from '../core/mesh/welds/weld-growth.ts'
import { inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import { panelSheet } from '../core/uv/panels/panel-sheet.ts'
import { sheetPdf, type SheetPages } from '../core/uv/panels/sheet-pdf.ts'
import { sheetSvg } from '../core/uv/panels/sheet-svg.ts'
import { measureUvFields, type UvFieldKind, type UvFields } from '../core/uv/uv-fields.ts'
import { layoutSvg, type LayoutDrawing } from '../core/uv/islands/layout-svg.ts'
import type { Severity } from '../core/base/messages/catalogue.ts'
import type { Scene } from '../core/scene/scene.ts'
import { nodePaths } from '../core/scene/world.ts'
import type { RecipeStep } from '../core/steps/recipe.ts'
import { runStep } from '../core/steps/run-steps.ts'
import { StepRefusal, type StepOutcome } from '../core/steps/step.ts'
import type { Places } from '../core/compare/traits/trait.ts'

/** A finding as the page lists it; its elements are fetched when they are to be seen. */
export interface BenchFinding {
  readonly index: number
  readonly check: string
  readonly problem: string
  readonly severity: Severity
  readonly node: number | null
  readonly nodes: readonly number[]
  readonly count: number
  readonly text: string
  readonly placeCount: number
  readonly hasHeat: boolean
  readonly distribution: { readonly title: string; readonly of: string; readonly values: Float64Array } | null
  /** The step that mends this one finding. */
  readonly fix: RecipeStep | null
}

export interface BenchPlaces {
  readonly node: number
  readonly element: Places['element']
  readonly elements: Uint32Array
  readonly heat: Float32Array | null
}

export interface DraftRecord {
  readonly step: RecipeStep
  /** Paths of the nodes that the step names by id, as they were when it ran: later steps may rename them. */
  readonly paths: Readonly<Record<string, string>>
  readonly changedCount: number
  readonly of: string
  readonly notes: readonly string[]
}

export interface StepPreview {
  readonly changedCount: number
  readonly of: string
  readonly notes: readonly string[]
  readonly warning: string | null
  readonly refusal: string | null
  readonly places: readonly { node: number; element: Places['element']; elements: Uint32Array }[]
}

export interface PanelSheetWish {
  /** Parts by their nodes; null: all. */
  readonly nodes: readonly number[] | null
  /** Pages of a PDF; null: an SVG document. */
  readonly pages: SheetPages | null
}

function pathsOf(scene: Scene, ids: readonly string[]): Record<string, string> {
  if (ids.length === 0) return {}
  const wanted = new Set(ids)
  const paths = nodePaths(scene)
  return Object.fromEntries(
    scene.nodes.flatMap((node, index) => (wanted.has(node.id) ? [[node.id, paths[index]!]] : [])),
  )
}

/** Values of a chart; more would only draw the same picture slower. */
const MOST_CHART_VALUES = 200000

const thinned = (values: Float64Array): Float64Array => {
  if (values.length <= MOST_CHART_VALUES) return values
  const step = values.length / MOST_CHART_VALUES
  return Float64Array.from({ length: MOST_CHART_VALUES }, (_value, at) => values[Math.floor(at * step)]!)
}

export function createBench(scene: Scene) {
  const memory = createCheckMemory()
  /** The scene before the first step, and after each. */
  const scenes: Scene[] = [scene]
  let records: DraftRecord[] = []
  let findings: CheckFinding[] = []
  const current = (): Scene => scenes[scenes.length - 1]!

  /** A fix limited to the part, or parts, that the finding is about. */
  function fixOf(finding: CheckFinding): RecipeStep | null {
    if (!finding.fix) return null
    const nodes = [...(finding.node === null ? [] : [finding.node]), ...finding.nodes]
    const withMesh = nodes.filter((node) => current().nodes[node]!.mesh >= 0)
    return withMesh.length
      ? { ...finding.fix, nodes: withMesh.map((node) => current().nodes[node]!.id) }
      : finding.fix
  }

  return {
    scene: current,
    inspect: (): SceneInspection => inspectScene(current()),
    records: (): readonly DraftRecord[] => records,

    /**
     * Makes the draft these steps; those it already begins with are kept.
     * @throws StepRefusal; the draft then stays as it was.
     */
    setSteps(steps: readonly RecipeStep[]): readonly DraftRecord[] {
      let same = 0
      while (
        same < steps.length &&
        same < records.length &&
        JSON.stringify(records[same]!.step) === JSON.stringify(steps[same])
      )
        same++
      const made: Scene[] = scenes.slice(0, same + 1)
      const told: DraftRecord[] = records.slice(0, same)
      for (const step of steps.slice(same)) {
        const before = made[made.length - 1]!
        const done = runStep(before, step, memory.factsOf)
        made.push(done.scene)
        told.push({
          step,
          paths: pathsOf(before, step.nodes ?? []),
          changedCount: done.changedCount,
          of: done.of,
          notes: done.notes,
        })
      }
      scenes.splice(0, scenes.length, ...made)
      records = told
      return records
    },

    preview(step: RecipeStep): StepPreview {
      let done: StepOutcome
      try {
        done = runStep(current(), step, memory.factsOf)
      } catch (error) {
        if (!(error instanceof StepRefusal)) throw error
        return { changedCount: 0, of: '', notes: [], warning: null, refusal: error.message, places: [] }
      }
      const { changedCount, of, notes, warning, places } = done
      return {
        changedCount,
        of,
        notes,
        warning,
        refusal: null,
        places: places.filter((entry) => entry.elements.length),
      }
    },

    /** How the UVs of some parts lie, as an SVG document; null where nothing lies in the tile. */
    layout: (drawing: LayoutDrawing): string | null => layoutSvg(current(), drawing),

    /** Islands as panels at true size, as an SVG document or a PDF; null where nothing has such UVs. */
    panels(wish: PanelSheetWish): string | Uint8Array | null {
      const sheet = panelSheet(current(), { set: '', nodes: wish.nodes })
      if (!sheet) return null
      return wish.pages === null ? sheetSvg(sheet) : sheetPdf(sheet, wish.pages)
    },

    check(
      settings: Partial<CheckSettings>,
      progress: (share: number, title: string) => void,
    ): BenchFinding[] {
      findings = runChecks(current(), { settings, memory, progress })
      return findings.map((finding, index) => ({
        index,
        check: finding.check,
        problem: finding.problem,
        severity: finding.severity,
        node: finding.node,
        nodes: finding.nodes,
        count: finding.count,
        text: findingText(finding),
        placeCount: finding.places ? placeCountOf(finding.places) : 0,
        hasHeat: finding.heat !== null,
        distribution: finding.distribution && {
          title: finding.distribution.title,
          of: finding.distribution.of,
          values: thinned(finding.distribution.values),
        },
        fix: fixOf(finding),
      }))
    },

    /** How often checks really ran, for showing that they run again only where they must. */
    checkRuns: memory.runs,

    /** Elements of a finding: of one place, or of all. */
    places(index: number, place: number | null): BenchPlaces | null {
      const finding = findings[index]
      if (!finding?.places || finding.node === null) return null
      return {
        node: finding.node,
        element: finding.places.element,
        elements: place === null ? finding.places.elements : placeElements(finding.places, place).slice(),
        heat: place === null ? finding.heat : null,
      }
    },

    grow: (clicked: Clicked, kind: GrowKind): Chosen[] =>
      growOverScene(current(), clicked, kind, memory.factsOf),

    /** How even the first UV sets of parts are: texel density over all of them, or how much longer polygons are one way. */
    uvField: (kind: UvFieldKind, nodes: readonly number[]): UvFields =>
      measureUvFields(current(), kind, nodes, memory.factsOf),

    /** How many points a weld takes away at rising distances, over the given parts together. */
    growth(nodes: readonly number[]): { distance: number; welded: number }[] {
      const meshes = [...new Set(nodes.map((node) => current().nodes[node]!.mesh))].filter(
        (mesh) => mesh >= 0,
      )
      const facts = meshes.map((mesh) => memory.factsOf(current().meshes[mesh]!))
      const distances = growthDistances(Math.max(0, ...facts.map((fact) => fact.diagonal())))
      const sums = distances.map((distance) => ({ distance, welded: 0 }))
      for (const fact of facts)
        weldGrowth(fact.points(), distances).forEach(({ welded }, at) => (sums[at]!.welded += welded))
      return sums
    },
  }
}

export type Bench = ReturnType<typeof createBench>
