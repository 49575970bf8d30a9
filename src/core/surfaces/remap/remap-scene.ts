/** All materials of a scene for another surface model, with a folder of maps and rules. */
import { collectMessages } from '../../base/messages/collector.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import {
  groupMapSets,
  missingTiles,
  type MapSet,
  type MapSets,
  type SetMap,
} from '../../image/map-sets/group-map-sets.ts'
import { matchMapSets, type SetMatch } from '../../image/map-sets/match-map-sets.ts'
import { parseMapName } from '../../image/map-sets/parse-map-name.ts'
import { fileNameOf } from '../../image/map-sets/path-names.ts'
import type { Slot } from '../../scene/material.ts'
import { renamed } from '../../scene/name-pattern.ts'
import type { Scene } from '../../scene/scene.ts'
import { valueText } from '../convert/convert-surface.ts'
import type { SurfaceModel } from '../model.ts'
import { isOutside } from '../parameters.ts'
import { SLOT_WORDS } from '../wording/slot-words.ts'
import { colorSpaceOf, type MapUse } from './map-use.ts'
import { remapMaterial } from './remap-material.ts'
import type { RemappedMaterial } from './remapped-material.ts'
import { appliesTo, meansParameter, type RemapRule, type RemapRules } from './rules.ts'
import { tiledPath, usesOfSetMap } from './set-uses.ts'

/** What is known of an image without its pixels, and from them where the name says nothing. */
export interface ImageFacts {
  /** The path as the folder's list has it. */
  readonly file: string
  /** Null where it is no image that can be read; `problem` says why. */
  readonly width: number | null
  readonly height: number | null
  readonly bits: number | null
  readonly says: 'sRGB' | 'linear' | null
  readonly problem: string | null
  /** The pixels look like normals in the space of the surface. */
  readonly looksLikeNormals: boolean | null
  /** Which way green points by the pixels; null: not asked; `undecided`: they fit either way. */
  readonly direction: 'up' | 'down' | 'undecided' | null
}

export interface RemapRequest {
  readonly target: SurfaceModel
  readonly files: readonly ImageFacts[]
  /** Maps of normals that the model has itself, by the paths that its materials name. */
  readonly own: readonly ImageFacts[]
  readonly rules: RemapRules
  /** A model of the artist's own that the scene's materials are of already; absent: those that ship. */
  readonly source?: SurfaceModel
}

export interface MatchedSet {
  readonly name: string
  readonly files: number
  /** Name of the material; null for none. */
  readonly material: string | null
  readonly likeness: number
  readonly how: SetMatch['how'] | 'rule'
  readonly others: readonly string[]
}

export interface RemapResult {
  readonly materials: readonly RemappedMaterial[]
  readonly sets: readonly MatchedSet[]
  /** What a map's name leaves open, for one small table: the file, what it may be, why it was not taken. */
  readonly doubtful: readonly { readonly file: string; readonly slot: Slot | null; readonly why: string }[]
  readonly findings: readonly Finding[]
}

const DOUBT_WORDS: Readonly<Record<NonNullable<SetMap['doubt']>, string>> = {
  'one-letter': 'only one letter says so, and no other map of its set is named like it',
  'two-meanings': 'its name says two things',
  'loose-word': 'the word is used for other maps too',
}

/** Below this many bits steps show in slopes. */
const ENOUGH_BITS = 16
const NEEDS_BITS: ReadonlySet<Slot> = new Set<Slot>(['displacement'])

export function remapScene(scene: Scene, { target, files, own, rules, source }: RemapRequest): RemapResult {
  const messages = collectMessages(null)
  const usable = files.filter((facts) => {
    if (facts.problem === null) return true
    messages.add('remap.bad-image', { file: facts.file, why: facts.problem ? `: ${facts.problem}` : '' })
    return false
  })
  const facts = new Map(usable.map((one) => [one.file, one]))
  const grouped = groupMapSets(usable.map(({ file }) => file))
  const doubtful: { file: string; slot: Slot | null; why: string }[] = []
  const normalsOf = rescueNormals(grouped.unknown, facts)
  for (const { file } of grouped.unknown)
    if (!normalsOf.some(({ use }) => use.file === file)) {
      messages.add('remap.map-without-meaning', { file })
      doubtful.push({ file, slot: null, why: 'nothing in its name says what it is for' })
    }
  for (const { taken, left } of grouped.doubled)
    messages.add('remap.doubled-maps', { taken, left: left.map((file) => `“${file}”`).join(', ') })
  const sets = grouped.sets.map((set) => ({ ...set, maps: settled(set, messages, doubtful) }))
  for (const { setName, use } of normalsOf)
    if (!sets.some(({ name }) => name === setName)) {
      const why = 'its pixels say so, and its name fits no other maps'
      messages.add('remap.map-doubtful', { file: use.file, slot: SLOT_WORDS.normal, why })
      doubtful.push({ file: use.file, slot: 'normal', why })
    }
  const names = materialNames(scene, rules)
  const matches = matchedSets(sets, names, rules)
  const usesOf = new Map<number, MapUse[]>()
  for (const [at, match] of matches.entries()) {
    const set = sets[at]!
    if (match.how === 'doubtful') {
      const all = [...(match.material >= 0 ? [match.material] : []), ...match.others]
      messages.add('remap.set-doubtful', {
        set: set.name,
        materials: all.map((material) => `“${names[material]}”`).join(' or '),
      })
    } else if (match.material < 0) messages.add('remap.set-without-material', { set: set.name })
    else {
      const uses = set.maps.flatMap(usesOfSetMap)
      const normals = normalsOf.filter(({ setName }) => setName === set.name).map(({ use }) => use)
      const all = [...uses, ...normals.filter(({ slot }) => !uses.some((use) => use.slot === slot))]
      const mine = all.map((use) => directed(use, set, facts, messages))
      const before = usesOf.get(match.material) ?? []
      // what somebody said goes before what names say
      usesOf.set(match.material, match.how === 'rule' ? [...mine, ...before] : [...before, ...mine])
      tellOfSet(set, facts, messages)
    }
  }
  const settledRules = rules.rules.map((rule) => withWholePath(rule, usable, grouped, scene, messages))
  const directions = new Map(
    own.map(({ file, direction }) => {
      const found = direction === 'up' || direction === 'down' ? direction : null
      return [file, found ?? parseMapName(file).direction] as const
    }),
  )
  const materials = scene.materials.map((material, index) => {
    const uses = usesOf.get(index) ?? []
    if (files.length && uses.length === 0)
      messages.add('remap.material-without-maps', { material: names[index]! })
    const remapped = remapMaterial(
      { ...material, name: names[index]! },
      target,
      uses,
      settledRules,
      (file) => directions.get(file) ?? null,
      index,
      source,
    )
    tellOfValues(remapped, messages)
    return remapped
  })
  rules.rules.forEach((rule, at) => {
    const fits = names.some(
      (name) =>
        appliesTo(rule, name) &&
        target.parameters.some(({ name: own, slot }) => meansParameter(rule, own, slot)),
    )
    if (!fits)
      messages.add('remap.rule-fits-nothing', {
        number: at + 1,
        what: `${rule.material ?? '*'}, ${rule.parameter}`,
      })
  })
  return {
    materials,
    sets: matches.map((match, at) => ({
      name: sets[at]!.name,
      files: sets[at]!.maps.reduce((sum, map) => sum + map.files.length, 0),
      material: match.material < 0 || match.how === 'doubtful' ? null : names[match.material]!,
      likeness: match.likeness,
      how: match.how,
      others: [
        ...(match.how === 'doubtful' && match.material >= 0 ? [match.material] : []),
        ...match.others,
      ].map((material) => names[material]!),
    })),
    doubtful,
    findings: messages.list(),
  }
}

/** A rule's file by its path in the folder, with all its tiles; what lies nowhere is told. */
function withWholePath(
  rule: RemapRule,
  files: readonly ImageFacts[],
  { sets }: MapSets,
  scene: Scene,
  messages: Messages,
): RemapRule {
  if (!rule.map) return rule
  const wish = rule.map.file.toLowerCase()
  const found = (
    files.find(({ file }) => file.toLowerCase() === wish) ??
    files.find(({ file }) => fileNameOf(file).toLowerCase() === wish)
  )?.file
  if (found === undefined) {
    if (!scene.images.some(({ file }) => file === rule.map!.file))
      messages.add('image.missing', { file: rule.map.file })
    return rule
  }
  const tiled = sets.flatMap(({ maps }) => maps).find((map) => map.files.some(({ file }) => file === found))
  return { ...rule, map: { ...rule.map, file: tiled ? tiledPath(tiled) : found } }
}

/** The materials' names after the rules' renaming; no two become one. */
export function materialNames(scene: Scene, { rename }: RemapRules): string[] {
  const taken = new Set<string>()
  return scene.materials.map(({ name }) => {
    const wish =
      Object.entries(rename ?? {})
        .map(([from, to]) => renamed(name, from, to))
        .find((one) => one) ?? name
    let unique = wish
    for (let number = 2; taken.has(unique); number++) unique = `${wish}_${number}`
    taken.add(unique)
    return unique
  })
}

type Messages = ReturnType<typeof collectMessages>

function matchedSets(
  sets: readonly MapSet[],
  names: readonly string[],
  rules: RemapRules,
): (Omit<SetMatch, 'how'> & { readonly how: MatchedSet['how'] })[] {
  const said = sets.map(({ name }) => {
    const wish = Object.entries(rules.sets ?? {}).find(
      ([set]) => set.toLowerCase() === name.toLowerCase(),
    )?.[1]
    return wish === undefined ? -1 : names.findIndex((own) => own.toLowerCase() === wish.toLowerCase())
  })
  const free = sets.map((_, set) => set).filter((set) => said[set]! < 0)
  const taken = new Set(said)
  const left = names.map((_, material) => material).filter((material) => !taken.has(material))
  const found = matchMapSets(
    free.map((set) => sets[set]!.name),
    left.map((material) => names[material]!),
  )
  return sets.map((_, set) => {
    if (said[set]! >= 0) return { set, material: said[set]!, likeness: 1, how: 'rule', others: [] }
    const match = found[free.indexOf(set)]!
    return {
      ...match,
      set,
      material: match.material < 0 ? -1 : left[match.material]!,
      others: match.others.map((material) => left[material]!),
    }
  })
}

/** A set's maps that can be taken; what is doubtful is told and left out. */
function settled(
  set: MapSet,
  messages: Messages,
  doubtful: { file: string; slot: Slot | null; why: string }[],
): SetMap[] {
  return set.maps.filter((map) => {
    if (!map.doubt) return true
    // alone for its use in its set, a loose word is as good as any
    if (map.doubt === 'loose-word' && !set.maps.some((other) => other !== map && other.slot === map.slot))
      return true
    const why = DOUBT_WORDS[map.doubt]
    messages.add('remap.map-doubtful', { file: map.files[0]!.file, slot: SLOT_WORDS[map.slot], why })
    doubtful.push({ file: map.files[0]!.file, slot: map.slot, why })
    return false
  })
}

/** Files without a word for what they are whose pixels are normals. */
function rescueNormals(
  unknown: readonly { readonly file: string; readonly setName: string }[],
  facts: ReadonlyMap<string, ImageFacts>,
): { setName: string; use: MapUse }[] {
  return unknown.flatMap(({ file, setName }) => {
    const known = facts.get(file)
    if (!known?.looksLikeNormals) return []
    return [
      {
        setName,
        use: {
          file,
          slot: 'normal',
          channel: 'rgb',
          isPart: false,
          inverted: false,
          amount: 1,
          colorSpace: 'linear',
          direction: known.direction === 'up' || known.direction === 'down' ? known.direction : null,
          from: 'folder',
          uvSet: '',
        },
      },
    ]
  })
}

const filesOf = (use: MapUse, set: MapSet): string[] =>
  set.maps
    .find((map) => usesOfSetMap(map).some(({ file }) => file === use.file))
    ?.files.map(({ file }) => file) ?? [use.file]

/** The direction of a map of normals: by its pixels where they tell, else by its name. */
function directed(
  use: MapUse,
  set: MapSet,
  facts: ReadonlyMap<string, ImageFacts>,
  messages: Messages,
): MapUse {
  if (use.slot !== 'normal' && use.slot !== 'clearcoatNormal') return use
  const [first] = filesOf(use, set)
  const found = facts.get(first!)?.direction ?? null
  const told = found === 'up' || found === 'down' ? found : null
  if (told && use.direction && told !== use.direction)
    messages.add('remap.direction-differs', { file: use.file, named: use.direction, found: told })
  if (!told && !use.direction) messages.add('remap.direction-unknown', { file: use.file })
  return { ...use, direction: told ?? use.direction }
}

/** Values that a material's file has and its model doesn't allow. */
function tellOfValues({ name, recognised }: RemappedMaterial, messages: Messages): void {
  for (const parameter of recognised.model.parameters) {
    const value = parameter.name === null ? undefined : recognised.values[parameter.name]
    if (value !== undefined && parameter.range && isOutside(parameter, value))
      messages.add('remap.out-of-range', {
        material: name,
        parameter: parameter.name!,
        value: valueText(value),
        least: parameter.range[0],
        most: parameter.range[1] ?? 'any',
      })
  }
}

/** What a set's files say that an artist wants to know before a render. */
function tellOfSet(set: MapSet, facts: ReadonlyMap<string, ImageFacts>, messages: Messages): void {
  for (const { file, tiles } of missingTiles(set))
    messages.add('remap.tiles-missing', { file, tiles: tiles.join(', ') })
  const sizes = new Map<string, number>()
  let shape: { file: string; width: number; height: number } | null = null
  for (const map of set.maps)
    for (const { file } of map.files) {
      const known = facts.get(file)
      if (!known?.width || !known.height) continue
      const { width, height } = known
      if (!shape) shape = { file, width, height }
      else if (shape.width * height !== width * shape.height)
        messages.add('remap.shapes-differ', { file, width, height, other: shape.file })
      const size = `${known.width} × ${known.height}`
      sizes.set(size, (sizes.get(size) ?? 0) + 1)
      const isData = map.packed !== null || colorSpaceOf(map.slot) === 'linear'
      if (isData && known.says === 'sRGB' && !/\.jpe?g$/i.test(file))
        messages.add('remap.raw-as-color', { file, slot: map.packed ? 'several uses' : SLOT_WORDS[map.slot] })
      if (NEEDS_BITS.has(map.slot) && known.bits !== null && known.bits < ENOUGH_BITS)
        messages.add('remap.few-bits', { file, slot: SLOT_WORDS[map.slot] })
    }
  if (sizes.size > 1)
    messages.add('remap.sizes-differ', { set: set.name, sizes: [...sizes.keys()].join(', ') })
}
