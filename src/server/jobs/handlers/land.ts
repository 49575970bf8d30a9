import { isModelName } from '../../../core/formats/package/read-package.ts'
import { chooseTrip, type TripCandidate, type TripChoice } from '../../../core/trips/hand-off/choose-trip.ts'
import { getFiles } from '../../content/file-store.ts'
import { getScene } from '../../content/scene-store.ts'
import { folderOf } from '../../hand-off/folders.ts'
import { addLanding, getLanding, openTrips, settleLanding } from '../../hand-off/landing-store.ts'
import { receiveLanding } from '../../hand-off/receive-landing.ts'
import { getTrip, getTripDetail } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, zipLimits, type Handler } from './handler.ts'

/** Of more trips than this that are out at once, the newest are held against what landed. */
const MOST_CANDIDATES = 40

/** Finds the trip that landed files are of; where that can be said they are taken back, else somebody is asked. */
export const land: Handler<JobInputs['land']> = async (context, input) => {
  const { db, job, progress, signal, runTask } = context
  const landing = await getLanding(db, input.landingId)
  if (!landing) throw missing('what landed')
  const files = await getFiles(db, input.fileIds)
  const { whole, each } = await runTask(
    'signFiles',
    { files, options: {}, limits: zipLimits() },
    (share, stage) => progress(share * 0.4, stage),
    signal,
  )
  const open = (await openTrips(db))
    .filter((trip) => landing.folder === '' || folderOf(trip.destinationName) === landing.folder)
    .slice(0, MOST_CANDIDATES)
  const candidates: TripCandidate[] = []
  for (const [at, document] of open.entries()) {
    const trip = await getTrip(db, document.id)
    if (!trip) continue
    const signature = await runTask(
      'signScene',
      { scene: await getScene(db, trip.sceneId), chosen: trip.selection },
      () => progress(0.4 + (0.55 * at) / open.length, 'Looking at the trips'),
      signal,
    )
    candidates.push({
      id: trip.id,
      number: trip.number,
      assetName: document.assetName,
      destinationName: document.destinationName,
      contents: (await getTripDetail(db, trip.id))!.contents.map(({ name }) => name),
      isBack: trip.returnedSceneId !== null,
      signature,
    })
  }
  const names = [landing.place, ...files.map(({ name }) => name)]
  const choice = chooseTrip(whole, names, candidates)
  const groups = choice.tripId
    ? [{ choice, fileIds: input.fileIds }]
    : groupByTrip(
        choice,
        each.map(({ file, signature }) => ({
          file,
          choice: chooseTrip(signature, [landing.place, files[file]!.name], candidates),
        })),
        files.map(({ name }) => name),
        input.fileIds,
      )
  await db.transaction(async (tx) => {
    for (const [at, group] of groups.entries()) {
      // what is of several trips is as many landings
      const { place, folder, entries } = landing
      const own =
        at === 0
          ? landing
          : {
              place,
              id: await addLanding(tx, {
                place,
                folder,
                entries,
                fileIds: group.fileIds,
                state: 'asks',
                why: null,
              }),
            }
      const trip = group.choice.tripId ? await getTrip(tx, group.choice.tripId) : null
      if (trip && trip.returnedSceneId === null) await receiveLanding(tx, own, group.fileIds, trip, null)
      else
        await settleLanding(tx, own.id, {
          state: 'asks',
          jobId: null,
          fileIds: group.fileIds,
          why: {
            code: group.choice.why ?? (trip ? 'landing.already-back' : 'landing.no-trip'),
            parameters: {},
          },
          ranked: group.choice.ranked,
        })
    }
    await finishJob(tx, job, { landingId: landing.id })
  })
}

/** Model files of one trip together, each group with all that is no model; those that say nothing stay together. */
function groupByTrip(
  whole: TripChoice,
  each: readonly { readonly file: number; readonly choice: TripChoice }[],
  names: readonly string[],
  fileIds: readonly string[],
): { choice: TripChoice; fileIds: readonly string[] }[] {
  if (!each.some(({ choice }) => choice.tripId)) return [{ choice: whole, fileIds }]
  const groups = new Map<string | null, { choice: TripChoice; files: number[] }>()
  for (const { file, choice } of each) {
    const group = groups.get(choice.tripId) ?? { choice, files: [] }
    group.files.push(file)
    groups.set(choice.tripId, group)
  }
  const models = new Set(each.map(({ file }) => file))
  const beside = names.flatMap((name, at) => (models.has(at) || isModelName(name) ? [] : [at]))
  return [...groups.values()].map(({ choice, files }) => ({
    choice,
    fileIds: [...files, ...beside].map((at) => fileIds[at]!),
  }))
}
