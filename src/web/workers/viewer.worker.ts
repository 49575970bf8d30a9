/**
 * The viewer's worker: loads models, prepares their buffers and draws both views on canvases that the page
 * has handed over, so that a million polygons never hold up the page.
 */
import type { FromViewer, ToViewer } from '../viewport/viewer-messages.ts'
import { createFlatView } from '../viewport/flat-view.ts'
import type { Scene } from '../../core/scene/scene.ts'
import { loadModel, type LoadedModel } from '../viewport/loaded-model.ts'
import { createSolidView } from '../viewport/solid-view.ts'
import { createViewState } from '../viewport/view-state.ts'

const state = createViewState()
const tell = (message: FromViewer): void => postMessage(message)
let solid: ReturnType<typeof createSolidView> | null = null
let flat: ReturnType<typeof createFlatView> | null = null
/** The newest load of each slot; what an older one brings is thrown away. */
const loads = { master: 0, returned: 0 }
let queued = false
const frames = { solid: 0, flat: 0 }

function redraw(): void {
  if (queued) return
  queued = true
  requestAnimationFrame(() => {
    queued = false
    if (solid?.draw()) tell({ type: 'drawn', view: 'solid', frames: ++frames.solid })
    if (flat?.draw()) tell({ type: 'drawn', view: 'flat', frames: ++frames.flat })
  })
}

/** The scene that a slot shows when there is no draft. */
const stored: { master: string | null; returned: string | null } = { master: null, returned: null }

/** When the master is there: what came back is drawn in its unit and axes, so that both can be laid over each other. */
let masterReady: Promise<void> = Promise.resolve()

async function load(slot: 'master' | 'returned', source: string | Scene | null): Promise<void> {
  const ticket = ++loads[slot]
  // a draft takes the model's place when it is ready, so that the view doesn't blink
  const inPlace = typeof source !== 'string' && source !== null
  if (!inPlace) {
    state.models[slot]?.dispose()
    state.models[slot] = null
    solid?.modelChanged(slot)
    flat?.modelChanged()
    redraw()
  }
  if (!source) return
  if (slot === 'returned') await masterReady
  const model: LoadedModel | null = await loadModel(
    source,
    slot === 'returned' ? (state.models.master?.scene.space ?? null) : null,
    (share, stage) => tell({ type: 'progress', slot, share, stage }),
    () => ticket === loads[slot],
  )
  if (!model || ticket !== loads[slot]) return
  if (inPlace) state.models[slot]?.dispose()
  state.models[slot] = model
  if (state.needsFraming) {
    state.needsFraming = false
    solid?.frame(null)
  }
  // pieces go to the graphics memory a few a frame
  while (ticket === loads[slot] && model.uploadNext()) {
    solid?.modelChanged(slot)
    redraw()
    await new Promise((resolve) => requestAnimationFrame(resolve))
  }
  solid?.modelChanged(slot)
  flat?.modelChanged()
  redraw()
  tell({ type: 'loaded', slot, faceCount: model.faceCount })
}

onmessage = (event: MessageEvent<ToViewer>) => {
  const message = event.data
  switch (message.type) {
    case 'init':
      try {
        solid = createSolidView(message.solid, state)
        flat = createFlatView(message.flat, state)
      } catch (error) {
        tell({ type: 'failed', text: `This browser can’t draw the model: ${(error as Error).message}` })
      }
      break
    case 'resize':
      ;(message.view === 'solid' ? solid : flat)?.resize(message.width, message.height, message.ratio)
      break
    case 'load':
      stored[message.slot] = message.sceneId
      {
        const loading = load(message.slot, message.sceneId).catch((error: Error) =>
          tell({ type: 'failed', text: error.message }),
        )
        if (message.slot === 'master') masterReady = loading
      }
      return
    case 'settings':
      state.settings = message.settings
      solid?.settingsChanged()
      flat?.modelChanged()
      break
    case 'select':
      state.selectedNode = message.node
      state.selectedFace = message.face
      solid?.selectionChanged()
      flat?.modelChanged()
      break
    case 'highlight':
      state.highlights = message.items
      solid?.highlightChanged()
      flat?.modelChanged()
      break
    case 'frame':
      solid?.frame(message.node)
      flat?.frame()
      break
    case 'focus':
      solid?.focus()
      flat?.focus()
      break
    case 'ruler':
      state.ruler = message.ends
      solid?.highlightChanged()
      break
    case 'port':
      message.port.onmessage = (draft: MessageEvent<{ scene: Scene | null }>) =>
        void load('master', draft.data.scene ?? stored.master).catch((error: Error) =>
          tell({ type: 'failed', text: error.message }),
        )
      return
    case 'drag':
      if (message.view === 'solid') solid?.drag(message.dx, message.dy, message.pan)
      else flat?.drag(message.dx, message.dy)
      break
    case 'zoom':
      ;(message.view === 'solid' ? solid : flat)?.zoom(message.x, message.y, message.steps)
      break
    case 'pick': {
      const picked = (message.view === 'solid' ? solid : flat)?.pick(message.x, message.y) ?? null
      tell({
        type: 'picked',
        node: picked?.node ?? null,
        face: picked?.face ?? null,
        corner: picked?.corner ?? null,
        add: message.add,
      })
      return
    }
  }
  redraw()
}
