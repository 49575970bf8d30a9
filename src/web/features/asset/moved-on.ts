import type { Router } from 'vue-router'
import { api, isConflict } from '../../api.ts'
import { askWhich } from '../../kit/ask-which.ts'
import type { useAssets } from '../../stores/assets.ts'
import { masterOf } from './place.ts'

/**
 * Does work that makes a version. Where somebody made a newer one meanwhile the artist is asked: go to it, make theirs
 * the newest all the same, or, where `onNewest` can do it, the same work on the newest.
 * @param work is told a newer version that the artist knows of.
 * @param leaves what is left behind by who goes to it, as the end of that button's words.
 * @returns null where the artist chose to look first.
 */
export async function overNewest<Result>(
  { assets, router }: { readonly assets: ReturnType<typeof useAssets>; readonly router: Router },
  assetId: string,
  work: (beside: string | null) => Promise<Result>,
  onNewest: ((versionId: string) => Promise<Result>) | null,
  leaves = '',
): Promise<Result | null> {
  for (let beside: string | null = null, again = work; ;)
    try {
      return await again(beside)
    } catch (error) {
      if (!isConflict(error) || error.document.code !== 'version.moved-on') throw error
      // asked past the store: the view stays on what the artist has before them until they have chosen
      const newest = masterOf(await api.asset(assetId))
      const way = await askWhich('The master has moved on', error.document.message, [
        ...(onNewest
          ? [{ id: 'on-newest' as const, title: `Do the steps on version ${newest.number}` }]
          : []),
        {
          id: 'look' as const,
          title: `Look at version ${newest.number}${leaves}`,
        },
        { id: 'beside' as const, title: 'Make mine the newest all the same' },
      ])
      if (way === 'look') {
        await assets.open(assetId)
        await router.push({ name: 'bench', params: { assetId } })
      }
      if (way === null || way === 'look') return null
      if (way === 'on-newest') again = () => onNewest!(newest.id)
      beside = newest.id
    }
}
