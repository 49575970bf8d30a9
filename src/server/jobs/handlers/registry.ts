/** All kinds of jobs. One line each. */
import type { JobInputs } from '../inputs.ts'
import type { JobKind } from '../job-store.ts'
import { forecast } from './forecast.ts'
import type { Handler } from './handler.ts'
import { images } from './images.ts'
import { importFiles } from './import.ts'
import { land } from './land.ts'
import { practise } from './practise.ts'
import { prepare } from './prepare.ts'
import { randomTrips } from './random-trips.ts'
import { receive } from './receive.ts'
import { reconcile } from './reconcile.ts'
import { remap } from './remap.ts'
import { send } from './send.ts'

export const HANDLERS: { readonly [Kind in JobKind]: Handler<JobInputs[Kind]> } = {
  import: importFiles,
  forecast,
  send,
  receive,
  reconcile,
  practise,
  prepare,
  land,
  'random-trips': randomTrips,
  remap,
  look: remap,
  images,
}
