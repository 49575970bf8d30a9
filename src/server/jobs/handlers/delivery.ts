/** What a forecast and a sending have in common: the files written for a destination, measured once. */
import type { SendResult } from '../../../app/send-version.ts'
import { assetNameOf, getVersion, type VersionRow } from '../../assets/asset-store.ts'
import { getScene } from '../../content/scene-store.ts'
import { keepDelivery, keptDelivery } from '../delivery-spool.ts'
import type { SendInput } from '../inputs.ts'
import { missing, type JobContext } from './handler.ts'

export interface WrittenDelivery {
  readonly version: VersionRow
  readonly assetName: string
  readonly delivery: SendResult
}

/**
 * The delivery that was measured for the same request, where this machine still has it; else it is written and
 * measured now, and kept for the sending that usually follows.
 */
export async function writeDelivery(context: JobContext, input: SendInput): Promise<WrittenDelivery> {
  const version = await getVersion(context.db, input.versionId)
  if (!version) throw missing('the version')
  const assetName = await assetNameOf(context.db, version.assetId)
  const request = {
    assetName,
    versionNumber: version.number,
    destination: input.destination,
    options: input.options,
    selection: input.selection ?? null,
    withRecipe: input.withRecipe,
  }
  const key = JSON.stringify([version.sceneId, request])
  const kept = await keptDelivery(key)
  if (kept) return { version, assetName, delivery: kept }
  const delivery = await context.runTask(
    'send',
    { ...request, scene: await getScene(context.db, version.sceneId) },
    context.progress,
    context.signal,
  )
  await keepDelivery(key, delivery)
  return { version, assetName, delivery }
}
