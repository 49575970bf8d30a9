import { packageFolder } from '../../../core/trips/deliver.ts'
import { describeFindings } from '../../../core/inspect/inspect-scene.ts'
import { nextTripNumber } from '../../trips/trip-store.ts'
import { prepareLedger, withoutPlaces } from '../../trips/ledger-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { writeDelivery } from './delivery.ts'
import type { Handler } from './handler.ts'

/** What a file for a destination will carry. It is looked at and forgotten: nothing of it is stored but the words. */
export const forecast: Handler<JobInputs['forecast']> = async (context, input) => {
  const { version, assetName, delivery } = await writeDelivery(context, input)
  const { document } = await prepareLedger(context.db, withoutPlaces(delivery.forecast))
  const tripNumber = await nextTripNumber(context.db, version.assetId)
  await context.db.transaction((tx) =>
    finishJob(tx, context.job, {
      forecast: document,
      folder: packageFolder(assetName, input.destination, tripNumber),
      contents: delivery.contents,
      messages: describeFindings(delivery.findings),
      checks: delivery.checks,
      size: delivery.size,
      steps: delivery.records.map(({ step, changedCount, of }) => ({ step: step.step, changedCount, of })),
    }),
  )
}
