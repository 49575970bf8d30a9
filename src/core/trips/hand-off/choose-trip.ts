/** Which of the trips that are out a landed file is of: by what is in it, and by what it is called. */
import { fileWord } from '../split.ts'
import type { Sample, SceneSignature } from './sign-scene.ts'

/** A trip that something may have come home from. */
export interface TripCandidate {
  readonly id: string
  readonly number: number
  readonly assetName: string
  readonly destinationName: string
  /** Names of the files that left. */
  readonly contents: readonly string[]
  /** Something has come back from it already. */
  readonly isBack: boolean
  readonly signature: SceneSignature
}

export interface RankedTrip {
  readonly id: string
  /** 0 to 1: how much of the one is in the other. */
  readonly content: number
  /** 0: nothing in the name says so; 1: the asset's, or a file's that left; 2: with the trip's number; 3: that right behind the asset's. */
  readonly name: 0 | 1 | 2 | 3
  /** Its content alone says that it is of this trip's model. */
  readonly fits: boolean
}

export interface TripChoice {
  /** Null: somebody has to say. */
  readonly tripId: string | null
  /** Why somebody is asked; null where nobody is. */
  readonly why: 'landing.no-trip' | 'landing.several-trips' | 'landing.already-back' | null
  /** Those that it may be of, the likeliest first. */
  readonly ranked: readonly RankedTrip[]
}

/** Members of a sample from which on shares of it say something. */
const LEAST_MEMBERS = 12
/** Of the larger of what two have in common in UVs or places, so much has to be shared. */
const MOSTLY = 0.6
const PARTLY = 0.3
/** Contents that differ by less are alike. */
const ALIKE = 0.1
const MOST_LEVELS = 5
const MOST_RANKED = 6

/** How much of the smaller of two sets is in the larger; null where there is too little to say. */
function shared(a: Sample, b: Sample): number | null {
  const limit = Math.min(a.limit, b.limit)
  const [own, other] = [a, b].map(({ hashes }) => hashes.filter((hash) => hash < limit)) as [
    number[],
    number[],
  ]
  const least = Math.min(own.length, other.length)
  if (least < LEAST_MEMBERS) return null
  const known = new Set(other)
  return own.filter((hash) => known.has(hash)).length / least
}

/** The share of the smaller of two models, by its triangles, in parts that the other has too: whole, refined, or all as one. */
function sharedParts(sent: SceneSignature, came: SceneSignature): number {
  const sum = ({ parts }: SceneSignature): number =>
    parts.reduce((total, { triangles }) => total + triangles, 0)
  const least = Math.min(sum(sent), sum(came))
  if (least === 0) return 0
  if (sum(sent) === sum(came)) return 1
  const left = new Map<number, number>()
  for (const { triangles } of came.parts) left.set(triangles, (left.get(triangles) ?? 0) + 1)
  const take = (triangles: number): boolean => {
    const count = left.get(triangles) ?? 0
    if (count > 0) left.set(triangles, count - 1)
    return count > 0
  }
  let found = 0
  for (const { triangles, corners } of sent.parts) {
    const counts = [triangles]
    for (let level = 0; level < MOST_LEVELS; level++)
      counts.push(triangles * 4 ** (level + 1), 2 * corners * 4 ** level)
    if (counts.some(take)) found += triangles
  }
  return Math.min(1, found / least)
}

/** The share of the names of the one that has fewer which the other has too. */
function sharedNames(sent: readonly string[], came: readonly string[]): number {
  const [own, other] = [sent, came].map(
    (names) => new Set(names.map((name) => fileWord(name).toLowerCase())),
  ) as [Set<string>, Set<string>]
  const least = Math.min(own.size, other.size)
  return least ? [...own].filter((name) => other.has(name)).length / least : 0
}

/** How much of one model is in another: 0 to 1, and whether that alone says that they are one. */
export function likeness(sent: SceneSignature, came: SceneSignature): { content: number; fits: boolean } {
  const uvs = shared(sent.uvs, came.uvs)
  const places = shared(sent.places, came.places) ?? 0
  const parts = sharedParts(sent, came)
  const names = Math.max(
    sharedNames(
      sent.parts.map(({ name }) => name),
      came.parts.map(({ name }) => name),
    ),
    sharedNames(sent.materials, came.materials),
  )
  const content = Math.max(uvs ?? 0, places, parts * (0.5 + 0.5 * names))
  return {
    content,
    // as many triangles alone many a model has
    fits:
      (uvs ?? 0) >= MOSTLY ||
      places >= MOSTLY ||
      (parts >= MOSTLY && (names >= 0.5 || (uvs ?? 0) >= PARTLY || places >= PARTLY)),
  }
}

const withoutEnding = (name: string): string => name.replace(/\.\w+$/, '')
const stemOf = (name: string): string => withoutEnding(name.replace(/^.*\//, '')).toLowerCase()
/** For a pattern in which it is to stand as it is. */
const escaped = (word: string): string => word.replace(/\W/g, '\\$&')

/** What the names of landed files, with the folders that they lie in, say of a trip. */
export function nameLikeness(
  names: readonly string[],
  trip: Omit<TripCandidate, 'signature'>,
): 0 | 1 | 2 | 3 {
  const words = names.map((name) => name.toLowerCase())
  const asset = fileWord(trip.assetName).toLowerCase()
  const stems = trip.contents.map(stemOf).filter((stem) => stem.length > 2)
  // a word of the path begins with it; one of a letter or two, as many an ending holds, is a word by itself
  const named = new RegExp(`(^|[^a-z0-9])${escaped(asset)}${asset.length > 2 ? '' : '(?![a-z0-9])'}`)
  const about = words.some(
    (word) => named.test(withoutEnding(word)) || stems.some((stem) => stemOf(word).startsWith(stem)),
  )
  if (!about) return 0
  const number = `trip[ _-]?0*${trip.number}(?!\\d)`
  const says = (pattern: string): boolean => words.some((word) => new RegExp(pattern).test(word))
  // of “crate” and “crate b” both are in “crate_b_trip_001”
  return says(`(^|/)${escaped(asset)}[ _-]?${number}`) ? 3 : says(number) ? 2 : 1
}

/**
 * The trip that files came home from, where that can be said: its model is in them, and no other trip's as much, or
 * their names tell the two apart.
 *
 * @param names of the landed files, with the folders that they lie in.
 */
export function chooseTrip(
  came: SceneSignature,
  names: readonly string[],
  candidates: readonly TripCandidate[],
): TripChoice {
  const ranked = candidates
    .map((trip): RankedTrip => ({
      id: trip.id,
      name: nameLikeness(names, trip),
      ...likeness(trip.signature, came),
    }))
    .sort((a, b) => Number(b.fits) - Number(a.fits) || b.name - a.name || b.content - a.content)
  const fitting = ranked.filter(({ fits }) => fits)
  const asked = (why: NonNullable<TripChoice['why']>): TripChoice => ({
    tripId: null,
    why,
    ranked: (fitting.length ? fitting : ranked).slice(0, MOST_RANKED),
  })
  const [first, ...others] = fitting
  if (!first) return asked('landing.no-trip')
  const asGood = others.filter((other) => other.name >= first.name && other.content > first.content - ALIKE)
  if (asGood.length || others.some((other) => other.content > first.content + ALIKE))
    return asked('landing.several-trips')
  if (candidates.find(({ id }) => id === first.id)!.isBack) return asked('landing.already-back')
  return { tripId: first.id, why: null, ranked: [first] }
}
