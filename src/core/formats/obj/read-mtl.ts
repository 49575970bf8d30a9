/**
 * Source: "MTL material format", Wavefront appendix; the statements of the physically based extension
 * (Pr Pm Ps Pc Pcr aniso anisor, norm, map_*) are common practice.
 */
import { withDecimalPoint } from '../../base/bytes/decimal-commas.ts'
import { decodeLatin1, decodeUtf8, normalizeTextBytes, firstLetters } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import type { Material, MaterialMap, MaterialProperty, Slot } from '../../scene/material.ts'
import type { PackageFile } from '../package/package-file.ts'

/** Statements that take an image, in lower case. */
export const MTL_MAP_SLOTS: Readonly<Record<string, Slot>> = {
  map_ka: 'ambient',
  map_kd: 'baseColor',
  map_ks: 'specular',
  map_ke: 'emissive',
  map_ns: 'shininess',
  map_d: 'opacity',
  map_tr: 'opacity',
  map_bump: 'bump',
  bump: 'bump',
  norm: 'normal',
  map_norm: 'normal',
  disp: 'displacement',
  map_disp: 'displacement',
  decal: 'decal',
  map_ao: 'occlusion',
  refl: 'reflection',
  map_refl: 'reflection',
  map_pr: 'roughness',
  map_pm: 'metalness',
  map_ps: 'sheen',
  map_pc: 'clearcoat',
  map_pcr: 'clearcoatRoughness',
  map_aniso: 'anisotropy',
  map_anisor: 'anisotropyRotation',
}

/** Statements that take numbers, in lower case, with how many at least. */
const PROPERTIES: Readonly<Record<string, number>> = {
  ka: 1,
  kd: 1,
  ks: 1,
  ke: 1,
  tf: 1,
  ns: 1,
  ni: 1,
  d: 1,
  tr: 1,
  illum: 1,
  sharpness: 1,
  pr: 1,
  pm: 1,
  ps: 1,
  pc: 1,
  pcr: 1,
  aniso: 1,
  anisor: 1,
}

/** Map options with the most values they take; numbers for -o -s -t may be fewer. */
const MAP_OPTIONS: Readonly<Record<string, { values: number; numeric: boolean }>> = {
  '-bm': { values: 1, numeric: true },
  '-blendu': { values: 1, numeric: false },
  '-blendv': { values: 1, numeric: false },
  '-boost': { values: 1, numeric: true },
  '-cc': { values: 1, numeric: false },
  '-clamp': { values: 1, numeric: false },
  '-imfchan': { values: 1, numeric: false },
  '-mm': { values: 2, numeric: true },
  '-o': { values: 3, numeric: true },
  '-s': { values: 3, numeric: true },
  '-t': { values: 3, numeric: true },
  '-texres': { values: 1, numeric: true },
  '-type': { values: 1, numeric: false },
}

const isNumber = (text: string): boolean => /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(text)

/** Splits a map statement's argument into its options and the file, whose name may hold blanks. */
export function parseMapArgument(
  argument: string,
  numberWord = (word: string): string => word,
): { file: string; options: string[][] } {
  const options: string[][] = []
  let rest = argument.trim()
  for (;;) {
    const word = /^(-[a-z]+)(?:\s+|$)/i.exec(rest)
    const known = word && MAP_OPTIONS[word[1]!.toLowerCase()]
    // a name with blanks stands in quotation marks in some files
    if (!word || !known) return { file: rest.replace(/^"(.+)"$/, '$1'), options }
    rest = rest.slice(word[0].length)
    const values: string[] = []
    while (values.length < known.values) {
      const value = /^(\S+)\s+(?=\S)/.exec(rest)
      const word = value && (known.numeric ? numberWord(value[1]!) : value[1]!)
      if (!value || !word || (known.numeric && !isNumber(word))) break
      values.push(word)
      rest = rest.slice(value[0].length)
    }
    options.push([word[1]!, ...values])
  }
}

/**
 * Reads a material file. Statements that are not understood are kept as they stand.
 *
 * @param invertTransparency values of `d` and `Tr` are taken as 1 - value.
 */
export function readMtl(
  file: PackageFile,
  invertTransparency = false,
): { materials: Material[]; findings: Finding[] } {
  const bytes = normalizeTextBytes(file.bytes)
  const messages = collectMessages(file.name)
  const text = decodeUtf8(bytes) ?? decodeLatin1(bytes)
  interface Open {
    id: string
    name: string
    properties: MaterialProperty[]
    maps: MaterialMap[]
    kept: string[]
  }
  const materials: Material[] = []
  let open: Open | null = null
  const close = (): void => {
    if (open) materials.push({ ...open, model: 'mtl' })
    open = null
  }
  const names = new Set<string>()
  const numberWord = (word: string, line: number): string => {
    const pointed = withDecimalPoint(word)
    if (pointed) messages.add('file.commas', {}, line)
    return pointed ?? word
  }
  let line = 0
  for (const raw of text.replace(/\\(\r\n|\n|\r)/g, ' ').split(/\r\n|\n|\r/)) {
    line++
    const statement = raw.trim()
    if (statement === '' || statement.startsWith('#')) continue
    const space = statement.search(/\s/)
    const keyword = space < 0 ? statement : statement.slice(0, space)
    const argument = space < 0 ? '' : statement.slice(space + 1).trim()
    const lower = keyword.toLowerCase()
    if (lower === 'newmtl') {
      close()
      if (names.has(argument)) messages.add('mtl.duplicate', { name: argument }, line)
      names.add(argument)
      open = { id: '', name: argument, properties: [], maps: [], kept: [] }
      continue
    }
    if (!open) {
      messages.add('mtl.before-newmtl', {}, line)
      continue
    }
    const slot = MTL_MAP_SLOTS[lower]
    if (slot !== undefined) {
      const { file: path, options } = parseMapArgument(argument, (word) => numberWord(word, line))
      if (path === '') {
        messages.add('mtl.malformed', { keyword: firstLetters(keyword, 40) }, line)
        open.kept.push(statement)
      } else open.maps.push({ property: keyword, slot, file: path, options })
      continue
    }
    if (lower in PROPERTIES) {
      const words = argument
        .replace(/\s#.*$/, '')
        .split(/\s+/)
        .filter(Boolean)
        .map((word) => numberWord(word, line))
      const halo = lower === 'd' && words[0] === '-halo'
      if (!halo && words.length >= PROPERTIES[lower]! && words.every(isNumber)) {
        let values = words.map(Number)
        if (invertTransparency && (lower === 'd' || lower === 'tr')) values = values.map((value) => 1 - value)
        open.properties.push({ name: keyword, values, text: null })
      } else if (words[0] === 'spectral' || words[0] === 'xyz' || halo)
        open.properties.push({ name: keyword, values: words.filter(isNumber).map(Number), text: argument })
      else {
        messages.add('mtl.malformed', { keyword: firstLetters(keyword, 40) }, line)
        open.kept.push(statement)
      }
      continue
    }
    open.kept.push(statement)
  }
  close()
  return { materials, findings: messages.list() }
}
