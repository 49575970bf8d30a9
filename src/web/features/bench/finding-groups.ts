import type { BenchFinding } from '../../../app/bench.ts'
import type { Severity } from '../../../core/base/messages/catalogue.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'

/** The gravest first. */
export const RANK: Record<Severity, number> = { error: 0, warning: 1, info: 2 }

/** Findings of one check: how grave, in how many parts, which can be mended. */
export const groupOf = (
  list: readonly BenchFinding[],
): {
  severity: Severity
  findings: BenchFinding[]
  parts: number
  fixes: BenchFinding[]
} => ({
  severity: list.reduce<Severity>(
    (worst, one) => (RANK[one.severity] < RANK[worst] ? one.severity : worst),
    'info',
  ),
  findings: [...list].sort((a, b) => RANK[a.severity] - RANK[b.severity]),
  parts: new Set(list.map((finding) => finding.node)).size,
  fixes: list.filter((finding) => finding.fix),
})

/** One step for all of a kind: what differs between parts (a distance, say) stays apart. */
export function stepsFor(list: readonly BenchFinding[]): RecipeStep[] {
  const steps = new Map<string, RecipeStep>()
  for (const { fix } of list) {
    if (!fix) continue
    const key = JSON.stringify([fix.step, fix.params])
    const known = steps.get(key)
    if (!known) steps.set(key, fix)
    else if (known.nodes && fix.nodes)
      steps.set(key, { ...known, nodes: [...new Set([...known.nodes, ...fix.nodes])] })
  }
  return [...steps.values()]
}
