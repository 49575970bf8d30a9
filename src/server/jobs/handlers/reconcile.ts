import { KelboError } from '../../../core/base/messages/collector.ts'
import { entryOf } from '../../../core/formats/catalogue.ts'
import { addVersion, getVersion } from '../../assets/asset-store.ts'
import { getScene, prepareScene, putScene } from '../../content/scene-store.ts'
import { getMatching, getTrip, holdReturn, settleTrip } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, type Handler } from './handler.ts'

/** What is told of the result before it is kept: what could not come along as it was. */
const TOLD_FIRST = new Set<string>([
  'reconcile.seam-across',
  'reconcile.points-stay',
  'reconcile.over-surface',
  'reconcile.edges-not-led',
])

/** Chosen traits of what came back become a new version. */
export const reconcile: Handler<JobInputs['reconcile']> = async (context, input) => {
  const { db, job, progress, signal } = context
  const trip = await getTrip(db, input.tripId)
  if (!trip) throw missing('the trip')
  if (!trip.returnedSceneId) throw missing('the returned file')
  // another file came back since the artist looked
  if (input.from !== undefined && input.from !== trip.returnedSceneId)
    throw new KelboError('trip.other-return')
  const sent = await getVersion(db, trip.versionId)
  if (!sent) throw missing('the version that was sent')
  const onto = input.onto ? await getVersion(db, input.onto) : sent
  if (!onto || onto.assetId !== trip.assetId) throw missing('the version to reconcile with')
  const { result, taken, messages, conflicts, worse } = await context.runTask(
    'reconcile',
    {
      master: await getScene(db, trip.sceneId),
      returned: await getScene(db, trip.returnedSceneId),
      onto: onto.sceneId === trip.sceneId ? null : await getScene(db, onto.sceneId),
      options: {
        take: input.take,
        ...(input.takeByPart ? { takeByPart: input.takeByPart } : {}),
        ...(input.choices ? { choices: input.choices } : {}),
      },
      matching: await getMatching(db, trip.id),
      checks: input.checkFirst === true,
    },
    (share, stage) => progress(share * 0.88, stage),
    signal,
  )
  // somebody has to choose first: nothing is made
  if (!result) {
    await db.transaction((tx) => finishJob(tx, job, { conflicts, messages }))
    return
  }
  // what would be wrong with it is told before it is kept
  const carried = messages.filter(({ code }) => TOLD_FIRST.has(code))
  if (input.checkFirst && (worse.length || carried.length)) {
    await db.transaction((tx) =>
      finishJob(tx, job, {
        worse: [
          ...carried.map(({ code, severity, message }) => ({
            severity,
            message,
            part: null,
            advice: entryOf(code).advice,
          })),
          ...worse.map(({ severity, message, part, before }) => ({
            severity,
            message,
            part,
            advice: before ? `There ${before === 1 ? 'was' : 'were'} ${before} before.` : '',
          })),
        ],
        messages,
      }),
    )
    return
  }
  progress(0.9, 'Saving')
  const prepared = await prepareScene(db, result)
  await db.transaction(async (tx) => {
    const sceneId = await putScene(tx, prepared)
    const traits = Object.keys(taken)
    const took = traits.length ? `took ${traits.join(', ')}` : 'took nothing'
    const note =
      input.note?.trim() ||
      `Trip ${trip.number}: ${took}${onto.id === sent.id ? '' : `, on version ${onto.number}`}`
    const added = await addVersion(tx, {
      assetId: trip.assetId,
      sceneId,
      note,
      basedOn: onto,
      madeBy: job.askedBy,
      beside: input.beside ?? null,
    })
    // what is taken is of the return that was looked at
    await holdReturn(tx, trip.id, trip.returnedSceneId)
    await settleTrip(tx, trip.id, added.id)
    await finishJob(tx, job, { versionId: added.id, versionNumber: added.number, taken, messages })
  })
}
