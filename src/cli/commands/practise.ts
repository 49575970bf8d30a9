import { runRandomTrips } from '../../core/practice/faults/random-trips.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseReadOptions } from '../load.ts'
import { UsageError } from '../usage-error.ts'

const MOST_TRIPS = 10_000

function wholeNumber(text: string | undefined, fallback: number, most: number, name: string): number {
  if (text === undefined) return fallback
  const number = Number(text)
  if (!Number.isInteger(number) || number < 0 || number > most)
    throw new UsageError(`--${name} wants a whole number up to ${most}, not “${text}”.`)
  return number
}

/** Random trips of a file, with one to six faults each, and how many of its points were found again. */
export const practiseCommand: Command = (paths, values) => {
  const [path] = wanted(paths, 'FILE')
  const count = wholeNumber(values.trips, 100, MOST_TRIPS, 'trips')
  const seed = wholeNumber(values.seed, 1, 1e9, 'seed')
  const { scene, findings } = loadModel(path!, parseReadOptions(values.read))
  const trips = runRandomTrips(scene, { count, seed })
  const sum = (of: (trip: (typeof trips)[number]) => number): number =>
    trips.reduce((total, trip) => total + of(trip), 0)
  const score = {
    trips: trips.length,
    right: sum(({ right }) => right),
    undecided: sum(({ undecided }) => undecided),
    wrong: sum(({ wrong }) => wrong),
  }
  const told = trips
    .filter((trip) => values.all === true || trip.wrong > 0)
    .map((trip) => `seed ${trip.seed}: ${trip.done.join(' ')} Found: ${trip.found.join(' ')} ${trip.right} points right, ${trip.undecided} left open or gone, ${trip.wrong} wrong.`) // prettier-ignore
  return {
    output: { ...score, each: trips },
    text: [
      ...told,
      `${score.trips} ${score.trips === 1 ? 'trip' : 'trips'}: ${score.right} points found again, ${score.undecided} left open or gone, ${score.wrong} taken for others.`,
    ].join('\n'),
    findings,
    status: score.wrong > 0 ? 1 : 0,
  }
}
