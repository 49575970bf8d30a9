import { shallowRef, watch, type Ref } from 'vue'
import { worseSchema, type WorseDocument } from '../../../contract/api.ts'
import { conflictSchema } from '../../../contract/ledger.ts'
import type { ReconcileChoice } from '../../../contract/options.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { api, isConflict } from '../../api.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useStillHere } from '../../kit/still-here.ts'
import { useNotices } from '../../stores/notices.ts'
import { useConflicts } from './use-conflicts.ts'

/** What reconciling rests on, as it is on the page. */
export interface ReconcileContext {
  readonly tripId: () => string
  readonly take: () => Trait[]
  readonly takeByPart: () => Promise<ReconcileChoice['takeByPart']>
  /** The return that is looked at. */
  readonly from: () => string | null
  /** The newest version, where it is no longer the one that left. */
  readonly onto: () => string | null
  readonly job: Ref<string | null>
  /** @param isHere the artist still looks at this return. */
  readonly made: (versionNumber: string, isHere: () => boolean) => Promise<void>
  /** Somebody else has written meanwhile. */
  readonly movedOn: () => Promise<void>
}

/**
 * Makes the new version, and asks first: what was changed on both sides, and whether to keep what would have something
 * wrong that the master has not. With other traits, another return or another master it is asked anew.
 */
export function useReconcile(context: ReconcileContext) {
  const jobs = useJobs()
  const notices = useNotices()
  const asked = (): readonly unknown[] => [context.take(), context.from(), context.onto()]
  const { conflicts, choices, allChosen, choose } = useConflicts(asked)
  const worse = shallowRef<readonly WorseDocument[]>([])
  watch([asked, choices], () => (worse.value = []), { deep: true })

  const watchHere = useStillHere(context.tripId)
  async function reconcile(): Promise<void> {
    const isHere = watchHere()
    try {
      const { jobId } = await api.reconcile(context.tripId(), {
        take: context.take(),
        takeByPart: await context.takeByPart(),
        from: context.from(),
        onto: context.onto(),
        choices: choices.value,
        // what was told once is not asked again
        checkFirst: worse.value.length === 0,
      })
      context.job.value = jobId
      const { result } = await jobs.finished(jobId)
      if (result!.conflicts) conflicts.value = conflictSchema.array().parse(result!.conflicts)
      else if (result!.worse) worse.value = worseSchema.array().parse(result!.worse)
      else await context.made(String(result!.versionNumber), isHere)
    } catch (error) {
      notices.failed(error)
      // the master moved on meanwhile, or something else came back: what is there now is shown
      if (isConflict(error)) await context.movedOn()
    } finally {
      context.job.value = null
    }
  }
  return { conflicts, choices, allChosen, choose, worse, reconcile }
}
