import { writeZip } from '../../../core/formats/package/write-zip.ts'
import { imageOperation } from '../../../core/image/operations/registry.ts'
import { getVersion } from '../../assets/asset-store.ts'
import { getScene } from '../../content/scene-store.ts'
import { getFiles, prepareFile, putFile } from '../../content/file-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { zipLimits, type Handler } from './handler.ts'

/** An operation on images that were put here: what it makes lies beside them. */
export const images: Handler<JobInputs['images']> = async (
  context,
  { fileIds, operation, options, versionId },
) => {
  const { db, job, progress, signal } = context
  // only what asks for islands needs the model
  const asks = versionId && imageOperation(operation)?.needsIslands
  const version = asks ? await getVersion(db, versionId) : null
  const scene = version && (await getScene(db, version.sceneId))
  const { files, refused, notes } = await context.runTask(
    'images',
    { files: await getFiles(db, fileIds), operation, options, scene, limits: zipLimits() },
    (share, stage) => progress(share * 0.9, stage),
    signal,
  )
  progress(0.92, 'Saving')
  const prepared = await Promise.all(files.map((file) => prepareFile(db, file)))
  const zip = files.length
    ? await prepareFile(db, { name: `${operation}.zip`, bytes: writeZip(files) })
    : null
  await db.transaction(async (tx) => {
    const stored: { id: string; name: string; byteLength: number }[] = []
    for (const file of prepared)
      stored.push({ id: await putFile(tx, file), name: file.name, byteLength: file.byteLength })
    await finishJob(tx, job, {
      files: stored,
      refused,
      ...(notes?.length ? { notes } : {}),
      fileId: zip && (await putFile(tx, zip)),
      fileIds: stored.map(({ id }) => id),
    })
  })
}
