/**
 * Deliveries that were measured: sending hands out the very bytes that the forecast was about, and writes nothing a
 * second time. What is not here any more is written again.
 */
import { createHash } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { deserialize, serialize } from 'node:v8'
import type { SendResult } from '../../app/send-version.ts'
import { createSpool } from '../content/spool.ts'

/** Bytes; one that is larger is not kept: writing it again takes less than the disk it would fill. */
const MOST_OF_ONE = 2 ** 30

const spool = createSpool('deliveries')
const nameOf = (key: string): string => createHash('sha256').update(key).digest('hex')

/** Keeps a delivery under the request that it was written for. One that can't be kept is written again later. */
export async function keepDelivery(key: string, delivery: SendResult): Promise<void> {
  if (delivery.contents.reduce((sum, file) => sum + file.byteLength, 0) > MOST_OF_ONE) return
  await spool.keep(nameOf(key), serialize(delivery))
}

/** The delivery of the very same request; null where it is not here (any more). */
export async function keptDelivery(key: string): Promise<SendResult | null> {
  const path = await spool.find(nameOf(key))
  if (!path) return null
  try {
    return deserialize(await readFile(path)) as SendResult
  } catch {
    return null
  }
}
