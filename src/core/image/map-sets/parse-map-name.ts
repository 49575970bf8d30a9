/** What a map's file name says of it. */
import { fileNameOf, folderNamesOf } from './path-names.ts'
import {
  LOOSE_WORDS,
  MAP_LETTERS,
  MAP_WORDS,
  packedByLetters,
  type ChannelMeaning,
  type MapMeaning,
} from './map-words.ts'

export interface MapName {
  readonly file: string
  /** What is left of the name: which set it belongs to, in small letters, joined by `_`; empty where nothing is left. */
  readonly setName: string
  readonly meaning: MapMeaning | null
  /** What red, green, blue and alpha show; null for a map of one kind. */
  readonly packed: readonly ChannelMeaning[] | null
  /** The meaning rests on one letter. */
  readonly byLetter: boolean
  /** The meaning rests on a word that is used for other things too. */
  readonly byLooseWord: boolean
  /** Another word of the name means something else: the second meaning. */
  readonly alsoMeans: MapMeaning | null
  /** Which way green points in a normal map. */
  readonly direction: 'up' | 'down' | null
  readonly tile: string | null
  readonly frame: number | null
  /** Pixels on a side. */
  readonly resolution: number | null
  readonly bits: number | null
  readonly colorSpace: 'sRGB' | 'linear' | null
  readonly version: number | null
  /** The name with its tile left out, for those that differ in nothing else. */
  readonly withoutTile: string
}

const UV_TILE = /(?:^|[._\- ])(u[1-9]\d{0,2}_v[1-9]\d{0,2})(?=$|[._\- ])/i
const UDIM = /(?:^|[._\- ])(1\d{3})(?=$|[._\- ])/
const FILLERS = new Set([
  't',
  'tx',
  'tex',
  'texture',
  'textures',
  'map',
  'maps',
  'mat',
  'bake',
  'baked',
  'img',
  'image',
])

interface Draft {
  direction: 'up' | 'down' | null
  resolution: number | null
  bits: number | null
  colorSpace: 'sRGB' | 'linear' | null
  version: number | null
  frame: number | null
}

/** Words that say something of the image rather than of its set. @returns whether it was one. */
function readMark(word: string, draft: Draft): boolean {
  const set = <K extends keyof Draft>(key: K, value: Draft[K]): true => {
    draft[key] = value
    return true
  }
  if (/^(opengl|ogl|gl|yup|ypos)$/.test(word)) return set('direction', 'up')
  if (/^(directx|dx|dx11|yneg|ydown)$/.test(word)) return set('direction', 'down')
  if (/^(srgb|rec709|sdr)$/.test(word)) return set('colorSpace', 'sRGB')
  if (/^(linear|lin|raw|noncolor|noncolour|acescg|data)$/.test(word)) return set('colorSpace', 'linear')
  const k = /^(\d{1,2})k$/.exec(word)
  if (k) return set('resolution', Number(k[1]) * 1024)
  const sides = /^(\d{2,5})x(\d{2,5})$/.exec(word)
  if (sides) return set('resolution', Math.max(Number(sides[1]), Number(sides[2])))
  if (/^(256|512|1024|2048|4096|8192|16384)(px)?$/.test(word))
    return set('resolution', Number.parseInt(word, 10))
  const bits = /^(8|16|32)(bit|bits|bpc|b|f)$/.exec(word)
  if (bits) return set('bits', Number(bits[1]))
  if (word === 'half') return set('bits', 16)
  const version = /^v(\d{1,4})$/.exec(word)
  if (version) return set('version', Number(version[1]))
  return false
}

/** Letters of one word, whatever its case; `BaseColor` is two, `AOmap` one. */
const wordsOf = (text: string): string[] =>
  text
    .normalize('NFC')
    // two words that are written as one, and one that is written as two
    .replace(/open[ _-]?gl/gi, ' ogl ')
    .replace(/direct[ _-]?x/gi, ' dx ')
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1 $2')
    .split(/[\s_\-.+()[\]{}#,;@&]+/u)
    .filter(Boolean)
    .map((word) => word.toLowerCase())

/** Names in scripts without spaces hold their words anywhere. */
const hasNoSpaces = (word: string): boolean => /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}]/u.test(word)

interface Hit {
  readonly from: number
  readonly to: number
  readonly meaning: MapMeaning | null
  readonly packed: readonly ChannelMeaning[] | null
}

/** The meanings that neighbouring words have, longest first at each place, from the right. */
function findMeanings(words: readonly string[]): Hit[] {
  const hits: Hit[] = []
  for (let to = words.length; to > 0;) {
    let found: Hit | null = null
    for (let span = Math.min(4, to); span > 0 && !found; span--) {
      const joined = words.slice(to - span, to).join('')
      // several words are one meaning only as a word that is known so; `a_o_r` is no packed map
      const packed = span === 1 || joined.length > 6 ? packedByLetters(joined) : null
      const meaning = packed ? null : (MAP_WORDS.get(joined) ?? null)
      if (packed || meaning) found = { from: to - span, to, meaning, packed }
    }
    if (found) hits.push(found)
    to = found ? found.from : to - 1
  }
  return hits
}

/**
 * @param file a path; folders count where the name itself leaves no word for the set.
 * @param treatAsTile a four-digit number that could be a resolution is a tile.
 */
export function parseMapName(file: string, treatAsTile = false): MapName {
  let stem = fileNameOf(file)
    .replace(/\.[^.]*$/, '')
    .normalize('NFC')
    // what a browser or a desktop puts behind the name of a second copy
    .replace(/(?:\s*\(\d{1,3}\)|[ _-]+copy(?: \d+)?)+$/i, '')
  let tile: string | null = null
  const uvTile = UV_TILE.exec(stem)
  const udim = UDIM.exec(stem)
  if (uvTile) tile = uvTile[1]!.toLowerCase()
  else if (udim && isUdim(udim[1]!) && (treatAsTile || udim[1] !== '1024')) tile = udim[1]!
  if (tile) stem = cut(stem, uvTile ?? udim!)
  const withoutTile = stem.toLowerCase()
  const draft: Draft = {
    direction: null,
    resolution: null,
    bits: null,
    colorSpace: null,
    version: null,
    frame: null,
  }
  const words = wordsOf(stem).filter((word, at, all) => {
    if (readMark(word, draft)) return false
    if (/^(bit|bits)$/.test(word) && /^(8|16|32)$/.test(all[at - 1] ?? '')) return false
    return !FILLERS.has(word)
  })
  const last = words.at(-1)
  if (last && /^\d{3,6}$/.test(last)) {
    draft.frame = Number(last)
    words.pop()
  }
  const scripted = words.flatMap((word) => (hasNoSpaces(word) ? splitScript(word) : [word]))
  const hits = findMeanings(scripted)
  let [hit] = hits
  let byLetter = false
  if (!hit && scripted.length > 1) {
    const meaning = MAP_LETTERS.get(scripted.at(-1)!)
    if (meaning) {
      hit = { from: scripted.length - 1, to: scripted.length, meaning, packed: null }
      byLetter = true
    }
  }
  const rest = hit ? [...scripted.slice(0, hit.from), ...scripted.slice(hit.to)] : scripted
  const other = hits.find((one) => one !== hit && one.meaning && one.meaning.slot !== hit?.meaning?.slot)
  return {
    file,
    setName: rest.join('_') || folderSet(file),
    meaning: hit?.meaning ?? null,
    packed: hit?.packed ?? null,
    byLetter,
    byLooseWord: hit !== undefined && !byLetter && LOOSE_WORDS.has(scripted.slice(hit.from, hit.to).join('')),
    // a word right beside the other's leaves it open which of the two is the set's
    alsoMeans: other && hit && rest.length === other.to - other.from ? other.meaning : null,
    tile,
    withoutTile,
    ...draft,
  }
}

const isUdim = (text: string): boolean => Number(text) >= 1001 && Number(text) <= 1999

const cut = (stem: string, found: RegExpExecArray): string =>
  stem.slice(0, found.index) + stem.slice(found.index + found[0].length)

/** The last folder whose name isn't a filler ("textures", "4k"). */
function folderSet(file: string): string {
  const draft = {} as Draft
  for (const folder of folderNamesOf(file).reverse()) {
    const words = wordsOf(folder).filter((word) => !FILLERS.has(word) && !readMark(word, draft))
    if (words.length) return words.join('_')
  }
  return ''
}

/** Parts a name in a script without spaces at the longest word that is known. */
function splitScript(word: string): string[] {
  for (let length = word.length; length > 1; length--)
    for (let at = 0; at + length <= word.length; at++)
      if (MAP_WORDS.has(word.slice(at, at + length)))
        return [word.slice(0, at), word.slice(at, at + length), word.slice(at + length)].filter(Boolean)
  return [word]
}

/**
 * Names of one folder together: a number that could be a tile or a resolution is a tile where another name differs in
 * nothing but a tile's number, and single letters count where a set has several.
 */
export function parseMapNames(files: readonly string[]): MapName[] {
  const first = files.map((file) => parseMapName(file))
  const tiled = new Set(
    first.flatMap((name) => (name.tile ? [`${folderOf(name.file)}${name.withoutTile}`] : [])),
  )
  return first.map((name) => {
    if (name.tile || name.resolution !== 1024) return name
    const asTile = parseMapName(name.file, true)
    return asTile.tile && tiled.has(`${folderOf(name.file)}${asTile.withoutTile}`) ? asTile : name
  })
}

const folderOf = (file: string): string => file.slice(0, file.length - fileNameOf(file).length)
