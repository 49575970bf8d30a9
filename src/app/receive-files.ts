import type { Finding } from '../core/base/messages/catalogue.ts'
import { compareScenes } from '../core/compare/compare-scenes.ts'
import type { Ledger } from '../core/compare/ledger.ts'
import { keepMatching, matchScenes, type KeptMatching } from '../core/compare/match-scenes.ts'
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

/** What came back from a trip, read and held against the version that left. */
export function receiveFiles(
  master: Scene,
  request: ReadRequest,
  progress: Progress = QUIET,
  host: Host = BARE_HOST,
): Received {
  const { scene, findings } = readFiles(request, (share, stage) => progress(share * 0.42, stage), host)
  const matching = matchScenes(master, scene, (share) => progress(0.42 + share * 0.28, 'Matching'))
  const ledger = compareScenes(master, scene, (share) => progress(0.55 + share * 0.35, 'Comparing'), matching)
  // tools send no maps back; those that are at home are not missed
  const atHome = new Set(master.images.flatMap((image) => (image.bytes ? [image.file] : [])))
  return {
    returned: scene,
    ledger,
    matching: keepMatching(matching),
    findings: findings.filter(
      ({ code, parameters }) => code !== 'image.missing' || !atHome.has(String(parameters.file)),
    ),
  }
}
