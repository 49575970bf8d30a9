/** What stands in a document as another kind of value than the format has there: told, and read as if it were not there. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { objectOf, type Json } from '../notes/json.ts'

type Kind = 'list' | 'object' | 'text' | 'number' | 'whole' | 'switch'

const IS: Readonly<Record<Kind, (value: unknown) => boolean>> = {
  list: Array.isArray,
  object: (value) => objectOf(value) !== null,
  text: (value) => typeof value === 'string',
  number: (value) => typeof value === 'number',
  whole: (value) => Number.isSafeInteger(value) && (value as number) >= 0,
  switch: (value) => typeof value === 'boolean',
}

/** Kinds of what the entries of each list of a document hold. Source: glTF 2.0, section 5. */
const ENTRIES: Readonly<Record<string, Readonly<Record<string, Kind>>>> = {
  accessors: {
    bufferView: 'whole',
    byteOffset: 'whole',
    componentType: 'whole',
    count: 'whole',
    type: 'text',
  },
  animations: { channels: 'list', samplers: 'list' },
  buffers: { uri: 'text', byteLength: 'whole' },
  bufferViews: { buffer: 'whole', byteOffset: 'whole', byteLength: 'whole', byteStride: 'whole' },
  cameras: { type: 'text' },
  images: { uri: 'text', mimeType: 'text', bufferView: 'whole' },
  materials: {
    pbrMetallicRoughness: 'object',
    normalTexture: 'object',
    occlusionTexture: 'object',
    emissiveTexture: 'object',
    emissiveFactor: 'list',
    alphaMode: 'text',
    alphaCutoff: 'number',
    doubleSided: 'switch',
  },
  meshes: { primitives: 'list', weights: 'list' },
  nodes: {
    camera: 'whole',
    children: 'list',
    skin: 'whole',
    mesh: 'whole',
    matrix: 'list',
    rotation: 'list',
    scale: 'list',
    translation: 'list',
  },
  samplers: { magFilter: 'whole', minFilter: 'whole', wrapS: 'whole', wrapT: 'whole' },
  scenes: { nodes: 'list' },
  skins: { inverseBindMatrices: 'whole', joints: 'list' },
  textures: { sampler: 'whole', source: 'whole' },
}

export function checkKinds(document: Json, messages: MessageCollector): void {
  const told = (place: string): void => messages.add('gltf.value', { place })
  if (document.scene !== undefined && !IS.whole(document.scene)) told('“scene”')
  for (const [list, kinds] of Object.entries(ENTRIES)) {
    const entries = document[list]
    if (entries === undefined) continue
    if (!Array.isArray(entries)) {
      told(`“${list}”`)
      continue
    }
    entries.forEach((entry: unknown, index) => {
      const object = objectOf(entry)
      if (!object) {
        told(`Entry ${index} of “${list}”`)
        return
      }
      for (const [key, kind] of Object.entries({ ...kinds, name: 'text', extensions: 'object' } as const))
        if (object[key] !== undefined && !IS[kind](object[key]))
          told(`“${key}” of entry ${index} of “${list}”`)
    })
  }
}
