import { KelboError } from '../core/base/messages/collector.ts'
import type { FormatOptions } from '../core/formats/descriptor.ts'
import type { Scene } from '../core/scene/scene.ts'
import { StepRefusal } from '../core/steps/step.ts'
import type { Delivery } from '../core/trips/deliver.ts'
import type { Destination } from '../core/trips/destinations/destination.ts'
import { fileWord } from '../core/trips/split.ts'
import { deliverVersion } from './deliver-version.ts'
import { describeScene, type DescribedScene } from './describe.ts'
import { BARE_HOST, QUIET, type Host, type Progress } from './host.ts'

export interface SendRequest {
  readonly assetName: string
  readonly versionNumber: number
  readonly destination: Destination
  readonly options: FormatOptions
  /** Parts that leave, by the ids of their nodes; null: all. */
  readonly selection: readonly string[] | null
  readonly withRecipe: boolean
}

export interface SendResult extends Omit<Delivery, 'sent'> {
  /** What left, where a recipe made it another one than the version. */
  readonly sent: DescribedScene | null
  readonly contents: readonly { name: string; byteLength: number }[]
}

/** A step that can't be done is the user's to hear. */
export const told = (error: unknown): unknown =>
  error instanceof StepRefusal ? new KelboError('step.refused', { reason: error.message }) : error

/** Numbers of nodes by their ids. @throws KelboError `delivery.unknown-part`: leaving one out unasked would be a loss. */
function nodesOf(scene: Scene, ids: readonly string[]): number[] {
  const numbers = new Map(scene.nodes.map((node, index) => [node.id, index]))
  const count = ids.filter((id) => !numbers.has(id)).length
  if (count > 0) throw new KelboError('delivery.unknown-part', { count })
  return ids.map((id) => numbers.get(id)!)
}

/**
 * A version written for a destination, and what of it arrives.
 * @throws KelboError `delivery.unknown-part`; `step.refused` where a step of the destination's recipe can't be done.
 */
export async function sendVersion(
  scene: Scene,
  { assetName, versionNumber, destination, options, selection, withRecipe }: SendRequest,
  progress: Progress = QUIET,
  host: Host = BARE_HOST,
): Promise<SendResult> {
  const delivery = await deliverVersion(
    scene,
    {
      destination,
      options,
      selection: selection && nodesOf(scene, selection),
      stem: `${fileWord(assetName).toLowerCase()}_v${versionNumber}`,
      withRecipe,
      codec: host.codec,
    },
    progress,
    host,
  ).catch((error: unknown) => {
    throw told(error)
  })
  return {
    ...delivery,
    sent: delivery.sent && describeScene(delivery.sent, [], false, host.facts),
    contents: delivery.files.map((file) => ({ name: file.name, byteLength: file.bytes.length })),
  }
}
