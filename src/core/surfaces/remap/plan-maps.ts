/**
 * Which images a remapped asset needs beside it: copies where a file can be used as it lies, and made ones where a
 * channel is taken out, turned round, flipped, or several are packed into one as the target reads them.
 */
import { tilePath } from '../../scene/image-tiles.ts'
import { fileNameOf, safePart } from '../../image/map-sets/path-names.ts'
import { valueText } from '../convert/convert-surface.ts'
import { HAS_STRENGTH, mixOf, type ChannelSource, type MapUse } from './map-use.ts'
import { MAP_NAMING_STANDARD, type MapNaming } from './map-naming.ts'
import { packedRows } from './packed-rows.ts'
import type { RemappedMaterial, RemappedParameter } from './remapped-material.ts'

export interface PlannedMap {
  /** Path beside the model, with the source's word for tiles where it has tiles. */
  readonly path: string
  /** The file that is copied; null where it is made. */
  readonly copies: string | null
  /** Red, green, blue and alpha, or grey alone. */
  readonly channels: readonly ChannelSource[]
  readonly colorSpace: 'sRGB' | 'linear'
  /** Heights that are made into normals: how high the full scale is, in shares of the image's width; which way green points. */
  readonly heights?: {
    readonly file: string
    readonly inverted: boolean
    readonly share: number
    readonly green: 'up' | 'down'
  }
  /** In words for the sheet: what was done to the pixels. */
  readonly done: string
}

export interface MapPlan {
  readonly maps: readonly PlannedMap[]
  /** The materials with the maps' paths as they will be. */
  readonly materials: readonly RemappedMaterial[]
}

const MADE_ENDING = '.png'

/**
 * How high white stands over black where heights become normals, in shares of the image's width (common practice for
 * bumps of a surface: a hundredth); nothing in an image tells it.
 */
export const HEIGHT_SHARE = 0.01

const safe = (text: string): string => safePart(text).replace(/^\.+/, '_').trim() || '_'

const tileWord = (file: string): string => /<(?:UDIM|UVTILE)>/.exec(file)?.[0] ?? ''
const endingOf = (file: string): string => /\.[^./\\]+$/.exec(file)?.[0] ?? ''

export function planMaps(
  materials: readonly RemappedMaterial[],
  naming: MapNaming = MAP_NAMING_STANDARD,
  green: 'up' | 'down' | null = null,
): MapPlan {
  const byKey = new Map<string, PlannedMap>()
  const taken = new Set<string>()
  const plan = (key: string, wish: string, ending: string, rest: Omit<PlannedMap, 'path'>): PlannedMap => {
    const known = byKey.get(key)
    if (known) return known
    let path = `${wish}${ending}`
    for (let number = 2; taken.has(path.toLowerCase()); number++) path = `${wish}_${number}${ending}`
    taken.add(path.toLowerCase())
    const planned = { path, ...rest }
    byKey.set(key, planned)
    return planned
  }
  const wishOf = (
    material: RemappedMaterial,
    row: RemappedParameter,
    file: string,
    isMade: boolean,
  ): string => {
    const tile = tileWord(file)
    const stem = fileNameOf(file).slice(0, fileNameOf(file).length - endingOf(file).length)
    const words: Record<string, string> = {
      material: safe(material.name),
      slot: safe(row.slot ?? row.parameter),
      parameter: safe(row.parameter),
      // a tile's word stays in the name as it is
      file: tile ? stem.split(tile).map(safePart).join(tile) : safe(stem),
    }
    const pattern = naming.pattern ?? (isMade ? '{material}_{parameter}' : '{file}')
    const path = pattern
      .split('/')
      .map((part) => part.replace(/\{(material|slot|parameter|file)\}/g, (_, word: string) => words[word]!))
      .filter((part) => part !== '' && part !== '.' && part !== '..')
      .join('/')
    const named = tile && !path.includes(tile) ? `${path}.${tile}` : path
    return [naming.folder, named].filter(Boolean).join('/')
  }

  const planned = materials.map((own) => {
    const material = { ...own, parameters: own.parameters.map((row) => withDrawnShare(row, own)) }
    const packs = packedRows(material)
    return {
      ...material,
      parameters: material.parameters.map((row): RemappedParameter => {
        if (!row.map) return row
        const { file, channel, inverted } = row.map
        const map: MapUse = { ...row.map, source: { file, channel, inverted } }
        const pack = packs.get(row.parameter)
        if (pack && pack !== 'as it lies') {
          // one of them in tiles makes tiles of all: what has none is the same in each
          const tiled = pack.channels.find((one) => typeof one !== 'number' && tileWord(one.file) !== '')
          const named = tiled && typeof tiled !== 'number' ? tiled.file : map.file
          const result = plan(
            `${material.name} ${pack.word}`,
            wishOf(material, { ...row, parameter: pack.word, slot: null }, named, true),
            MADE_ENDING,
            {
              copies: null,
              channels: pack.channels,
              colorSpace: pack.colorSpace,
              done: `packed: ${pack.told}`,
            },
          )
          return {
            ...row,
            note: madeNote(row, result),
            map: { ...map, file: result.path, channel: pack.own, inverted: false },
          }
        }
        if (row.slot === 'normal' && (map.slot === 'bump' || map.slot === 'displacement')) {
          const made = plan(
            `normals ${map.file} ${map.amount} ${map.inverted}`,
            wishOf(material, row, map.file, true),
            MADE_ENDING,
            {
              copies: null,
              channels: [],
              colorSpace: 'linear',
              heights: {
                file: map.file,
                inverted: map.inverted,
                share: HEIGHT_SHARE * map.amount,
                green: green ?? 'up',
              },
              done: 'heights made into normals',
            },
          )
          return {
            ...row,
            note: madeNote(row, made),
            map: {
              ...map,
              file: made.path,
              channel: 'rgb',
              inverted: false,
              amount: 1,
              direction: green ?? 'up',
            },
          }
        }
        const wanted = green ?? (wantsUp(material) ? 'up' : null)
        const flips = map.direction !== null && wanted !== null && map.direction !== wanted
        const takesOut = !pack && map.isPart
        if (!map.inverted && !flips && !takesOut && !map.mix) {
          const copied = plan(
            `copy ${map.file}`,
            wishOf(material, row, map.file, false),
            endingOf(map.file),
            {
              copies: map.file,
              channels: [],
              colorSpace: map.colorSpace,
              done: '',
            },
          )
          return { ...row, map: { ...map, file: copied.path } }
        }
        const channels = channelsFor(map, flips)
        const made = plan(
          `made ${map.file} ${JSON.stringify(channels)}`,
          wishOf(material, row, map.file, true),
          MADE_ENDING,
          {
            copies: null,
            channels,
            colorSpace: map.colorSpace,
            done: [
              takesOut ? `${map.channel} taken out` : '',
              map.inverted ? 'turned round' : '',
              flips ? 'green flipped' : '',
              map.drawnShare === undefined ? '' : `drawn at ${Math.round(map.drawnShare * 100)} %`,
              map.drawnTimes === undefined ? '' : `times ${valueText(map.drawnTimes)}`,
            ]
              .filter(Boolean)
              .join(', '),
          },
        )
        return {
          ...row,
          note: madeNote(row, made),
          map: {
            ...map,
            file: made.path,
            channel: channels.length === 1 ? 'r' : 'rgb',
            isPart: false,
            inverted: false,
            direction: flips ? wanted : map.direction,
          },
        }
      }),
    }
  })
  return { maps: [...byKey.values()], materials: planned }
}

/** A row's note with what its image was made of, so that nobody does it a second time. */
const madeNote = (row: RemappedParameter, map: PlannedMap): string => {
  const files = new Set(sourceFiles(map).map(fileNameOf))
  const { done } = map
  return [row.note, `made of ${[...files].join(', ')}: ${done}`].filter(Boolean).join('; ')
}

/** Targets whose standard says that green points up (glTF 2.0, 3.9.3; USD Preview Surface; MaterialX, node `normalmap`). */
const wantsUp = ({ target }: RemappedMaterial): boolean =>
  target.materialX !== undefined || target.id === 'gltf-specular-glossiness'

function channelsFor(map: MapUse, flips: boolean): ChannelSource[] {
  const { file, inverted } = map
  if (map.channel !== 'rgb') return [{ file, channel: map.channel, inverted, ...mixOf(map, 0) }]
  return [
    { file, channel: 'r', inverted, ...mixOf(map, 0) },
    { file, channel: 'g', inverted: inverted !== flips, ...mixOf(map, 1) },
    { file, channel: 'b', inverted, ...mixOf(map, 2) },
  ]
}

/**
 * A share of a map, and a value that it is multiplied by where the target's maps take its place: drawn into the pixels,
 * over the value that stands beside it. A MaterialX document could say both, and the files beside it can't; what all of
 * them read alike goes before a map that stays as it was. Where a value is more than a pixel can be it stays as it is.
 */
function withDrawnShare(row: RemappedParameter, { target }: RemappedMaterial): RemappedParameter {
  const { map, value } = row
  if (!map || HAS_STRENGTH.has(row.slot)) return row
  const multiplies = target.timesMap === 'all' || (target.timesMap?.includes(row.parameter) ?? false)
  const numbers =
    typeof value === 'number' ? [value] : Array.isArray(value) ? (value as readonly number[]) : null
  if (!numbers || numbers.some((one) => one < 0 || one > 1)) return row
  const times = map.isTimesValue && !multiplies ? numbers : numbers.map(() => 1)
  const drawsTimes = times.some((one) => one !== 1)
  const drawsShare = map.amount !== 1
  if (!drawsShare && !drawsTimes) return row
  const amount = drawsShare ? map.amount : 1
  const { isTimesValue: _before, ...rest } = map
  // own × times × amount + value × (1 - amount)
  const share = times.map((one) => one * amount)
  return {
    ...row,
    value: typeof value === 'number' ? 1 : numbers.map(() => 1),
    map: {
      ...(drawsTimes ? rest : map),
      amount: drawsShare ? 1 : map.amount,
      ...(drawsShare ? { drawnShare: amount, drawnOver: value as number | readonly number[] } : {}),
      ...(drawsTimes ? { drawnTimes: value as number | readonly number[] } : {}),
      mix: {
        share,
        ground: numbers.map((one, at) => (share[at] === 1 ? 0 : (one * (1 - amount)) / (1 - share[at]!))),
      },
    },
  }
}

/** The files of one tile that a made image needs. */
export const sourceFiles = ({ copies, channels, heights }: PlannedMap): string[] => [
  ...new Set([
    ...(copies ? [copies] : []),
    ...(heights ? [heights.file] : []),
    ...channels.flatMap((channel) => (typeof channel === 'number' ? [] : [channel.file])),
  ]),
]

/** A path of a map for one tile; the path itself where it has none. */
export const forTile = (path: string, tile: string | null): string => (tile ? tilePath(path, tile) : path)
