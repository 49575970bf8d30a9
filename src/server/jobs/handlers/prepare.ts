import { addVersion, getVersion } from '../../assets/asset-store.ts'
import { getScene, prepareScene, putScene } from '../../content/scene-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, type Handler } from './handler.ts'

/** A list of steps on a version becomes a new one. */
export const prepare: Handler<JobInputs['prepare']> = async (context, input) => {
  const { db, job, progress, signal } = context
  const version = await getVersion(db, input.versionId)
  if (!version) throw missing('the version')
  const { result, records } = await context.runTask(
    'prepare',
    { scene: await getScene(db, version.sceneId), recipe: input.recipe },
    (share, stage) => progress(share * 0.88, stage),
    signal,
  )
  progress(0.9, 'Saving')
  const prepared = await prepareScene(db, result)
  await db.transaction(async (tx) => {
    const sceneId = await putScene(tx, prepared)
    const added = await addVersion(tx, {
      assetId: version.assetId,
      sceneId,
      basedOn: version,
      madeBy: job.askedBy,
      beside: input.beside ?? null,
      note: `${input.recipe.name}: ${records.length} ${records.length === 1 ? 'step' : 'steps'} on version ${version.number}`,
    })
    await finishJob(tx, job, {
      versionId: added.id,
      versionNumber: added.number,
      records: records.map(({ step, changedCount, of, notes }) => ({
        step: step.step,
        changedCount,
        of,
        notes,
      })),
    })
  })
}
