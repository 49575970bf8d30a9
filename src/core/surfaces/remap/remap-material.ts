/** One material for another surface model: values through the hub, maps slot by slot, rules last. */
import type { Material, MaterialMap, Slot } from '../../scene/material.ts'
import {
  convertSurface,
  convertValues,
  difference,
  hasNoEffect,
  SAME_WITHIN,
  valueText,
  type ParameterReport,
} from '../convert/convert-surface.ts'
import { HUB_STANDARD, type Hub } from '../hub.ts'
import type { SurfaceModel, SurfaceParameter, SurfaceValue, SurfaceValues } from '../model.ts'
import { surfaceModelNamed } from '../registry.ts'
import { WHITE } from '../rgb.ts'
import { recogniseSurface, type RecognisedSurface } from '../recognise-surface.ts'
import { SLOT_WORDS } from '../wording/slot-words.ts'
import { colorSpaceOf, type MapUse } from './map-use.ts'
import { reflectanceMaps, type ReflectanceMaps, type ReflectanceOutput } from './reflectance-maps.ts'
import { appliesTo, meansParameter, type RemapRule } from './rules.ts'
import { usesOfMaterial } from './set-uses.ts'

/** A map that is laid over another by its own opacity. */
export interface MapLayer {
  readonly use: MapUse
  /** How, by the number that FBX has for it (`BlendModes` of a layered texture). */
  readonly blend: number
  /** Share of it. */
  readonly alpha: number
  /** A decal: without an opacity of its own it says where the map below it shows (MTL specification, `decal`). */
  readonly isDecal: boolean
}

export interface RemappedParameter {
  readonly parameter: string
  readonly slot: Slot | null
  /** Null for a parameter that takes a map alone. */
  readonly value: SurfaceValue | null
  readonly map: MapUse | null
  /** Maps that lie over it, from below; only drawing them together shows them. */
  readonly layers?: readonly MapLayer[]
  readonly how: 'exact' | 'approximate' | 'none'
  readonly note: string
  /** Where it comes from: what the material said, a map of the folder, a rule, or the model's standard. */
  readonly from: 'material' | 'folder' | 'rule' | 'standard'
}

export interface RemappedMaterial {
  readonly name: string
  readonly recognised: RecognisedSurface
  readonly target: SurfaceModel
  readonly parameters: readonly RemappedParameter[]
  /** What the material had and the target has no place for: parameters by the source's words, maps by what they are for. */
  readonly lost: readonly Lost[]
  /** Names of the materials that it was drawn from; absent: it is one of the model's own. */
  readonly drawnFrom?: readonly string[]
  /** Maps that have to be computed first; absent: each goes into the target as it is. */
  readonly reflectance?: ReflectanceMaps
}

export interface Lost {
  readonly what: string
  readonly note: string
  /** A map that lies over another: it is there again where both are drawn into one. */
  readonly isLayer?: boolean
}

/** What a slot's values are where a map of it says all: the map times one. */
const UNDER_A_MAP: Partial<Record<Slot, Partial<Hub>>> = {
  // a map of roughness is for a surface that reflects, whatever an old highlight says
  roughness: { specular: 1, specularColor: WHITE },
  metalness: { specular: 1, specularColor: WHITE },
  emissive: { emission: 1, emissionColor: WHITE },
  opacity: { opacity: WHITE },
  clearcoat: { coat: 1, coatAsIs: 1 },
  sheenColor: { sheen: 1, sheenColor: WHITE },
  sheen: { sheen: 1 },
  transmission: { transmission: 1 },
  specular: { specular: 1, specularAsIs: 1, specularColor: WHITE },
  iridescence: { thinFilmWeight: 1 },
}

/** Where a target has no such slot: the nearest that it may have, and what is not the same about it. */
const NEAREST: Partial<Record<Slot, readonly (readonly [Slot, string])[]>> = {
  specular: [['specularWeight', 'only how strong it is, not its colour']],
  specularWeight: [['specular', 'as grey']],
  reflection: [['specular', 'a picture that is mirrored stands where a colour of the highlight is meant']],
  shininess: [['roughness', 'an exponent is no roughness: its pixels have to be converted']],
  sheen: [['sheenColor', 'as grey']],
  sheenColor: [['sheen', 'only how strong it is, not its colour']],
  bump: [['normal', 'made into normals; an image doesn’t tell how high its bumps are']],
  displacement: [
    ['bump', 'as bumps: the outline stays as it is'],
    [
      'normal',
      'made into normals: the outline stays as it is, and an image doesn’t tell how high it is meant',
    ],
  ],
}

/** The values that a material's file states; the model's own parameters that maps are on included. */
export function remapMaterial(
  material: Material,
  target: SurfaceModel,
  fromFolder: readonly MapUse[],
  rules: readonly RemapRule[],
  directionOf: (file: string) => 'up' | 'down' | null = () => null,
): RemappedMaterial {
  const recognised = recogniseSurface(material)
  const source = recognised.model
  const own = usesOfMaterial(
    material,
    (map) => source.parameters.find(({ mapName }) => mapName === map.property)?.inverted === true,
    (map) =>
      source.parameters.find(({ mapName, slot }) => mapName === map.property && slot === map.slot)?.channel ??
      null,
  ).map((use, at): MapUse => ({
    ...use,
    ...(isTimesValue(recognised, material.maps[at]!) ? { isTimesValue: true } : {}),
    ...(use.slot === 'normal' || use.slot === 'clearcoatNormal' ? { direction: directionOf(use.file) } : {}),
  }))
  // a map of the folder takes the place of one that the material came with
  const uses = [...fromFolder, ...own.filter(({ slot }) => !fromFolder.some((use) => use.slot === slot))]
  const { parameters: plain, report } = convertSurface(recognised.values, source, target, true)
  // what a map says all of: of the folder, and of the material where its map takes its value's place
  const sayingAll =
    source === target ? fromFolder : uses.filter((use) => !use.isTimesValue && !use.stack && use.amount === 1)
  const values = valuesUnderMaps(recognised, target, plain, sayingAll, bumpAmount(uses))
  const lost: Lost[] = report
    .filter(({ how, given, losesNothing }) => how === 'none' && given && !losesNothing)
    .map(({ parameter, note }) => ({ what: parameter, note }))
  lost.push(
    ...recognised.unknown.map((what) => ({
      what,
      note: 'no surface model knows this name; it is kept as it came',
    })),
  )
  const reflectance = reflectanceMaps(
    uses,
    source,
    target,
    { metal: surfaceModelNamed('gltf'), specular: surfaceModelNamed('gltf-specular-glossiness') },
    (model) =>
      valuesUnderMaps(
        recognised,
        model,
        convertValues(recognised.values, source, model),
        sayingAll,
        bumpAmount(uses),
      ),
    material.name,
  )
  for (const parameter of reflectance?.unmapped ?? [])
    lost.push({ what: parameter, note: 'differs from pixel to pixel, and takes no map' })
  const converted = new Set(reflectance?.inputs.map(({ use }) => use))
  const placed = new Map<SurfaceParameter, { use: MapUse; note: string }>()
  const layers = new Map<SurfaceParameter, MapLayer[]>()
  const layOver = (parameter: SurfaceParameter, use: MapUse, isDecal: boolean): void => {
    const { blend, alpha } = use.stack ?? { blend: 0, alpha: 1 }
    layers.set(parameter, [...(layers.get(parameter) ?? []), { use, blend, alpha, isDecal }])
  }
  const color = target.parameters.find(({ slot, mapName }) => slot === 'baseColor' && mapName !== null)
  // what has a slot of its own goes before what only comes near it
  const isDirect = ({ slot }: MapUse): boolean =>
    target.parameters.some((parameter) => parameter.mapName !== null && parameter.slot === slot)
  for (const use of uses
    .filter((one) => !converted.has(one))
    .sort((a, b) => Number(isDirect(b)) - Number(isDirect(a)))) {
    const found = placeOf(use, target)
    const what = `map of ${SLOT_WORDS[use.slot]}: ${use.file}`
    if (!found && use.slot === 'decal' && color) {
      layOver(color, use, true)
      lost.push({ what, note: LAID_OVER, isLayer: true })
    } else if (!found) lost.push({ what, note: withoutPlace(use.slot, target) })
    else if (placed.has(found.parameter) && use.stack) {
      layOver(
        found.parameter,
        { ...use, inverted: use.inverted !== (found.parameter.inverted === true) },
        false,
      )
      lost.push({ what, note: LAID_OVER, isLayer: true })
    } else if (placed.has(found.parameter))
      lost.push({ what, note: `${placed.get(found.parameter)!.use.file} stands in its place` })
    else
      placed.set(found.parameter, {
        use: {
          ...use,
          inverted: use.inverted !== (found.parameter.inverted === true),
          amount:
            found.parameter.slot === 'bump' && hasBumpNumber(target)
              ? 1
              : use.amount * (use.stack?.alpha ?? 1),
        },
        note: found.note,
      })
  }
  const rows = target.parameters.map((parameter): RemappedParameter => {
    const name = parameter.name ?? parameter.mapName!
    const map = placed.get(parameter) ?? null
    const computed = reflectance?.outputs.find((output) => output.parameter === parameter)
    if (reflectance && computed && !map)
      return applyRules(material.name, parameter, rules, computedRow(reflectance, computed))
    return applyRules(material.name, parameter, rules, {
      parameter: name,
      slot: parameter.slot,
      value: parameter.name === null ? null : (values[parameter.name] ?? parameter.standard),
      map: map?.use ?? null,
      ...(layers.has(parameter) ? { layers: layers.get(parameter)! } : {}),
      ...fateOf(parameter, report, map),
      ...(map ? {} : impliedBy(parameter, report, values, target, source)),
      ...(map ? {} : setForMaps(parameter, plain, values)),
    })
  })
  return {
    name: material.name,
    recognised,
    target,
    parameters: rows,
    lost,
    ...(reflectance ? { reflectance } : {}),
  }
}

/** A parameter whose map is computed pixel by pixel. */
function computedRow(
  { inputs, isExact }: ReflectanceMaps,
  { parameter, channels, colorSpace, scale, file }: ReflectanceOutput,
): RemappedParameter {
  const { use } = inputs[0]!
  const words = inputs.map((one) => SLOT_WORDS[one.use.slot]).join(' and ')
  return {
    parameter: parameter.name!,
    slot: parameter.slot,
    value: parameter.width === 3 ? [scale, scale, scale] : scale,
    map: {
      file,
      slot: parameter.slot!,
      channel: channels === 3 ? 'rgb' : 'r',
      isPart: false,
      inverted: false,
      amount: 1,
      colorSpace,
      direction: null,
      from: use.from,
      uvSet: use.uvSet,
      ...(use.placement ? { placement: use.placement } : {}),
      ...(scale === 1 ? {} : { isTimesValue: true }),
    },
    how: isExact ? 'exact' : 'approximate',
    note: `computed pixel by pixel from the maps of ${words}${isExact ? '' : ': not all of it comes back the same'}`,
    from: use.from,
  }
}

/** Whether a material's map is multiplied by a value that the material states. */
function isTimesValue({ model, values }: RecognisedSurface, map: MaterialMap): boolean {
  const parameter = model.parameters.find(
    ({ mapName, slot }) => mapName === map.property && slot === map.slot,
  )
  if (!parameter?.name || values[parameter.name] === undefined) return false
  return model.timesMap === 'all' || model.timesMap?.includes(parameter.name) === true
}

const LAID_OVER = 'lies over another map: one map for all draws both'

const bumpAmount = (uses: readonly MapUse[]): number => uses.find(({ slot }) => slot === 'bump')?.amount ?? 1

/** Whether a target says how strong bumps are beside their map. */
const hasBumpNumber = (target: SurfaceModel): boolean => {
  const [one, half] = [1, 0.5].map((amount) => target.fromHub({ ...HUB_STANDARD, bumpAmount: amount }))
  return Object.keys(one!).some((name) => difference(one![name], half![name]) > 0)
}

/** Values where the folder's maps say all of a slot: neutral ones, and the strengths that let them be seen. */
function valuesUnderMaps(
  { model, values }: RecognisedSurface,
  target: SurfaceModel,
  plain: SurfaceValues,
  sayingAll: readonly MapUse[],
  bump: number,
): SurfaceValues {
  if (sayingAll.length === 0 && bump === 1) return plain
  let hub = model.toHub(values)
  // a share of a bump's map that the target has a number for
  if (bump !== 1) hub = { ...hub, bumpAmount: bump }
  for (const { slot } of sayingAll) hub = { ...hub, ...UNDER_A_MAP[slot] }
  if (sayingAll.some(({ slot }) => slot === 'opacity') && hub.alphaMode === 'opaque')
    hub = { ...hub, alphaMode: null }
  const under: Record<string, SurfaceValue> = { ...target.fromHub(hub) }
  // opaque by its value, see-through by its map
  const mode = target.parameters.find(({ name, choices }) => name && choices?.includes('BLEND'))?.name
  if (mode && under[mode] === 'OPAQUE' && sayingAll.some(({ slot }) => slot === 'opacity'))
    under[mode] = 'BLEND'
  for (const use of sayingAll) {
    const parameter = placeOf(use, target)?.parameter
    if (!parameter?.name) continue
    if (parameter.width === 3) under[parameter.name] = [1, 1, 1]
    else if (parameter.width === 1 && parameter.range?.[0] === 0 && parameter.range[1] === 1)
      under[parameter.name] = 1
  }
  return under
}

function placeOf(use: MapUse, target: SurfaceModel): { parameter: SurfaceParameter; note: string } | null {
  const takes = (slot: Slot): SurfaceParameter | undefined =>
    target.parameters.find((parameter) => parameter.mapName !== null && parameter.slot === slot)
  const same = takes(use.slot)
  if (same) return { parameter: same, note: '' }
  for (const [slot, note] of NEAREST[use.slot] ?? []) {
    const near = takes(slot)
    if (near) return { parameter: near, note }
  }
  return null
}

function withoutPlace(slot: Slot, { title }: SurfaceModel): string {
  if (slot === 'id') return 'tells regions apart; no renderer shows it'
  if (slot === 'occlusion')
    return `${title} has none: light finds it by itself, or it is multiplied into the base colour`
  return `${title} takes no such map`
}

function fateOf(
  parameter: SurfaceParameter,
  report: readonly ParameterReport[],
  map: { use: MapUse; note: string } | null,
): Pick<RemappedParameter, 'how' | 'note' | 'from'> {
  const sources = report.filter(
    ({ given, becomes }) => given && parameter.name !== null && becomes.includes(parameter.name),
  )
  if (map) {
    const notes = [
      map.note,
      map.use.isTimesValue && sources.some(({ how }) => how === 'approximate') ? 'times its value' : '',
    ].filter(Boolean)
    return {
      how: map.note ? 'approximate' : 'exact',
      note: notes.join('; '),
      from: map.use.from,
    }
  }
  const worst = sources.find(({ how }) => how === 'approximate')
  return {
    how: worst ? 'approximate' : 'exact',
    note: worst ? noteOf(worst, parameter.name!) : '',
    from: sources.length ? 'material' : 'standard',
  }
}

/** A value that nobody said and that is not the target's standard all the same: the source's model takes it for granted. */
function impliedBy(
  { name, standard }: SurfaceParameter,
  report: readonly ParameterReport[],
  values: SurfaceValues,
  target: SurfaceModel,
  source: SurfaceModel,
): Partial<RemappedParameter> {
  if (name === null || standard === null || report.some(({ becomes }) => becomes.includes(name))) return {}
  if (difference(values[name], standard) <= SAME_WITHIN || hasNoEffect(name, values, target)) return {}
  return { from: 'material', note: `what ${source.title} means where it says nothing` }
}

/** A value that was set so that the folder's maps can be seen: it is no longer the material's. */
function setForMaps(
  { name }: SurfaceParameter,
  plain: SurfaceValues,
  values: SurfaceValues,
): Partial<RemappedParameter> {
  if (name === null || plain === values || difference(plain[name], values[name]) <= SAME_WITHIN) return {}
  const before = plain[name]
  return {
    how: 'approximate',
    from: 'folder',
    note: `set so that the maps show${before === undefined ? '' : `; the material had ${valueText(before)}`}`,
  }
}

/** What a source's note says of one target, named after the source. */
function noteOf({ parameter, note }: ParameterReport, target: string): string {
  const parts = note.split('; ')
  const own = parts.filter((part) => part.startsWith(`${target}: `))
  const plain = parts.filter((part) => !/^[\w ]+: /.test(part))
  const told = [...plain, ...own.map((part) => part.slice(target.length + 2))]
  return `from ${parameter}: ${(told.length ? told : parts).join('; ')}`
}

function applyRules(
  material: string,
  parameter: SurfaceParameter,
  rules: readonly RemapRule[],
  row: RemappedParameter,
): RemappedParameter {
  let result = row
  for (const rule of rules) {
    if (!appliesTo(rule, material) || !meansParameter(rule, parameter.name, parameter.slot)) continue
    if (rule.value !== undefined && parameter.name !== null)
      result = { ...result, value: rule.value, how: 'exact', note: '', from: 'rule' }
    if (rule.map === null) result = { ...result, map: null, from: 'rule' }
    else if (rule.map && parameter.mapName !== null && parameter.slot !== null)
      result = {
        ...result,
        map: {
          file: rule.map.file,
          slot: parameter.slot,
          channel: rule.map.channel ?? (parameter.width === 1 ? 'r' : 'rgb'),
          isPart: rule.map.channel !== undefined && rule.map.channel !== 'rgb',
          inverted: rule.map.inverted ?? false,
          amount: rule.map.amount ?? 1,
          colorSpace: colorSpaceOf(parameter.slot),
          direction: null,
          from: 'rule',
          uvSet: '',
        },
        how: 'exact',
        note: '',
        from: 'rule',
      }
  }
  return result
}
