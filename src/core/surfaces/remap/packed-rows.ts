/** Parameters that a target reads from channels of one image. */
import type { SurfaceParameter } from '../model.ts'
import { mixOf, type ChannelSource } from './map-use.ts'
import type { RemappedMaterial, RemappedParameter } from './remapped-material.ts'

export interface Pack {
  readonly word: string
  readonly own: 'r' | 'g' | 'b' | 'a'
  readonly channels: readonly ChannelSource[]
  readonly colorSpace: 'sRGB' | 'linear'
  readonly told: string
}

/**
 * Rows of a target that reads several parameters from channels of one image, where the files don't lie so already. What
 * no map is for is 1, so that the parameter's value says all.
 */
export function packedRows({ target, parameters }: RemappedMaterial): Map<string, Pack | 'as it lies'> {
  const packs = new Map<string, Pack | 'as it lies'>()
  const words = new Map<string, SurfaceParameter[]>()
  for (const parameter of target.parameters)
    if (parameter.mapName) words.set(parameter.mapName, [...(words.get(parameter.mapName) ?? []), parameter])
  const rowOf = (parameter: SurfaceParameter): RemappedParameter =>
    parameters.find((row) => row.parameter === (parameter.name ?? parameter.mapName))!
  for (const [word, sharing] of words) {
    if (!sharing.some(({ channel }) => channel)) continue
    const used = sharing.filter((parameter) => rowOf(parameter).map !== null)
    if (used.length === 0) continue
    const liesSo = used.every((parameter) => {
      const map = rowOf(parameter).map!
      const [first] = used
      return (
        map.file === rowOf(first!).map!.file &&
        !map.inverted &&
        !map.mix &&
        (parameter.channel === undefined ? map.channel === 'rgb' : map.channel === parameter.channel)
      )
    })
    // an image with one use whose grey fills every channel can be read from any
    if (liesSo) {
      for (const parameter of used) packs.set(parameter.name ?? parameter.mapName!, 'as it lies')
      continue
    }
    const color = used.find(({ channel }) => channel === undefined)
    const channels: ChannelSource[] = (['r', 'g', 'b'] as const).map((channel) => {
      const own = used.find((parameter) => parameter.channel === channel)
      const map = own ? rowOf(own).map! : color ? rowOf(color).map! : null
      if (!map) return 1
      return {
        file: map.file,
        channel: map.channel === 'rgb' ? channel : map.channel,
        inverted: map.inverted,
        ...mixOf(map, own ? 0 : 'rgb'.indexOf(channel)),
      }
    })
    const alpha = used.find(({ channel }) => channel === 'a')
    if (alpha) {
      const map = rowOf(alpha).map!
      channels.push({
        file: map.file,
        channel: map.channel === 'rgb' ? 'r' : map.channel,
        inverted: map.inverted,
        ...mixOf(map, 0),
      })
    }
    for (const parameter of used)
      packs.set(parameter.name ?? parameter.mapName!, {
        word,
        own: parameter.channel ?? ('rgb' as 'r'),
        channels,
        colorSpace: color ? rowOf(color).map!.colorSpace : 'linear',
        told: used.map((one) => `${one.name ?? one.mapName} in ${one.channel ?? 'rgb'}`).join(', '),
      })
  }
  return packs
}
