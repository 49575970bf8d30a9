/**
 * A surface model of an artist's own: a name, slots with their kinds, and which common one each is taken from. It is
 * read from JSON; the page makes the same.
 */
import { KelboError } from '../base/messages/collector.ts'
import type { Slot } from '../scene/material.ts'
import { HUB_STANDARD, type Hub } from './hub.ts'
import type { SurfaceModel, SurfaceParameter, SurfaceValue, SurfaceValues } from './model.ts'
import { largest, mean, scaled, weighted, WHITE, type Rgb } from './rgb.ts'
import { diffuseAndF0Of, hubOfDiffuseAndF0 } from './specular-workflow.ts'

interface Common {
  readonly slot: Slot
  readonly kind: 'color' | 'number' | 'map'
  readonly title: string
  readonly read?: (hub: Hub) => Rgb | number
  readonly write?: (hub: Hub, value: Rgb) => Hub
}

/** What a slot may be taken from. A number is read from a colour as its mean, a colour from a number as grey. */
export const COMMON_SOURCES: Readonly<Record<string, Common>> = {
  baseColor: {
    slot: 'baseColor',
    kind: 'color',
    title: 'base colour',
    read: (hub) => scaled(hub.baseColor, hub.base),
    write: (hub, baseColor) => ({ ...hub, base: 1, baseColor }),
  },
  diffuse: {
    slot: 'baseColor',
    kind: 'color',
    title: 'diffuse colour, black on a metal',
    read: (hub) => diffuseAndF0Of(hub).diffuse,
    write: (hub, diffuse) => ({ ...hub, ...withF0(hub, diffuse, diffuseAndF0Of(hub).f0) }),
  },
  f0: {
    slot: 'specular',
    kind: 'color',
    title: 'reflectance seen from the front',
    read: (hub) => diffuseAndF0Of(hub).f0,
    write: (hub, f0) => ({ ...hub, ...withF0(hub, diffuseAndF0Of(hub).diffuse, f0) }),
  },
  specular: {
    slot: 'specular',
    kind: 'color',
    title: 'tint of the highlight',
    read: (hub) => scaled(hub.specularColor, hub.specular),
    write: (hub, value) => ({
      ...hub,
      specular: weighted(value).weight,
      specularColor: weighted(value).color,
    }),
  },
  metalness: {
    slot: 'metalness',
    kind: 'number',
    title: 'metalness',
    read: (hub) => hub.metalness,
    write: (hub, [metalness]) => ({ ...hub, metalness }),
  },
  roughness: {
    slot: 'roughness',
    kind: 'number',
    title: 'roughness',
    read: (hub) => hub.specularRoughness,
    write: (hub, [specularRoughness]) => ({ ...hub, specularRoughness }),
  },
  ior: {
    slot: 'ior',
    kind: 'number',
    title: 'index of refraction',
    read: (hub) => hub.ior,
    write: (hub, [ior]) => ({ ...hub, ior }),
  },
  opacity: {
    slot: 'opacity',
    kind: 'number',
    title: 'opacity',
    read: (hub) => mean(hub.opacity),
    write: (hub, [opacity]) => ({ ...hub, opacity: scaled(WHITE, opacity) }),
  },
  emission: {
    slot: 'emissive',
    kind: 'color',
    title: 'emission',
    read: (hub) => scaled(hub.emissionColor, hub.emission),
    write: (hub, value) => ({
      ...hub,
      emission: weighted(value).weight,
      emissionColor: weighted(value).color,
    }),
  },
  transmission: {
    slot: 'transmission',
    kind: 'number',
    title: 'transmission',
    read: (hub) => hub.transmission,
    write: (hub, [transmission]) => ({ ...hub, transmission }),
  },
  coat: {
    slot: 'clearcoat',
    kind: 'number',
    title: 'clear coat',
    read: (hub) => hub.coat,
    write: (hub, [coat]) => ({ ...hub, coat, coatAsIs: coat }),
  },
  coatRoughness: {
    slot: 'clearcoatRoughness',
    kind: 'number',
    title: 'roughness of the clear coat',
    read: (hub) => hub.coatRoughness,
    write: (hub, [coatRoughness]) => ({ ...hub, coatRoughness }),
  },
  sheenColor: {
    slot: 'sheenColor',
    kind: 'color',
    title: 'sheen',
    read: (hub) => scaled(hub.sheenColor, hub.sheen),
    write: (hub, value) => ({
      ...hub,
      sheen: largest(value) > 0 ? 1 : 0,
      sheenColor: largest(value) > 0 ? value : WHITE,
    }),
  },
  sheenRoughness: {
    slot: 'sheenRoughness',
    kind: 'number',
    title: 'roughness of the sheen',
    read: (hub) => hub.sheenRoughness,
    write: (hub, [sheenRoughness]) => ({ ...hub, sheenRoughness }),
  },
  anisotropy: {
    slot: 'anisotropy',
    kind: 'number',
    title: 'anisotropy',
    read: (hub) => hub.anisotropy,
    write: (hub, [anisotropy]) => ({ ...hub, anisotropy }),
  },
  subsurface: {
    slot: 'subsurface',
    kind: 'number',
    title: 'strength of the subsurface',
    read: (hub) => hub.subsurface,
    write: (hub, [subsurface]) => ({ ...hub, subsurface }),
  },
  subsurfaceColor: {
    slot: 'subsurfaceColor',
    kind: 'color',
    title: 'colour of the subsurface',
    read: (hub) => hub.subsurfaceColor,
    write: (hub, subsurfaceColor) => ({ ...hub, subsurfaceColor }),
  },
  normal: { slot: 'normal', kind: 'map', title: 'normals' },
  bump: { slot: 'bump', kind: 'map', title: 'bump' },
  displacement: { slot: 'displacement', kind: 'map', title: 'displacement' },
  occlusion: { slot: 'occlusion', kind: 'map', title: 'occlusion' },
  id: { slot: 'id', kind: 'map', title: 'colour code' },
}

const withF0 = (hub: Hub, diffuse: Rgb, f0: Rgb): Partial<Hub> => {
  const { baseColor, metalness, diffuseAndF0 } = hubOfDiffuseAndF0(diffuse, f0)
  return { ...hub, base: 1, baseColor, metalness, diffuseAndF0 }
}

/** What it may be taken from, for a form. */
export const COMMON_CHOICES: readonly {
  readonly id: string
  readonly title: string
  readonly kind: Common['kind']
}[] = Object.entries(COMMON_SOURCES).map(([id, { title, kind }]) => ({ id, title, kind }))

/** As files and the page write it. */
export interface OwnModelDocument {
  readonly name: string
  readonly slots: readonly {
    readonly name: string
    /** One of `COMMON_CHOICES`. */
    readonly from: string
    readonly kind?: 'color' | 'number' | 'map'
    readonly times?: number
    readonly inverted?: boolean
    readonly unit?: string | null
  }[]
}

/** The id under which rules carry a model of their own. */
export const OWN_MODEL = 'own'

interface OwnSlot {
  readonly parameter: SurfaceParameter
  readonly common: Common
  readonly times: number
  readonly inverted: boolean
}

/** @throws KelboError remap.bad-model, with what is wrong where. */
export function parseOwnModel(json: unknown, id: string): SurfaceModel {
  const refuse = (what: string): never => {
    throw new KelboError('remap.bad-model', { what })
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return refuse('it is no object')
  const { name, slots } = json as Record<string, unknown>
  if (typeof name !== 'string' || !name.trim()) return refuse('it has no “name”')
  if (!Array.isArray(slots) || slots.length === 0) return refuse('it has no “slots”')
  if (slots.length > 200) return refuse('it has more than 200 slots')
  const own = slots.map((slot: unknown, at) => parseSlot(slot, `slot ${at + 1}`, refuse))
  const names = own.map(({ parameter }) => (parameter.name ?? parameter.mapName)!.toLowerCase())
  const doubled = names.find((one, at) => names.indexOf(one) !== at)
  if (doubled !== undefined) return refuse(`two slots are called “${doubled}”`)
  const toHub = (values: SurfaceValues): Hub => {
    let hub: Hub = HUB_STANDARD
    for (const { parameter, common, times, inverted } of own) {
      const given =
        parameter.name === null ? undefined : (values[parameter.name] ?? parameter.standard ?? undefined)
      if (given === undefined || !common.write) continue
      const [r, g, b] = rgbOf(given).map((one) =>
        inverted ? 1 - one / times : one / times,
      ) as unknown as Rgb
      hub = common.write(hub, [r, g, b])
    }
    return hub
  }
  const fromHub = (hub: Hub): SurfaceValues =>
    Object.fromEntries(
      own.flatMap(({ parameter, common, times, inverted }) => {
        if (parameter.name === null || !common.read) return []
        const found = rgbOf(common.read(hub)).map(
          (one) => (inverted ? 1 - one : one) * times,
        ) as unknown as Rgb
        return [[parameter.name, parameter.width === 3 ? found : mean(found)] as const]
      }),
    )
  return {
    id,
    title: name,
    source: 'made by the artist',
    materialModel: name,
    parameters: own.map(({ parameter }) => parameter),
    toHub,
    fromHub,
  }
}

function rgbOf(value: SurfaceValue): Rgb {
  if (typeof value === 'number') return [value, value, value]
  if (Array.isArray(value)) {
    const [r = 0, g = r, b = r] = value as number[]
    return [r, g, b]
  }
  return [0, 0, 0]
}

function parseSlot(slot: unknown, place: string, refuse: (what: string) => never): OwnSlot {
  if (typeof slot !== 'object' || slot === null) return refuse(`${place} is no object`)
  const { name, kind, from, times = 1, inverted = false, unit = null } = slot as Record<string, unknown>
  if (typeof name !== 'string' || !name.trim()) return refuse(`${place} has no “name”`)
  if (typeof from !== 'string' || !Object.hasOwn(COMMON_SOURCES, from))
    return refuse(`${place} (“${name}”): “from” is one of ${Object.keys(COMMON_SOURCES).join(', ')}`)
  const common = COMMON_SOURCES[from]!
  const ownKind = kind ?? common.kind
  if (ownKind !== 'color' && ownKind !== 'number' && ownKind !== 'map')
    return refuse(`${place} (“${name}”): “kind” is one of color, number, map`)
  if (!(typeof times === 'number' && Number.isFinite(times) && times !== 0))
    return refuse(`${place} (“${name}”): “times” is a number that isn’t 0`)
  const isMap = ownKind === 'map' || common.kind === 'map'
  return {
    common,
    times,
    inverted: inverted === true,
    parameter: {
      slot: common.slot,
      name: isMap ? null : name,
      kind: isMap ? 'map' : ownKind,
      width: isMap ? 0 : ownKind === 'color' ? 3 : 1,
      standard: null,
      range: isMap ? null : [Math.min(0, times), Math.max(0, times)],
      unit: typeof unit === 'string' ? unit : null,
      mapName: name,
      mapIsColor: common.kind === 'color',
      ...(inverted === true ? { inverted: true } : {}),
    },
  }
}
