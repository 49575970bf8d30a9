/** What a result has wrong that what it was made from had not, found before it is kept. */
import { findingText, runChecks } from '../core/checks/run-checks.ts'
import { placeCountOf, type CheckFinding } from '../core/checks/check.ts'
import type { Scene } from '../core/scene/scene.ts'

/** Checks whose findings tools, or traits that don't fit together, bring in; what is a matter of taste is for the Bench. */
const WATCHED = [
  'broken-points',
  'duplicate-faces',
  'zero-size',
  'non-manifold',
  'turned-faces',
  'no-uvs',
  'flipped-islands',
  'uv-overlaps',
  'zero-uv-faces',
  'unassigned-faces',
  'missing-maps',
]

export interface NewFinding {
  readonly check: string
  readonly severity: CheckFinding['severity']
  readonly message: string
  /** Name of the part; null for the scene. */
  readonly part: string | null
  /** How many there are, and how many there were. */
  readonly count: number
  readonly before: number
}

const countOf = ({ places, count }: CheckFinding): number => (places ? placeCountOf(places) : count)

/** By check, problem and the part's id, how many there are. */
function counted(scene: Scene): Map<string, { finding: CheckFinding; count: number }> {
  const found = new Map<string, { finding: CheckFinding; count: number }>()
  for (const finding of runChecks(scene, { checks: WATCHED })) {
    const id = finding.node === null ? '' : scene.nodes[finding.node]!.id
    const key = [finding.check, finding.problem, id].join('\n')
    const known = found.get(key)
    found.set(key, { finding, count: (known?.count ?? 0) + countOf(finding) })
  }
  return found
}

/** Warnings and errors of which the result has more than what it stands on, part by part. */
export function newFindings(before: Scene, after: Scene): NewFinding[] {
  const old = counted(before)
  return [...counted(after)].flatMap(([key, { finding, count }]) => {
    const had = old.get(key)?.count ?? 0
    if (finding.severity === 'info' || count <= had) return []
    return [
      {
        check: finding.check,
        severity: finding.severity,
        message: findingText(finding),
        part: finding.node === null ? null : after.nodes[finding.node]!.name,
        count,
        before: had,
      },
    ]
  })
}
