/** Compressed primitives, by the decoder that its authors publish. Source: KHR_draco_mesh_compression. */
import type { Accessor, Accessors } from './read-accessor.ts'
import type { GltfReading } from './read-buffers.ts'
import { partOf, textOf, wholeOf, type Json } from '../notes/json.ts'

const WIDTHS: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 }
/** What whole numbers are divided by where they stand for shares, by the component type of glTF. */
const SHARES: Readonly<Record<number, number>> = { 5120: 127, 5121: 255, 5122: 32767, 5123: 65535 }

export interface Unpacked {
  readonly indices: Uint32Array
  readonly attributes: ReadonlyMap<string, Accessor>
}

/** @returns null where it can't be unpacked, which is told. */
export function readDraco(
  packed: Json,
  stated: Json,
  reading: GltfReading,
  accessors: Accessors,
  place: string,
): Unpacked | null {
  const { messages, decoders } = reading
  const left = (why: string): null => {
    messages.add('gltf.part', { place: `What is compressed of ${place}`, why })
    return null
  }
  if (!decoders.draco) return left('what would unpack it is not at hand here')
  const viewIndex = wholeOf(packed.bufferView)
  const view = viewIndex === null ? null : accessors.view(viewIndex)
  if (!view) return viewIndex === null ? left('it doesn’t say where its bytes lie') : null
  const wanted = new Map<string, { id: number; width: number; share: number }>()
  for (const [semantic, id] of Object.entries(partOf(packed, 'attributes') ?? {})) {
    const number = wholeOf(id)
    const accessor = accessors.stated(wholeOf(stated[semantic]) ?? -1)
    const width = WIDTHS[textOf(accessor?.type)]
    if (number === null || !width) continue
    const share = accessor?.normalized === true ? (SHARES[wholeOf(accessor.componentType) ?? 0] ?? 0) : 0
    wanted.set(semantic, { id: number, width, share })
  }
  try {
    const { indices, vertexCount, values } = decoders.draco(
      view.bytes,
      new Map([...wanted.values()].map(({ id, width }) => [id, width])),
    )
    const attributes = new Map<string, Accessor>()
    for (const [semantic, { id, width, share }] of wanted) {
      const own = values.get(id)
      if (!own || own.length !== width * vertexCount) continue
      attributes.set(semantic, {
        values: share ? own.map((value) => Math.max(value / share, -1)) : own,
        width,
        count: vertexCount,
        most: share,
      })
    }
    if (!attributes.has('POSITION')) return left('it holds no positions')
    return { indices, attributes }
  } catch {
    return left('its compressed bytes are damaged')
  }
}
