import type { AssetDocument, TripDocument } from '../../../contract/api.ts'

/** Where an asset is now, in words. */
export function placeOf(asset: { readonly trips: readonly TripDocument[] }): {
  state: 'here' | 'out' | 'back'
  text: string
  trip: TripDocument | null
} {
  const back = asset.trips.findLast((trip) => trip.state === 'back')
  if (back)
    return {
      state: 'back',
      text: `Back from the ${back.destination.name.toLowerCase()}, waiting to be looked at`,
      trip: back,
    }
  const out = asset.trips.findLast((trip) => trip.state === 'out')
  if (out) return { state: 'out', text: `Out at the ${out.destination.name.toLowerCase()}`, trip: out }
  return { state: 'here', text: 'Here', trip: null }
}

export const masterOf = (asset: AssetDocument) => asset.versions[asset.versions.length - 1]!
