import { computed, ref, shallowRef, type Ref } from 'vue'
import type { CheckSettings } from '../../../core/checks/settings.ts'
import type { SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'
import type { BenchFinding, DraftRecord, StepPreview } from '../../../app/bench.ts'
import { remember, remembered } from '../../kit/memory.ts'
import type { useBench } from './use-bench.ts'

/** A version with the draft of steps on top of it, and what the checks say of it; the draft outlives the page. */
export function useDraft(bench: ReturnType<typeof useBench>, failed: (error: unknown) => void) {
  const records = shallowRef<readonly DraftRecord[]>([])
  const inspection = shallowRef<SceneInspection | null>(null)
  const findings = shallowRef<readonly BenchFinding[]>([])
  const checked = ref(false)
  /** The model is being opened or made anew: what it holds is about to be other. */
  const changing = ref(false)
  const checking = ref(false)
  const busy = computed(() => changing.value || checking.value)
  const preview = shallowRef<StepPreview | null>(null)
  let storageKey = ''

  const keep = (): void => {
    const steps = records.value.map((record) => record.step)
    remember(storageKey, steps.length ? steps : null)
  }
  async function during<Result>(flag: Ref<boolean>, work: () => Promise<Result>): Promise<Result | null> {
    flag.value = true
    try {
      return await work()
    } catch (error) {
      failed(error)
      return null
    } finally {
      flag.value = false
    }
  }

  async function open(sceneId: string, versionId: string): Promise<void> {
    storageKey = `draft.${versionId}`
    records.value = []
    findings.value = []
    checked.value = false
    await during(changing, async () => {
      inspection.value = (await bench.ask('open', { sceneId })).inspection
    })
    await lookAgain()
  }
  /** Forgets what belongs to a version that is no longer shown. */
  function close(): void {
    records.value = []
    findings.value = []
    inspection.value = null
    checked.value = false
    preview.value = null
    ticket++
  }
  /** The steps that were left on this version, if any. */
  function leftSteps(): RecipeStep[] {
    return remembered(storageKey, (value): value is RecipeStep[] => Array.isArray(value)) ?? []
  }
  async function setSteps(steps: readonly RecipeStep[]): Promise<string | null> {
    const done = await during(changing, () =>
      bench.ask('setSteps', { steps: JSON.parse(JSON.stringify(steps)) as RecipeStep[] }),
    )
    if (!done) return null
    records.value = done.records
    inspection.value = done.inspection
    keep()
    await lookAgain()
    return done.refusal
  }
  async function check(settings: Partial<CheckSettings>): Promise<void> {
    const done = await during(checking, () => bench.ask('check', { settings: { ...settings } }))
    if (!done) return
    findings.value = done.findings
    checked.value = true
  }
  let ticket = 0
  /** What the artist considers; what it would change is looked for anew whenever the model under it changes. */
  let considered: RecipeStep | null = null
  async function look(step: RecipeStep | null): Promise<void> {
    considered = step
    const mine = ++ticket
    preview.value = null
    // one that is still being opened is looked at when it is there
    if (!step || !inspection.value) return
    try {
      const done = await bench.ask('preview', { step: JSON.parse(JSON.stringify(step)) as RecipeStep })
      if (mine === ticket) preview.value = done
    } catch (error) {
      failed(error)
    }
  }
  const lookAgain = (): Promise<void> => look(considered)
  const steps = computed(() => records.value.map((record) => record.step))
  return {
    records,
    steps,
    inspection,
    findings,
    checked,
    busy,
    changing,
    preview,
    open,
    close,
    leftSteps,
    setSteps,
    check,
    look,
    forget: () => remember(storageKey, null),
  }
}
