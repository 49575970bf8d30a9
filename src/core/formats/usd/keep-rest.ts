/** What a stage holds that Kelbo has no use for, as text: written back as it came, into the same format. */
import type { KeptProperty } from '../../scene/kept.ts'
import type { CustomProperties } from '../../scene/scene.ts'
import { objectOf } from '../notes/json.ts'
import type { StagePrim } from './compose.ts'
import { isDictionary, type UsdProperty, type UsdValue } from './layer.ts'
import { NOTES_ENTRY, notesIn, OF_PARENT } from './prim-notes.ts'
import { MESH_PROPERTIES } from './read-mesh.ts'
import { textsIn } from './read-transform.ts'
import { propertyText, valueText } from './write-text.ts'

/** Namespace that properties of an artist’s own stand in (common practice). */
export const OWN_NAMESPACE = 'userProperties:'

/** Flags of what is kept: a property, a setting of the prim, or one of the operations that place it. */
export type KeptAs = 'property' | 'setting' | 'place'
export const keptText = (name: string, text: string, as: KeptAs): KeptProperty => ({
  name,
  type: 'usda',
  label: '',
  flags: as,
  values: [text],
})

/** Settings that the scene has a place for, or that are made anew. */
const USED_SETTINGS: ReadonlySet<string> = new Set(['displayName', 'active', 'instanceable', 'apiSchemas', 'hidden']) // prettier-ignore
const USED_SCHEMAS: ReadonlySet<string> = new Set(['MaterialBindingAPI', 'SkelBindingAPI'])

const isUsedBySkeletons = (name: string): boolean =>
  /^(primvars:)?skel:/.test(name) && name !== 'skel:animationSource'

/** @param isMesh whether what stands on polygons has been read. */
function isUsed(prim: StagePrim, { name, type, metadata }: UsdProperty, isMesh: boolean): boolean {
  if (name === 'visibility' || name === 'xformOpOrder' || name.startsWith('xformOp:')) return true
  if (/^material:binding(:(preview|full))?$/.test(name) || isUsedBySkeletons(name)) return true
  if (!isMesh) return false
  if (MESH_PROPERTIES.has(name)) return true
  if (!name.startsWith('primvars:')) return false
  const values = name.endsWith(':indices')
    ? prim.properties.get(name.slice(0, -':indices'.length))
    : undefined
  if (values) return isUsed(prim, values, isMesh)
  // one value for the whole stays as it is
  const isOne = (metadata.get('interpolation') ?? 'constant') === 'constant'
  return !isOne || type === ''
}

const isPlain = (value: UsdValue | undefined): value is number | string | boolean | Float64Array =>
  ['number', 'string', 'boolean'].includes(typeof value) || value instanceof Float64Array

/** Properties of an artist’s own, and all else that no part of the scene has a place for. */
export function restOf(
  prim: StagePrim,
  isMesh: boolean,
): { properties: CustomProperties; kept: readonly KeptProperty[] } {
  const properties: Record<string, CustomProperties[string]> = {}
  const kept: KeptProperty[] = []
  const noted = objectOf(notesIn(prim)?.properties)
  for (const property of prim.properties.values()) {
    if (isUsed(prim, property, isMesh)) continue
    const { name, value, samples, targets } = property
    if (name.startsWith(OWN_NAMESPACE) && isPlain(value) && !samples && targets.length === 0) {
      properties[name.slice(OWN_NAMESPACE.length)] = value instanceof Float64Array ? [...value] : value
      continue
    }
    kept.push(keptText(name, propertyText(property, 0), 'property'))
  }
  for (const [name, value] of Object.entries(noted ?? {}))
    if (isPlain(value as UsdValue) || Array.isArray(value))
      properties[name] = value as CustomProperties[string]
  for (const [name, value] of prim.metadata) {
    if (USED_SETTINGS.has(name) || !/^[A-Za-z_]\w*$/.test(name)) continue
    let own = value
    if (name === 'customData' && isDictionary(value)) {
      own = new Map([...value].filter(([entry]) => entry !== NOTES_ENTRY && entry !== OF_PARENT))
      if (own.size === 0) continue
    }
    kept.push(keptText(name, `${name} = ${valueText(own, '')}`, 'setting'))
  }
  const schemas = prim.metadata.get('apiSchemas')
  if (Array.isArray(schemas))
    for (const schema of schemas as string[])
      if (!USED_SCHEMAS.has(schema)) kept.push(keptText('apiSchemas', schema, 'setting'))
  // the operations that place it, so that they stay what they were as long as the place does
  const order = textsIn(prim, 'xformOpOrder')
  const isOneMatrix = order.length === 1 && order[0] === 'xformOp:transform' && !prim.properties.get(order[0])?.samples // prettier-ignore
  if (order.length > 0 && !isOneMatrix && !order.includes('!resetXformStack!'))
    for (const [name, property] of prim.properties)
      if (name.startsWith('xformOp')) kept.push(keptText(name, propertyText(property, 0), 'place'))
  return { properties, kept }
}
