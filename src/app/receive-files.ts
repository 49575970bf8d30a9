import type { Finding } from '../core/base/messages/catalogue.ts'
import { compareScenes } from '../core/compare/compare-scenes.ts'
import { rowsOf, type Ledger } from '../core/compare/ledger.ts'
import type { NamingRules } from '../core/trips/destinations/destination.ts'
import { applyNaming, undoNaming } from '../core/trips/naming.ts'
import { keepMatching, type KeptMatching } from '../core/compare/match-scenes.ts'
import { recogniseReturn, type HandPair } from '../core/compare/recognise/recognise-return.ts'
import type { Scene } from '../core/scene/scene.ts'
import { BARE_HOST, QUIET, type Host, type Progress } from './host.ts'
import { readFiles, type ReadRequest } from './read-files.ts'

export interface Received {
  readonly returned: Scene
  readonly findings: readonly Finding[]
  readonly ledger: Ledger
  /** Which element is which, for reconciling without working it out again. */
  readonly matching: KeptMatching
}

export interface ReturnRequest extends ReadRequest {
  /** Names that the files were sent with; null: the master's own. */
  readonly naming?: NamingRules | null
  /** Parts that left, by the ids of their nodes; null: all. */
  readonly selection?: readonly string[] | null
  /** A size, turn, mirror or move that all parts share is undone first. */
  readonly undoWhole?: boolean
  /** Parts that somebody has paired by hand. */
  readonly pairs?: readonly HandPair[]
}

/** What came back from a trip, read and held against the version that left. */
export function receiveFiles(
  master: Scene,
  request: ReturnRequest,
  progress: Progress = QUIET,
  host: Host = BARE_HOST,
): Received {
  const { scene: read, findings } = readFiles(request, (share, stage) => progress(share * 0.42, stage), host)
  const scene = request.naming ? undoNaming(read, applyNaming(master, request.naming).renames) : read
  const {
    returned,
    matching,
    undone,
    layoutUndone = null,
    findings: told,
  } = recogniseReturn(master, scene, request, (share) => progress(0.42 + share * 0.28, 'Matching'))
  const compared = compareScenes(
    master,
    returned,
    (share) => progress(0.55 + share * 0.35, 'Comparing'),
    matching,
  )
  const whole: Ledger = { ...compared, undone, layoutUndone }
  const left = request.selection && new Set(request.selection)
  const ledger = left
    ? rowsOf(whole, new Set(master.nodes.flatMap(({ id }, node) => (left.has(id) ? [node] : []))))
    : whole
  // tools send no maps back; those that are at home are not missed
  const atHome = new Set(master.images.flatMap((image) => (image.bytes ? [image.file] : [])))
  return {
    returned,
    ledger,
    matching: keepMatching(matching),
    findings: [...told, ...findings].filter(
      ({ code, parameters }) => code !== 'image.missing' || !atHome.has(String(parameters.file)),
    ),
  }
}
