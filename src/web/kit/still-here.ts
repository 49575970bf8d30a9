import { onBeforeUnmount } from 'vue'

/**
 * Whoever has gone elsewhere while something was made is not fetched back when it is done.
 *
 * @param what the view is of, as the id of an asset or a trip.
 * @returns begins to watch; what that gives says whether the artist still looks at the same thing.
 */
export function useStillHere(what: () => string): () => () => boolean {
  let isMounted = true
  onBeforeUnmount(() => (isMounted = false))
  return () => {
    const before = what()
    return () => isMounted && what() === before
  }
}
