/** Decoders of compressed geometry, as their authors publish them. Sources: npm meshoptimizer, npm draco3dgltf. */
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { MeshoptDecoder } from 'meshoptimizer/decoder'
import type { GeometryDecoders } from '../core/formats/descriptor.ts'

// a few kilobytes that are compiled once; who decodes has no way of waiting for it
await MeshoptDecoder.ready

/** As much of it as is used: Node's types leave it to the browser's. */
declare const WebAssembly: {
  readonly Module: new (code: Uint8Array) => object
  readonly Instance: new (module: object, imports: object) => { readonly exports: object }
}

interface DracoAttribute {
  readonly num_components: () => number
}
interface DracoMesh {
  readonly num_points: () => number
  readonly num_faces: () => number
}
interface DracoArray {
  readonly GetValue: (at: number) => number
  readonly size: () => number
}
interface DracoStatus {
  readonly ok: () => boolean
}
interface DracoModule {
  readonly Decoder: new () => {
    readonly DecodeArrayToMesh: (bytes: Int8Array, length: number, mesh: DracoMesh) => DracoStatus
    readonly GetEncodedGeometryType: (bytes: Int8Array) => number
    readonly GetAttributeByUniqueId: (mesh: DracoMesh, id: number) => DracoAttribute | null
    readonly GetAttributeFloatForAllPoints: (
      mesh: DracoMesh,
      attribute: DracoAttribute,
      into: DracoArray,
    ) => boolean
    readonly GetTrianglesUInt32Array: (mesh: DracoMesh, bytes: number, into: number) => boolean
  }
  readonly Mesh: new () => DracoMesh
  readonly DracoFloat32Array: new () => DracoArray
  readonly TRIANGULAR_MESH: number
  readonly HEAPU8: Uint8Array
  readonly _malloc: (bytes: number) => number
  readonly _free: (at: number) => void
  readonly destroy: (object: unknown) => void
}

let loaded: DracoModule | null = null

/** The decoder's module; a third of a megabyte, so that only who asks for it loads it. */
function dracoModule(): DracoModule {
  if (loaded) return loaded
  const require = createRequire(import.meta.url)
  const create = require('draco3dgltf/draco_decoder_gltf_nodejs.js') as (module: object) => unknown
  const code = readFileSync(require.resolve('draco3dgltf/draco_decoder_gltf.wasm'))
  const module = {
    // at once, where its own way of loading would have to be waited for
    instantiateWasm: (imports: object, done: (instance: { readonly exports: object }) => void): object => {
      const instance = new WebAssembly.Instance(new WebAssembly.Module(code), imports)
      done(instance)
      return instance.exports
    },
  }
  create(module)
  loaded = module as unknown as DracoModule
  return loaded
}

function decodeDraco(
  bytes: Uint8Array,
  widths: ReadonlyMap<number, number>,
): { indices: Uint32Array; vertexCount: number; values: ReadonlyMap<number, Float64Array> } {
  try {
    return decodeWith(dracoModule(), bytes, widths)
  } catch (error) {
    // a module that has stopped in the middle is of no more use
    loaded = null
    throw error
  }
}

function decodeWith(
  draco: DracoModule,
  bytes: Uint8Array,
  widths: ReadonlyMap<number, number>,
): { indices: Uint32Array; vertexCount: number; values: ReadonlyMap<number, Float64Array> } {
  const decoder = new draco.Decoder()
  const mesh = new draco.Mesh()
  try {
    const own = new Int8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    if (decoder.GetEncodedGeometryType(own) !== draco.TRIANGULAR_MESH)
      throw new Error('no compressed mesh of triangles')
    if (!decoder.DecodeArrayToMesh(own, bytes.length, mesh).ok()) throw new Error('damaged')
    const vertexCount = mesh.num_points()
    const cornerCount = 3 * mesh.num_faces()
    const at = draco._malloc(4 * cornerCount)
    const indices = new Uint32Array(cornerCount)
    try {
      if (!decoder.GetTrianglesUInt32Array(mesh, 4 * cornerCount, at)) throw new Error('damaged')
      indices.set(new Uint32Array(draco.HEAPU8.buffer, at, cornerCount))
    } finally {
      draco._free(at)
    }
    const values = new Map<number, Float64Array>()
    for (const [id, width] of widths) {
      const attribute = decoder.GetAttributeByUniqueId(mesh, id)
      if (!attribute || attribute.num_components() !== width) continue
      const into = new draco.DracoFloat32Array()
      try {
        if (!decoder.GetAttributeFloatForAllPoints(mesh, attribute, into)) continue
        const list = new Float64Array(into.size())
        for (let place = 0; place < list.length; place++) list[place] = into.GetValue(place)
        values.set(id, list)
      } finally {
        draco.destroy(into)
      }
    }
    return { indices, vertexCount, values }
  } finally {
    draco.destroy(mesh)
    draco.destroy(decoder)
  }
}

export const NODE_DECODERS: GeometryDecoders = {
  meshopt: (target, count, stride, bytes, mode, filter) =>
    MeshoptDecoder.decodeGltfBuffer(target, count, stride, bytes, mode, filter),
  draco: decodeDraco,
}
