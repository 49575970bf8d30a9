/** What is written of a node beside what it shows, and of the whole file. */
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { isNearly } from '../../base/math/matrix.ts'
import type { KeptProperty } from '../../scene/kept.ts'
import type { CustomProperties, Scene, SceneNode, Space } from '../../scene/scene.ts'
import { OWN_NAMESPACE } from './keep-rest.ts'
import { identifierOf } from './names.ts'
import { notesSetting } from './prim-notes.ts'
import { readUsdText } from './read-text.ts'
import { placeBy } from './read-transform.ts'
import { quote, valueText, type UsdWriter } from './write-text.ts'

export function axisOf({ upAxis, frontAxis, handedness }: Space, wanted: 'y' | 'z' | null): 'y' | 'z' {
  if (wanted) return wanted
  return handedness === 'right' && upAxis === 'z' && frontAxis === '-y' ? 'z' : 'y'
}

export const textOfKept = ({ values }: KeptProperty): string => String(values[0] ?? '')
export const keptOf = ({ kept }: SceneNode, as: string): KeptProperty[] =>
  (kept ?? []).filter(({ type, flags }) => type === 'usda' && flags === as)
/** The kind of prim that a node was, where it had no more to show. */
export const kindBefore = (node: SceneNode): string | null => {
  const found = keptOf(node, 'setting').find(({ name }) => name === '')
  return found ? textOfKept(found) : null
}

const isPlainName = (name: string): boolean => /^[A-Za-z_]\w*(:[A-Za-z_]\w*)*$/.test(name)

/** Properties of an artist’s own: in their namespace where their names can stand there, else as a note. */
export function splitProperties(properties: CustomProperties): { lines: string[]; noted: CustomProperties } {
  const lines: string[] = []
  const noted: Record<string, CustomProperties[string]> = {}
  for (const [name, value] of Object.entries(properties)) {
    const isSound = typeof value !== 'string' || !/[\0]/.test(value)
    if (!isPlainName(name) || !isSound) noted[name] = value
    else {
      const own = Array.isArray(value) ? Float64Array.from(value as readonly number[]) : (value as number | string | boolean) // prettier-ignore
      const type = Array.isArray(value) ? 'double[]' : typeof value === 'string' ? 'string' : typeof value === 'boolean' ? 'bool' : 'double' // prettier-ignore
      lines.push(`custom ${type} ${OWN_NAMESPACE}${name} = ${valueText(own, type)}`)
    }
  }
  return { lines, noted }
}

/** The operations that placed a node when it was read, where they still do. */
export function operationsOf(node: SceneNode): string[] | null {
  const kept = keptOf(node, 'place')
  if (kept.length === 0) return null
  try {
    const layer = readUsdText(encodeUtf8(`#usda 1.0\ndef "a"\n{\n${kept.map(textOfKept).join('')}}\n`), '')
    const properties = new Map(layer.prims[0]!.properties.map((property) => [property.name, property]))
    const order = properties.get('xformOpOrder')?.value
    if (!Array.isArray(order)) return null
    const { local } = placeBy(order as string[], (name) => {
      const property = properties.get(name)
      return property?.value ?? property?.samples?.values[0]
    })
    const largest = Math.max(1, ...local.map(Math.abs))
    return isNearly(local, node.local, 1e-12 * largest) ? kept.map(textOfKept) : null
  } catch {
    // operations that are no text of the format any more place nothing
    return null
  }
}

/** The name that a prim had, where its node is still called by it. */
export function wishOf({ name, source }: SceneNode): string {
  const before = source?.startsWith('/') ? (source.split('/').pop() ?? '') : ''
  return before && identifierOf(name) === identifierOf(before) ? before : name || 'node'
}

/** Data that came with a prim, and notes beside it. */
export function withKeptData(kept: KeptProperty | undefined, notes: object): string[] {
  const [own] = notesSetting(notes)
  if (!kept) return own ? [own] : []
  if (!own) return [textOfKept(kept)]
  // one dictionary: what was there, then the note
  const inner = own.slice(own.indexOf('{') + 1, own.lastIndexOf('}')).trim()
  return [textOfKept(kept).replace(/\n?\s*\}\s*$/, `\n    ${inner}\n}`)]
}

/** What the file says of itself. */
export function writeHead(
  writer: UsdWriter,
  scene: Scene,
  defaultPrim: string,
  upAxis: 'y' | 'z',
  sections: readonly { readonly name: string; readonly kinds: string; readonly values: readonly unknown[] }[],
  lost: Set<string>,
): void {
  writer.line('(')
  if (defaultPrim) writer.line(`    defaultPrim = ${quote(defaultPrim)}`)
  const { unitMeters } = scene.space
  if (unitMeters !== null) writer.line(`    metersPerUnit = ${valueText(unitMeters, 'double')}`)
  writer.line(`    upAxis = "${upAxis.toUpperCase()}"`)
  const settings = sections.filter(({ name }) => name === 'setting')
  const hasData = settings.some(({ kinds }) => kinds === 'customLayerData')
  for (const { values } of settings)
    for (const line of String(values[0]).split('\n')) writer.line(`    ${line}`)
  if (Object.keys(scene.properties).length === 0) return writer.line(')')
  if (hasData) lost.add('properties of the scene')
  else writer.line(`    customLayerData = { string properties = ${quote(JSON.stringify(scene.properties))} }`)
  writer.line(')')
}
