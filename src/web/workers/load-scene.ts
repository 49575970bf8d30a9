import { arrayFromBytes, unpackScene } from '../../core/scene/pack-scene.ts'
import type { Scene } from '../../core/scene/scene.ts'
import { sceneSchema } from '../../contract/api.ts'

/** Fetches a scene's document and its arrays; each array once. */
export async function loadScene(sceneId: string, progress: (share: number) => void): Promise<Scene> {
  const answer = await fetch(`/api/scenes/${sceneId}`)
  if (!answer.ok) throw new Error('The model is not there any more.')
  const stored = sceneSchema.parse(await answer.json())
  const hashes = [...new Set(stored.arrays.map((array) => array.hash))]
  const loaded = new Map<string, Uint8Array>()
  let next = 0
  const fetchSome = async (): Promise<void> => {
    while (next < hashes.length) {
      const hash = hashes[next++]!
      const blob = await fetch(`/api/blobs/${hash}`)
      if (!blob.ok) throw new Error('A part of the model is not there any more.')
      loaded.set(hash, new Uint8Array(await blob.arrayBuffer()))
      progress(loaded.size / hashes.length)
    }
  }
  await Promise.all(Array.from({ length: 4 }, fetchSome))
  return unpackScene({
    document: stored.document,
    arrays: stored.arrays.map(({ hash, type }) => arrayFromBytes(type, loaded.get(hash)!)),
  })
}
