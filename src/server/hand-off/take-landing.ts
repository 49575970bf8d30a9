/** Takes what lies in a folder into the store, and sets somebody to look at it. */
import { createReadStream } from 'node:fs'
import { lstat } from 'node:fs/promises'
import { join } from 'node:path'
import { isModelName } from '../../core/formats/package/read-package.ts'
import type { FolderEntry } from '../../core/trips/hand-off/settled-files.ts'
import { prepareSpooledFile, putFile, type PreparedFile } from '../content/file-store.ts'
import { createPacker } from '../content/pack-content.ts'
import { fileLimit, MOST_FILES, requestLimit, requestLimitWords } from '../content/uploads.ts'
import type { Db } from '../db/connection.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { createJob } from '../jobs/job-store.ts'
import { soundFileName } from '../plugins/sound-text.ts'
import { addLanding, setEarlierAside, settleLanding, type LandingReason } from './landing-store.ts'

/** It is not as it was when it was looked at: it is still being written. */
class StillGrowing extends Error {}

async function fetchFile(
  folder: string,
  { path, byteLength, writtenAt }: FolderEntry,
): Promise<PreparedFile> {
  const place = join(folder, path)
  const packer = createPacker()
  for await (const chunk of createReadStream(place)) await packer.add(chunk as Uint8Array)
  const content = await packer.end()
  const after = await lstat(place)
  if (
    content.byteLength !== byteLength ||
    after.size !== byteLength ||
    Math.floor(after.mtimeMs) !== writtenAt
  )
    throw new StillGrowing()
  return prepareSpooledFile({ name: soundFileName(path), path: place, content })
}

/**
 * @param entries that landed, with what lies beside them.
 * @param landed those of them that are new.
 * @returns false where they are not written to the end after all.
 */
export async function takeLanding(
  db: Db,
  folder: string,
  from: { readonly place: string; readonly destinationFolder: string },
  entries: readonly FolderEntry[],
  landed: readonly FolderEntry[],
): Promise<boolean> {
  const row = { place: from.place, folder: from.destinationFolder, entries: landed }
  const ask = async (why: LandingReason): Promise<true> => {
    await addLanding(db, { ...row, fileIds: [], state: 'asks', why })
    return true
  }
  const bytes = entries.reduce((sum, { byteLength }) => sum + byteLength, 0)
  if (
    bytes > requestLimit() ||
    entries.length > MOST_FILES ||
    entries.some(({ byteLength }) => byteLength > fileLimit())
  )
    return ask({ code: 'upload.too-large', parameters: { limit: requestLimitWords(), files: MOST_FILES } })
  const ordered = [...entries].sort((a, b) => Number(isModelName(b.path)) - Number(isModelName(a.path)))
  const prepared: PreparedFile[] = []
  try {
    for (const entry of ordered) prepared.push(await fetchFile(folder, entry))
  } catch (error) {
    if (error instanceof StillGrowing) return false
    const { code } = error as NodeJS.ErrnoException
    // it was taken away again
    if (code === 'ENOENT') return false
    return ask({ code: 'landing.unreadable', parameters: { reason: code ?? 'the disk doesn’t answer' } })
  }
  await db.transaction(async (tx) => {
    const fileIds: string[] = []
    for (const file of prepared) fileIds.push(await putFile(tx, file))
    await setEarlierAside(tx, from.place)
    const landingId = await addLanding(tx, { ...row, fileIds, state: 'looking', why: null })
    const jobId = await createJob(tx, {
      kind: 'land',
      title: `Look at ${from.place}`,
      askedBy: null,
      input: { landingId, fileIds } satisfies JobInputs['land'],
    })
    await settleLanding(tx, landingId, { state: 'looking', jobId })
  })
  return true
}
