/** Said of what has no number any more, or an endless one: farther than anything, and still a number in a document. */
export const FARTHEST = Number.MAX_VALUE

/** A deviation that can be held against others, whatever broken numbers it came from. @param same the very same broken ones. */
export const soundDeviation = (deviation: number, same: () => boolean): number =>
  deviation <= FARTHEST ? deviation : same() ? 0 : FARTHEST
