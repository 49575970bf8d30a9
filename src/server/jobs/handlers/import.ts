import type { z } from 'zod'
import type { importedEachSchema } from '../../../contract/api.ts'
import { fileNameOf, stemOf } from '../../../core/formats/package/package-file.ts'
import { addVersion, createAsset } from '../../assets/asset-store.ts'
import { getFiles } from '../../content/file-store.ts'
import { prepareScene, putScene, type PreparedScene } from '../../content/scene-store.ts'
import type { Tx } from '../../db/connection.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { zipLimits, type Handler } from './handler.ts'

/** Letters that the name of an asset may have. */
const LONGEST_NAME = 120

/** Files become the first version of a new asset, or of one for each model among them. */
export const importFiles: Handler<JobInputs['import']> = async (context, input) => {
  const { db, job, progress, signal } = context
  progress(0.01, 'Fetching the files')
  const files = await getFiles(db, input.fileIds)
  const request = { files, options: input.options, limits: zipLimits() }
  const told = (share: number, stage: string): void => progress(share * 0.85, stage)
  const add = async (tx: Tx, name: string, scene: PreparedScene, from: readonly string[]) => {
    const sceneId = await putScene(tx, scene)
    const assetId = await createAsset(tx, name)
    const version = await addVersion(tx, {
      assetId,
      sceneId,
      basedOn: null,
      madeBy: job.askedBy,
      note: `Imported ${from.join(', ')}`,
    })
    return { assetId, versionId: version.id }
  }
  if (!input.each) {
    const scene = await context.runTask('read', request, told, signal)
    progress(0.86, 'Saving')
    const prepared = await prepareScene(db, scene)
    await db.transaction(async (tx) => {
      const { assetId, versionId } = await add(
        tx,
        input.name,
        prepared,
        files.map((file) => file.name),
      )
      await finishJob(tx, job, { assetId, versionId }, { assetId })
    })
    return
  }
  const { models, left } = await context.runTask('readEach', request, told, signal)
  progress(0.86, 'Saving')
  const names = assetNames(models.map(({ name }) => name))
  const prepared: PreparedScene[] = []
  for (const { described } of models) prepared.push(await prepareScene(db, described))
  await db.transaction(async (tx) => {
    const assets = []
    for (const [at, scene] of prepared.entries()) {
      const { assetId } = await add(tx, names[at]!, scene, [models[at]!.name])
      assets.push({ assetId, name: names[at]! })
    }
    await finishJob(tx, job, { assets, left } satisfies z.input<typeof importedEachSchema>, {
      assetId: assets[0]!.assetId,
    })
  })
}

/** Assets by the names of their files; with the ending where two would be called alike. */
function assetNames(files: readonly string[]): string[] {
  const plain = files.map((file) => wordsOf(stemOf(file)))
  return plain.map((name, at) =>
    (plain.filter((other) => other.toLowerCase() === name.toLowerCase()).length > 1 || !name
      ? fileNameOf(files[at]!)
      : name
    ).slice(0, LONGEST_NAME),
  )
}

const wordsOf = (stem: string): string => stem.replace(/[_-]+/g, ' ').trim()
