import { writeZip } from '../../../core/formats/package/write-zip.ts'
import type { TaskRequest } from '../../../app/tasks.ts'
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
  const given = {
    scene: await getScene(db, version.sceneId),
    files: await getFiles(db, input.fileIds),
    surface: input.surface,
    rules: input.rules,
    limits: zipLimits(),
  }
  if (input.mode === 'show') return show(context, given)
  const { document, result, files } = await context.runTask(
    'remap',
    { ...given, mode: input.mode, format: input.format, stem },
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

/** Two scenes to be drawn, kept as long as the job that names them. */
async function show(
  { db, job, progress, signal, runTask }: Parameters<Handler<JobInputs['remap']>>[0],
  given: TaskRequest<'show-surfaces'>,
): Promise<void> {
  const { before, after, notDrawn } = await runTask(
    'show-surfaces',
    given,
    (share, stage) => progress(share * 0.9, stage),
    signal,
  )
  progress(0.92, 'Saving')
  const prepared = [await prepareScene(db, before), await prepareScene(db, after)] as const
  await db.transaction(async (tx) => {
    const beforeSceneId = await putScene(tx, prepared[0])
    const afterSceneId = await putScene(tx, prepared[1])
    await finishJob(tx, job, { beforeSceneId, afterSceneId, notDrawn })
  })
}
