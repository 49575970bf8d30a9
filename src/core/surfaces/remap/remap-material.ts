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
import { HAS_STRENGTH, type MapUse } from './map-use.ts'
import { reflectanceMaps, type ReflectanceMaps, type ReflectanceOutput } from './reflectance-maps.ts'
import { applyRules } from './apply-rules.ts'
import { placeOf, withoutPlace } from './place-map.ts'
import type { Lost, MapLayer, RemappedMaterial, RemappedParameter } from './remapped-material.ts'
import type { RemapRule } from './rules.ts'
import { usesOfMaterial } from './set-uses.ts'

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

/** The values that a material's file states; the model's own parameters that maps are on included. */
export function remapMaterial(
  material: Material,
  target: SurfaceModel,
  fromFolder: readonly MapUse[],
  rules: readonly RemapRule[],
  directionOf: (file: string) => 'up' | 'down' | null = () => null,
  place = 0,
  ownModel: SurfaceModel | null = null,
): RemappedMaterial {
  const recognised = recogniseSurface(material, ownModel)
  const source = recognised.model
  const own = usesOfMaterial(
    material,
    (map) => parameterOf(source, map)?.inverted === true,
    (map) => parameterOf(source, map)?.channel ?? null,
  ).map((use, at): MapUse => ({
    ...use,
    ...(timesValue(recognised, material.maps[at]!) === null ? {} : { isTimesValue: true }),
    ...(use.slot === 'normal' || use.slot === 'clearcoatNormal' ? { direction: directionOf(use.file) } : {}),
  }))
  // a map of the folder takes the place of one that the material came with
  const uses = [...fromFolder, ...own.filter(({ slot }) => !fromFolder.some((use) => use.slot === slot))]
  const { parameters: said, report } = convertSurface(recognised.values, source, target, true)
  const plain = withSeeThroughSaid(recognised, target, said)
  // what a map says all of: of the folder, and of the material where its map takes its value's place
  const sayingAll =
    source === target
      ? fromFolder
      : uses.filter(
          (use) => !use.isTimesValue && use.amount === 1 && (!use.stack || coversValue(use, uses, target)),
        )
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
    { name: material.name, place },
  )
  for (const parameter of reflectance?.unmapped ?? [])
    lost.push({ what: parameter, note: 'differs from pixel to pixel, and takes no map' })
  const converted = new Set(reflectance?.inputs.map(({ use }) => use))
  const placed = new Map<SurfaceParameter, { use: MapUse; note: string; value?: number }>()
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
    else {
      const inverted = use.inverted !== (found.parameter.inverted === true)
      const amount =
        found.parameter.slot === 'bump' && hasBumpNumber(target) ? 1 : use.amount * (use.stack?.alpha ?? 1)
      const { isTimesValue, ...alone } = use
      const times = isTimesValue ? timesValue(recognised, material.maps[own.indexOf(use)]!) : null
      const isMapAlone = found.parameter.name === null
      if (times !== null && isMapAlone && times !== 1 && !HAS_STRENGTH.has(found.parameter.slot))
        // there is no value to stand beside it
        placed.set(found.parameter, {
          use: {
            ...alone,
            inverted,
            amount,
            drawnTimes: times,
            mix: { share: [times], ground: [inverted ? 1 : 0] },
          },
          note: found.note,
        })
      else if (times !== null && inverted)
        // 1 - value × map is that share of the map turned round, over 1
        placed.set(found.parameter, {
          use: { ...alone, inverted, amount: amount * times },
          note: found.note,
          value: 1,
        })
      else placed.set(found.parameter, { use: { ...use, inverted, amount }, note: found.note })
    }
  }
  // what its own map says pixel by pixel, and that map has a place, is not lost with the value beside it
  const carried = new Set<string | null | undefined>(
    [...[...placed.values()].map(({ use }) => use.file), ...[...converted].map((use) => use?.file)].flatMap(
      (file) => material.maps.filter((map) => map.file === file).map((map) => parameterOf(source, map)?.name),
    ),
  )
  for (let at = lost.length - 1; at >= 0; at--) if (carried.has(lost[at]!.what)) lost.splice(at, 1)
  const rows = target.parameters.map((parameter): RemappedParameter => {
    const name = parameter.name ?? parameter.mapName!
    const map = placed.get(parameter) ?? null
    const computed = reflectance?.outputs.find((output) => output.parameter === parameter)
    if (reflectance && computed && !map)
      return applyRules(material.name, parameter, rules, {
        ...computedRow(reflectance, computed),
        ...(plain[name] === undefined ? {} : { withoutMap: plain[name] }),
      })
    return applyRules(material.name, parameter, rules, {
      parameter: name,
      slot: parameter.slot,
      value: parameter.name === null ? null : (map?.value ?? values[parameter.name] ?? parameter.standard),
      ...(map && parameter.name !== null && plain[parameter.name] !== undefined
        ? { withoutMap: plain[parameter.name]! }
        : {}),
      map: map?.use ?? null,
      ...(layers.has(parameter) ? { layers: layers.get(parameter)! } : {}),
      ...fateOf(parameter, report, map),
      ...(map ? {} : impliedBy(parameter, report, values, target, source)),
      ...(map ? {} : setForMaps(parameter, plain, values, fromFolder.length ? 'folder' : 'material')),
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

/** How opacity counts, where the material has one and leaves it open, and the same model's standard would be opaque. */
function withSeeThroughSaid(
  { model, values }: RecognisedSurface,
  target: SurfaceModel,
  plain: SurfaceValues,
): SurfaceValues {
  const mode = target.parameters.find(({ name, choices }) => name && choices?.includes('BLEND'))?.name
  if (model !== target || !mode || values[mode] !== undefined) return plain
  const { opacity } = model.toHub(values)
  return opacity.every((one) => one >= 1) ? plain : { ...plain, [mode]: 'BLEND' }
}

const parameterOf = (model: SurfaceModel, map: MaterialMap): SurfaceParameter | undefined =>
  model.parameters.find(({ mapName, slot }) => mapName === map.property && slot === map.slot)

/** The number that a material's map is multiplied by, 1 for a colour; null where its map takes the place of what it states. */
function timesValue({ model, values }: RecognisedSurface, map: MaterialMap): number | null {
  const parameter = parameterOf(model, map)
  const value = parameter?.name ? values[parameter.name] : undefined
  if (!parameter?.name || value === undefined) return null
  const isTimes = model.timesMap === 'all' || model.timesMap?.includes(parameter.name) === true
  return isTimes ? (typeof value === 'number' ? value : 1) : null
}

const LAID_OVER = 'lies over another map: one map for all draws both'

const bumpAmount = (uses: readonly MapUse[]): number => uses.find(({ slot }) => slot === 'bump')?.amount ?? 1

/**
 * Whether the lowest map of a stack takes the place of a value that the target would multiply it by. Where the target
 * replaces values by maps the value stays, as the ground of what is drawn over it.
 */
function coversValue(use: MapUse, uses: readonly MapUse[], target: SurfaceModel): boolean {
  const name = placeOf(use, target)?.parameter.name
  const multiplies =
    target.timesMap === 'all' || (typeof name === 'string' && target.timesMap?.includes(name) === true)
  return multiplies && use.stack?.alpha === 1 && uses.find(({ slot }) => slot === use.slot) === use
}

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

/** A value that was set so that maps can be seen: it is no longer what the material said. */
function setForMaps(
  { name }: SurfaceParameter,
  plain: SurfaceValues,
  values: SurfaceValues,
  from: 'folder' | 'material',
): Partial<RemappedParameter> {
  if (name === null || plain === values || difference(plain[name], values[name]) <= SAME_WITHIN) return {}
  const before = plain[name]
  return {
    how: 'approximate',
    from,
    note: `set so that the maps show${before === undefined ? '' : `; the material had ${valueText(before)}`}`,
  }
}

/** What a source's note says of one target, named after the source. */
export function noteOf({ parameter, note }: ParameterReport, target: string): string {
  const parts = note.split('; ')
  const own = parts.filter((part) => part.startsWith(`${target}: `))
  const plain = parts.filter((part) => !/^[\w ]+: /.test(part))
  const told = [...plain, ...own.map((part) => part.slice(target.length + 2))]
  return `from ${parameter}: ${(told.length ? told : parts).join('; ')}`
}
