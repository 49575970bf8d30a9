/** Runs the checks, and remembers what an answer depended on, so that after a step only what must runs again. */
import { renderText } from '../base/messages/render.ts'
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import type { CheckDescriptor, CheckFinding, CheckSource, Report } from './check.ts'
import { CHECKS } from './registry.ts'
import { CHECK_SETTINGS_DEFAULTS, type CheckSettings } from './settings.ts'

/** Answers by check and by what they depended on; arrays count by identity, as scenes share those they keep. */
export interface CheckMemory {
  /** The findings for a key; computes them where they are not held. */
  recall(key: string, compute: () => readonly Report[]): readonly Report[]
  /** A name for anything: objects by identity, the rest by value. */
  nameOf(value: unknown): string
  readonly factsOf: (mesh: Mesh) => MeshFacts
  /** Forgets what has not been asked for since the last call. */
  forgetOthers(): void
  /** How often checks really ran, since the beginning. */
  readonly runs: () => number
}

/** Answers of checks and facts of meshes, kept between runs as long as what they are about is the very same. */
export function createCheckMemory(): CheckMemory {
  const identities = new WeakMap<object, number>()
  const facts = new WeakMap<Mesh, MeshFacts>()
  let answers = new Map<string, readonly Report[]>()
  let asked = new Map<string, readonly Report[]>()
  let identityCount = 0
  let runs = 0
  const nameOf = (value: unknown): string => {
    if (ArrayBuffer.isView(value)) {
      let identity = identities.get(value)
      if (identity === undefined) identities.set(value, (identity = ++identityCount))
      return `#${identity}`
    }
    if (Array.isArray(value)) return `[${value.map(nameOf).join()}]`
    if (value !== null && typeof value === 'object')
      return `{${Object.entries(value)
        .map(([key, entry]) => `${key}:${nameOf(entry)}`)
        .join()}}`
    return JSON.stringify(value) ?? 'undefined'
  }
  return {
    nameOf,
    factsOf(mesh) {
      let known = facts.get(mesh)
      if (!known) facts.set(mesh, (known = createMeshFacts(mesh)))
      return known
    },
    recall(key, compute) {
      let answer = asked.get(key) ?? answers.get(key)
      if (!answer) {
        answer = compute()
        runs++
      }
      asked.set(key, answer)
      return answer
    },
    forgetOthers() {
      answers = asked
      asked = new Map()
    },
    runs: () => runs,
  }
}

export interface CheckRun {
  readonly settings?: Partial<CheckSettings>
  /** Only these checks; absent: all. */
  readonly checks?: readonly string[]
  /** Nodes that take part; absent: all. */
  readonly nodes?: readonly number[]
  readonly memory?: CheckMemory
  /** Told the share done and the title of the check that comes next. */
  readonly progress?: (share: number, title: string) => void
}

/** @returns findings in the registry's order of checks, part by part. */
export function runChecks(scene: Scene, options: CheckRun = {}): CheckFinding[] {
  const settings: CheckSettings = { ...CHECK_SETTINGS_DEFAULTS, ...options.settings }
  const memory = options.memory ?? createCheckMemory()
  const worlds = worldMatrices(scene)
  const settingsKey = JSON.stringify(settings)
  const wanted = CHECKS.filter((check) => !options.checks || options.checks.includes(check.id))
  const only = options.nodes ? new Set(options.nodes) : null
  // a mesh in several places is looked at once
  const nodes: number[] = []
  const seen = new Set<string>()
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || (only && !only.has(index))) return
    const key = `${node.mesh} ${worlds[index]!.join()}`
    if (seen.has(key)) return
    seen.add(key)
    nodes.push(index)
  })
  const steps = wanted.reduce((sum, check) => sum + (check.scope === 'part' ? nodes.length : 1), 0)
  let done = 0
  const findings: CheckFinding[] = []
  const add = (check: CheckDescriptor, node: number | null, reports: readonly Report[]): void => {
    for (const found of reports)
      findings.push({
        check: check.id,
        problem: found.problem,
        severity: check.problems[found.problem]!.severity,
        node: found.node ?? node,
        nodes: found.nodes ?? [],
        count: found.count,
        parameters: { ...found.parameters, count: found.count },
        places: found.places ?? null,
        distribution: found.distribution ?? null,
        heat: found.heat ?? null,
        fix: found.fix ?? null,
      })
  }
  for (const check of wanted) {
    if (check.scope === 'part')
      for (const node of nodes) {
        options.progress?.(done++ / steps, check.title)
        const mesh = scene.meshes[scene.nodes[node]!.mesh]!
        const key = `${check.id} ${settingsKey} ${sourceKey(check.reads, scene, mesh, node, worlds, memory)}`
        const reports = memory.recall(key, () =>
          collect((report) =>
            check.run(
              { scene, node, mesh, facts: memory.factsOf(mesh), world: worlds[node]!, settings },
              report,
            ),
          ),
        )
        add(check, node, reports)
      }
    else {
      options.progress?.(done++ / steps, check.title)
      const part: Scene = only ? withNodes(scene, only) : scene
      const key = `${check.id} ${settingsKey} ${options.nodes?.join() ?? ''} ${sourceKey(check.reads, scene, null, -1, worlds, memory)}`
      const reports = memory.recall(key, () =>
        collect((report) =>
          check.run({ scene: part, worlds, settings, factsOf: memory.factsOf, settingsKey }, report),
        ),
      )
      add(check, null, reports)
    }
  }
  memory.forgetOthers()
  options.progress?.(1, '')
  return findings
}

function collect(run: (report: (found: Report) => void) => void): Report[] {
  const reports: Report[] = []
  run((found) => reports.push(found))
  return reports
}

/** The same nodes by number, but those left out carry no mesh. */
const withNodes = (scene: Scene, nodes: ReadonlySet<number>): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node, index) => (nodes.has(index) ? node : { ...node, mesh: -1 })),
})

function sourceKey(
  reads: readonly CheckSource[],
  scene: Scene,
  mesh: Mesh | null,
  node: number,
  worlds: readonly (readonly number[])[],
  memory: CheckMemory,
): string {
  return reads
    .map((source) => {
      switch (source) {
        case 'world':
          return worlds[node]!.join()
        case 'space':
          return JSON.stringify(scene.space)
        case 'nodes':
          return memory.nameOf(scene.nodes)
        case 'materials':
          return memory.nameOf(scene.materials)
        case 'images':
          return memory.nameOf(scene.images)
        case 'meshes':
          return memory.nameOf(scene.meshes)
        case 'extras':
          return memory.nameOf([scene.cameras, scene.lights])
        default:
          return memory.nameOf(mesh?.[source])
      }
    })
    .join('|')
}

/** A finding's sentence. */
export function findingText(finding: Pick<CheckFinding, 'check' | 'problem' | 'parameters'>): string {
  const problem = CHECKS.find((check) => check.id === finding.check)?.problems[finding.problem]
  return renderText(problem?.text ?? finding.problem, finding.parameters)
}
