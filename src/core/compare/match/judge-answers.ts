/** Which of several ways of laying one piece over the other side is taken, and which others make it a guess. */

/** Starts that reach as much as this beside the best are told apart by how little and how evenly they move. */
export const AS_GOOD = 0.995
/** Beside one that reaches so much of what the best does, it is a guess: an edit may lie in the way of the right one. */
const NEARLY_AS_GOOD = 0.985
/** Where the best reaches no more of its piece than this, it is taken to be parted by an edit. */
const PARTED = 0.75
/** Where it reaches more, one that reaches so much of what it does is looked at too. */
const NEAR_IT = 0.75

/** How many times as much as the best (see `Answer.moved`) from which on another answer is out of the question. */
const MUCH_MORE = 2.5
/** The same beside one that reaches farther, and beside one that reaches all. */
const VERY_MUCH_MORE = 10
const BEYOND_ALL = 100
/** How much of what the farthest reaches another has to reach to count beside it. */
const LEAST_BESIDE = 0.5

/** One way of laying a piece. */
export interface Answer {
  readonly pairs: Int32Array
  readonly reached: number
  /**
   * Mean square of the moves of paired points, times how unevenly they moved: a thin rod that was pushed aside comes nearer
   * to itself turned about its length, and there one side goes another way than the other.
   */
  readonly moved: number
  /** It began where the surroundings are there once on either side. */
  readonly sure: boolean
}

/**
 * Whether another answer makes the chosen one a guess: it reaches nearly as much; or an edit parts the piece, so that reach
 * says little, and it moves hardly more; or it moves much less than one that has nothing but its reach for it.
 */
export function speaksAgainst(other: Answer, chosen: Answer, piece: readonly number[]): boolean {
  if (other.reached >= chosen.reached * NEARLY_AS_GOOD) return true
  if (chosen.reached < piece.length * PARTED)
    return other.reached >= chosen.reached * LEAST_BESIDE && other.moved < chosen.moved * MUCH_MORE
  if (chosen.sure || other.reached < chosen.reached * LEAST_BESIDE) return false
  if (other.moved * MUCH_MORE < chosen.moved) return true
  if (other.reached < chosen.reached * NEAR_IT || other.moved >= chosen.moved * MUCH_MORE) return false
  // one that reaches all of it is in doubt where another lies on what it doesn't reach, as on the other of two sheets
  return chosen.reached < piece.length * AS_GOOD || !overlap(chosen, other, piece)
}

/** Whether most of what an answer reaches on the other side another reaches as well. */
function overlap(one: Answer, other: Answer, piece: readonly number[]): boolean {
  const reached = new Set(piece.map((point) => one.pairs[point]!))
  const both = piece.filter((point) => other.pairs[point]! >= 0 && reached.has(other.pairs[point]!)).length
  return both > other.reached / 2
}

/** Whether two answers pair more than a few points of a piece otherwise. */
export const isOther = (one: Answer, { pairs }: Answer, piece: readonly number[]): boolean =>
  piece.filter((point) => pairs[point]! >= 0 && one.pairs[point]! >= 0 && pairs[point] !== one.pairs[point])
    .length >
  Math.min(one.reached, piece.length) * (1 - AS_GOOD)

/**
 * The answer that reaches most, and of those alike the one that moves least. One that moves very much less goes before it:
 * something new may part the piece, and a symmetrical answer find its way round it. Null where another is nearly as good.
 */
export function theOne(answers: readonly Answer[], piece: readonly number[]): Answer | null {
  const most = answers.reduce((sum, { reached }) => Math.max(sum, reached), 0)
  const among = (share: number): Answer[] =>
    answers.filter(({ reached }) => reached >= most * share).sort((a, b) => a.moved - b.moved)
  /** The first of them, as long as no other moves as little. */
  const alone = ([best, ...others]: readonly Answer[]): Answer | null =>
    best && others.some((other) => other.moved < best.moved * MUCH_MORE && isOther(best, other, piece))
      ? null
      : (best ?? null)
  const farthest = alone(among(AS_GOOD))
  const all = among(LEAST_BESIDE)
  const [nearest] = all
  if (!nearest) return null
  const reaching = among(AS_GOOD)[0]!
  if (reaching.moved <= nearest.moved * MUCH_MORE || !isOther(nearest, reaching, piece)) return farthest
  // one that reaches all of it may move farther than one that is pushed on by a row; between much and very much only it
  // is believed
  const reachesAll = most >= piece.length * AS_GOOD
  if (reaching.moved <= nearest.moved * (reachesAll ? BEYOND_ALL : VERY_MUCH_MORE))
    return reachesAll ? farthest : null
  const best = alone(all)
  // of those that say the same the one that says most
  return (
    best &&
    all
      .filter((other) => other.moved < best.moved * MUCH_MORE)
      .reduce((one, other) => (other.reached > one.reached ? other : one), best)
  )
}
