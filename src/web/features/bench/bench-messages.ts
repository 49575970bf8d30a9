/** What the Bench's page and its worker tell each other. */
import type { CheckSettings } from '../../../core/checks/settings.ts'
import type { Chosen, Clicked, GrowKind } from '../../../core/steps/grow-selection.ts'
import type { SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'
import type { UvFieldKind, UvFields } from '../../../core/uv/uv-fields.ts'
import type { LayoutDrawing } from '../../../core/uv/islands/layout-svg.ts'
import type {
  BenchFinding,
  BenchPlaces,
  DraftRecord,
  PanelSheetWish,
  StepPreview,
} from '../../../app/bench.ts'

/** Requests by name: what is asked, and what is answered. */
export interface BenchRequests {
  open: { ask: { sceneId: string }; answer: { inspection: SceneInspection } }
  setSteps: {
    ask: { steps: readonly RecipeStep[] }
    answer: { records: readonly DraftRecord[]; inspection: SceneInspection; refusal: string | null }
  }
  preview: { ask: { step: RecipeStep }; answer: StepPreview }
  check: { ask: { settings: Partial<CheckSettings> }; answer: { findings: BenchFinding[]; runs: number } }
  places: { ask: { index: number; place: number | null }; answer: BenchPlaces | null }
  grow: { ask: { clicked: Clicked; kind: GrowKind }; answer: Chosen[] }
  uvField: { ask: { kind: UvFieldKind; nodes: readonly number[] }; answer: UvFields }
  layout: { ask: LayoutDrawing; answer: string | null }
  panels: { ask: PanelSheetWish; answer: string | Uint8Array | null }
  growth: { ask: { nodes: readonly number[] }; answer: { distance: number; welded: number }[] }
}
export type BenchRequestName = keyof BenchRequests

export type ToBench =
  | { readonly type: 'port'; readonly port: MessagePort }
  | { readonly type: 'ask'; readonly id: number; readonly name: BenchRequestName; readonly ask: unknown }

export type FromBench =
  | { readonly type: 'answer'; readonly id: number; readonly answer: unknown }
  | { readonly type: 'failed'; readonly id: number; readonly text: string }
  | { readonly type: 'progress'; readonly share: number; readonly stage: string }
