import { writeZip } from '../../../core/formats/package/write-zip.ts'
import { targetOf } from '../../../core/surfaces/remap/rules.ts'
import { fileWord } from '../../../core/trips/split.ts'
import { addVersion, getAsset, getVersion } from '../../assets/asset-store.ts'
import { getFiles, prepareFile, putFile } from '../../content/file-store.ts'
import { getScene, prepareScene, putScene } from '../../content/scene-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, zipLimits, type Handler } from './handler.ts'

/** A version's materials for another surface model: looked at, made a new version of, or written as files. */
export const remap: Handler<JobInputs['remap']> = async (context, input) => {
  const { db, job, progress, signal } = context
  const version = await getVersion(db, input.versionId)
  if (!version) throw missing('the version')
  const asset = await getAsset(db, version.assetId)
  if (!asset) throw missing('the asset')
  const stem = fileWord(asset.name).toLowerCase()
  const { document, result, files } = await context.runTask(
    'remap',
    {
      scene: await getScene(db, version.sceneId),
      files: await getFiles(db, input.fileIds),
      surface: input.surface,
      rules: input.rules,
      mode: input.mode,
      format: input.format,
      stem,
      limits: zipLimits(),
    },
    (share, stage) => progress(share * 0.9, stage),
    signal,
  )
  progress(0.92, 'Saving')
  const prepared = result && (await prepareScene(db, result))
  const folder = `${stem}-${input.surface}`
  const zip =
    files &&
    (await prepareFile(db, {
      name: `${folder}.zip`,
      bytes: writeZip(files.map((file) => ({ ...file, name: `${folder}/${file.name}` }))),
    }))
  await db.transaction(async (tx) => {
    const added =
      prepared &&
      (await addVersion(tx, {
        assetId: version.assetId,
        sceneId: await putScene(tx, prepared),
        basedOn: version,
        madeBy: job.askedBy,
        beside: input.beside ?? null,
        note: `Materials as ${targetOf(input.surface, input.rules).title}, on version ${version.number}`,
      }))
    await finishJob(tx, job, {
      ...document,
      ...(added ? { versionId: added.id, versionNumber: added.number } : {}),
      ...(zip ? { fileId: await putFile(tx, zip) } : {}),
    })
  })
}
