/** A stored scene, fetched once as one stream; parts are there before the whole is. */
import { createStreamDecoder } from '../../contract/scene-stream.ts'
import type { Box } from '../../core/base/math/box.ts'
import type { Mesh } from '../../core/scene/mesh.ts'
import {
  arrayFromBytes,
  arraysIn,
  unpackPlain,
  unpackScene,
  type PackedArray,
} from '../../core/scene/pack-scene.ts'
import type { Scene } from '../../core/scene/scene.ts'

/** What is told on the way. */
export interface SceneListener {
  /** Everything but the arrays: nodes, names, materials, unit and axes; its meshes are empty yet. */
  readonly outline: (outline: Scene, bounds: Box | null) => void | Promise<void>
  /** A mesh is there with all its arrays. */
  readonly mesh: (index: number, mesh: Mesh) => void | Promise<void>
  readonly progress: (share: number) => void
}

interface PackedOutline {
  readonly meshes: readonly unknown[]
}

/** @throws Error with words for the artist where the scene is gone or the line breaks. */
export async function loadScene(sceneId: string, listener: SceneListener): Promise<Scene> {
  const answer = await fetch(`/api/scenes/${sceneId}/stream`)
  if (!answer.ok || !answer.body) throw new Error('The model is not there any more.')
  const decoder = createStreamDecoder()
  const arrays: PackedArray[] = []
  /** Arrays that each mesh still waits for, and the meshes that wait for each array. */
  const missing: number[] = []
  const waiting = new Map<number, number[]>()
  let byteCount = 0
  let arrived = 0
  let outlined = false
  const reader = answer.body.getReader()
  const meshAt = (index: number): Mesh =>
    unpackPlain<Mesh>({ document: (decoder.head()!.document as PackedOutline).meshes[index], arrays })

  async function outline(): Promise<void> {
    const { document, bounds, arrays: sheets } = decoder.head()!
    outlined = true
    for (const { type, length } of sheets) byteCount += length * (type === 'f64' ? 8 : type === 'u8' ? 1 : 4)
    await listener.outline(unpackPlain<Scene>({ document, arrays: [] }), bounds)
    for (const [index, packed] of (document as PackedOutline).meshes.entries()) {
      const needed = arraysIn(packed)
      missing[index] = needed.size
      for (const place of needed) {
        const held = waiting.get(place)
        if (held) held.push(index)
        else waiting.set(place, [index])
      }
      if (needed.size === 0) await listener.mesh(index, meshAt(index))
    }
  }

  async function readAll(): Promise<void> {
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      decoder.push(value)
      if (!outlined && decoder.head()) await outline()
      for (const { index, bytes } of decoder.take()) {
        arrays[index] = arrayFromBytes(decoder.head()!.arrays[index]!.type, bytes)
        arrived += bytes.length
        for (const mesh of waiting.get(index) ?? [])
          if (--missing[mesh]! === 0) await listener.mesh(mesh, meshAt(mesh))
      }
      listener.progress(byteCount ? arrived / byteCount : 1)
    }
  }

  try {
    await readAll()
  } catch (error) {
    // whoever listens may have had enough: the rest need not come
    void reader.cancel().catch(() => {})
    throw error
  }
  const head = decoder.head()
  if (!head || !decoder.isAtEnd()) throw new Error('A part of the model did not come. Reload the page.')
  return unpackScene({ document: head.document, arrays })
}
