import { addVersion, createAsset } from '../../assets/asset-store.ts'
import { getFiles } from '../../content/file-store.ts'
import { prepareScene, putScene } from '../../content/scene-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { zipLimits, type Handler } from './handler.ts'

/** Files become the first version of a new asset. */
export const importFiles: Handler<JobInputs['import']> = async (context, input) => {
  const { db, job, progress, signal } = context
  progress(0.01, 'Fetching the files')
  const files = await getFiles(db, input.fileIds)
  const scene = await context.runTask(
    'read',
    { files, options: input.options, limits: zipLimits() },
    (share, stage) => progress(share * 0.85, stage),
    signal,
  )
  progress(0.86, 'Saving')
  const prepared = await prepareScene(db, scene)
  await db.transaction(async (tx) => {
    const sceneId = await putScene(tx, prepared)
    const assetId = await createAsset(tx, input.name)
    const version = await addVersion(tx, {
      assetId,
      sceneId,
      basedOn: null,
      madeBy: job.askedBy,
      note: `Imported ${files.map((file) => file.name).join(', ')}`,
    })
    await finishJob(tx, job, { assetId, versionId: version.id }, { assetId })
  })
}
