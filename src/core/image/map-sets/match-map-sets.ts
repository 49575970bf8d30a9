/** Which set of maps is which material's, by likeness of their names over all pairs at once. */

export interface SetMatch {
  readonly set: number
  /** -1: none. */
  readonly material: number
  /** 0 to 1. */
  readonly likeness: number
  /** `sure`: alike and like no other; `only`: the only set and the only material; `doubtful`: has to be asked. */
  readonly how: 'sure' | 'only' | 'doubtful' | 'none'
  /** Materials that it could be as well, likest first. */
  readonly others: readonly number[]
}

const FILLERS = new Set([
  'mat',
  'material',
  'materials',
  'mtl',
  'shader',
  'shd',
  'm',
  't',
  'sg',
  'lambert',
  'phong',
  'surface',
])

const wordsOf = (name: string): string[] =>
  name
    .normalize('NFC')
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .flatMap((word) => word.split(/(?<=\p{L})(?=\d)/u))
    .filter(Boolean)

function meaningful(name: string): string[] {
  const words = wordsOf(name)
  const rest = words.filter((word) => !FILLERS.has(word))
  return rest.length ? rest : words
}

/** A name made ready to be held against many. */
interface ReadName {
  readonly words: readonly string[]
  readonly spaced: string
  readonly joined: string
  readonly numbers: string
  /** Pairs of neighbouring letters with how often each stands there. */
  readonly pairs: ReadonlyMap<string, number>
  readonly pairCount: number
}

function readName(name: string): ReadName {
  const words = meaningful(name)
  const spaced = words.join(' ')
  const pairs = new Map<string, number>()
  const padded = ` ${spaced} `
  for (let at = 0; at + 2 <= padded.length; at++) {
    const pair = padded.slice(at, at + 2)
    pairs.set(pair, (pairs.get(pair) ?? 0) + 1)
  }
  return {
    words,
    spaced,
    joined: words.join(''),
    numbers: words
      .filter((word) => /^\d+$/.test(word))
      .map(Number)
      .join(' '),
    pairs,
    pairCount: padded.length - 1,
  }
}

/**
 * 1 for names of the same words in the same order; below that the share of letter pairs (Dice 1945) and of whole words
 * that both have, whichever is more. Numbers count as words: `brass_02` isn't `brass_01`.
 */
export const nameLikeness = (a: string, b: string): number => likenessOf(readName(a), readName(b))

function likenessOf(left: ReadName, right: ReadName): number {
  if (left.spaced === right.spaced) return left.spaced ? 1 : 0
  if (left.joined === right.joined) return 0.99
  let shared = 0
  for (const word of left.words) if (right.words.includes(word)) shared++
  const byWords = (2 * shared) / (left.words.length + right.words.length)
  let common = 0
  for (const [pair, count] of left.pairs) common += Math.min(count, right.pairs.get(pair) ?? 0)
  const likeness = Math.max(byWords, (2 * common) / Math.max(1, left.pairCount + right.pairCount)) * 0.98
  if (left.numbers === right.numbers) return likeness
  return likeness * (left.numbers && right.numbers ? 0.4 : 0.8)
}

/** Least likeness of a pair that is proposed, of one that is sure, and how much the next has to be less alike. */
export const LEAST_LIKENESS = 0.35
const SURE_LIKENESS = 0.6
const MARGIN = 0.12

export function matchMapSets(sets: readonly string[], materials: readonly string[]): SetMatch[] {
  const readMaterials = materials.map(readName)
  const likeness = sets.map((set) => {
    const read = readName(set)
    return readMaterials.map((material) => likenessOf(read, material))
  })
  const pairs = likeness
    .flatMap((row, set) => row.map((value, material) => ({ set, material, value })))
    .filter(({ value }) => value >= LEAST_LIKENESS)
    .sort((a, b) => b.value - a.value || a.set - b.set || a.material - b.material)
  const ofSet = new Int32Array(sets.length).fill(-1)
  const taken = new Set<number>()
  for (const { set, material } of pairs) {
    if (ofSet[set]! >= 0 || taken.has(material)) continue
    ofSet[set] = material
    taken.add(material)
  }
  return sets.map((_, set): SetMatch => {
    const row = likeness[set]!
    const material = ofSet[set]!
    const others = row
      .map((value, at) => ({ value, at }))
      .filter(({ at, value }) => at !== material && value >= LEAST_LIKENESS)
      .sort((a, b) => b.value - a.value)
    if (material < 0) {
      if (sets.length === 1 && materials.length === 1)
        return { set, material: 0, likeness: row[0]!, how: 'only', others: [] }
      return {
        set,
        material: -1,
        likeness: others[0]?.value ?? 0,
        how: others.length ? 'doubtful' : 'none',
        others: others.map(({ at }) => at),
      }
    }
    const value = row[material]!
    const rivalOfSet = others[0]?.value ?? 0
    let rivalOfMaterial = 0
    for (const [at, other] of likeness.entries())
      if (at !== set) rivalOfMaterial = Math.max(rivalOfMaterial, other[material]!)
    const isSure =
      value >= SURE_LIKENESS &&
      value - rivalOfSet >= MARGIN &&
      (value - rivalOfMaterial >= MARGIN || value >= 0.99)
    const how =
      isSure || (value >= 0.985 && rivalOfSet < 0.985)
        ? 'sure'
        : sets.length === 1 && materials.length === 1
          ? 'only'
          : 'doubtful'
    return { set, material, likeness: value, how, others: others.map(({ at }) => at) }
  })
}
