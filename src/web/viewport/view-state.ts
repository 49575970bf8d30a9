import type { LoadedModel } from './loaded-model.ts'
import { DEFAULT_VIEW_SETTINGS } from './view-settings.ts'
import type { HighlightItem, Slot, ViewSettings } from './viewer-messages.ts'

/** What both views share: the models, what is selected, and how it is shown. */
export interface ViewState {
  models: Record<Slot, LoadedModel | null>
  settings: ViewSettings
  selectedNode: number | null
  selectedFace: number | null
  highlights: readonly HighlightItem[]
  ruler: readonly (readonly [number, number, number])[]
  /** The first model that comes decides the camera; later ones keep it, so that they can be compared. */
  needsFraming: boolean
}

export const createViewState = (): ViewState => ({
  models: { master: null, returned: null },
  settings: DEFAULT_VIEW_SETTINGS,
  selectedNode: null,
  selectedFace: null,
  highlights: [],
  ruler: [],
  needsFraming: true,
})
