import type { ViewSettings } from './viewer-messages.ts'

export const DEFAULT_VIEW_SETTINGS: ViewSettings = {
  edges: true,
  backFaces: false,
  maps: true,
  returnedFactor: null,
  isolate: false,
  wipe: null,
  shown: 'master',
  parameter: null,
  checker: false,
  placing: null,
  givesWay: null,
}
