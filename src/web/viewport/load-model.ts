import type { Mesh } from '../../core/scene/mesh.ts'
import type { Scene, Space } from '../../core/scene/scene.ts'
import { sameSpace } from '../../core/scene/space.ts'
import { loadScene } from '../workers/load-scene.ts'
import { boundsOfScene, createModel, inSpace, type LoadedModel } from './loaded-model.ts'

export interface ModelListener {
  /** There is a model, still without parts. */
  readonly begun: (model: LoadedModel) => void
  /** More of it can be drawn. */
  readonly more: () => void
  readonly progress: (share: number, stage: string) => void
  /** Asked between parts; when it says no, the work stops. */
  readonly wanted: () => boolean
}

/** The load is not wanted any more. */
class Unwanted extends Error {}

/** Milliseconds of preparing between which messages are let in. */
const SLICE = 25

/**
 * Loads and prepares a model; parts can be drawn as they come.
 * @param source a stored scene's id, or the scene itself.
 * @param space unit and axes to draw it in; null: its own.
 * @param lit its materials are glTF's, and drawn as they are.
 * @returns the scene as it is stored; null where the load was not wanted any more.
 */
export async function loadModel(
  source: string | Scene,
  space: Space | null,
  lit: boolean,
  listener: ModelListener,
): Promise<Scene | null> {
  let paused = performance.now()
  const channel = new MessageChannel()
  channel.port1.start()
  /** Lets messages in between parts: without the least wait that timers have. */
  async function breathe(): Promise<void> {
    if (performance.now() - paused > SLICE) {
      await new Promise((resolve) => {
        channel.port1.addEventListener('message', resolve, { once: true })
        channel.port2.postMessage(null)
      })
      paused = performance.now()
    }
    if (!listener.wanted()) throw new Unwanted()
  }

  async function prepareWhole(scene: Scene): Promise<LoadedModel> {
    const model = createModel(scene, boundsOfScene(scene), lit)
    listener.begun(model)
    for (const [index, node] of scene.nodes.entries()) {
      if (node.mesh < 0) continue
      model.add(index, scene.meshes[node.mesh]!)
      if (model.flush(false)) listener.more()
      listener.progress(index / scene.nodes.length, 'Preparing')
      await breathe()
    }
    return model
  }

  async function finish(model: LoadedModel, scene: Scene): Promise<void> {
    model.flush(true)
    listener.more()
    await model.materials.loadMaps(scene)
    if (!listener.wanted()) throw new Unwanted()
    listener.more()
  }

  try {
    listener.progress(0, 'Loading')
    if (typeof source !== 'string') {
      await finish(await prepareWhole(space ? inSpace(source, space) : source), source)
      return source
    }
    let model: LoadedModel | null = null
    const nodesOf = new Map<number, number[]>()
    const scene = await loadScene(source, {
      outline(outline, bounds) {
        for (const [index, { mesh }] of outline.nodes.entries())
          if (mesh >= 0) nodesOf.set(mesh, [...(nodesOf.get(mesh) ?? []), index])
        // in another unit or other axes the whole has to be there first
        if (space && !sameSpace(outline.space, space)) return
        model = createModel(outline, bounds, lit)
        listener.begun(model)
      },
      async mesh(index: number, mesh: Mesh) {
        if (model)
          for (const node of nodesOf.get(index) ?? []) {
            model.add(node, mesh)
            if (model.flush(false)) listener.more()
          }
        await breathe()
      },
      progress: (share) => listener.progress(share, 'Loading'),
    })
    if (!listener.wanted()) return null
    await finish(model ?? (await prepareWhole(space ? inSpace(scene, space) : scene)), scene)
    return scene
  } catch (error) {
    if (error instanceof Unwanted) return null
    throw error
  } finally {
    channel.port1.close()
  }
}
