/**
 * The viewer's worker: loads models, prepares their buffers and draws both views on canvases that the page
 * has handed over, so that a million polygons never hold up the page.
 */
import type {
  FromViewer,
  Slot,
  ToBenchFromViewer,
  ToViewer,
  ToViewerFromBench,
} from '../viewport/viewer-messages.ts'
import { createFlatView } from '../viewport/flat-view.ts'
import { liveliestSquare } from '../../core/image/normal-relief.ts'
import type { Scene } from '../../core/scene/scene.ts'
import { loadModel } from '../viewport/load-model.ts'
import type { LoadedModel } from '../viewport/loaded-model.ts'
import { createSolidView } from '../viewport/solid-view.ts'
import { createViewState } from '../viewport/view-state.ts'

const state = createViewState()
const tell = (message: FromViewer): void => postMessage(message)
let solid: ReturnType<typeof createSolidView> | null = null
let flat: ReturnType<typeof createFlatView> | null = null
/** The newest load of each slot; what an older one brings is thrown away. */
const loads = { master: 0, returned: 0 }
let queued = false
let isLit = false
/** Milliseconds of rest after which two looks are compared. */
const REST = 200
let resting: ReturnType<typeof setTimeout> | undefined
const frames = { solid: 0, flat: 0 }

function redraw(): void {
  if (queued) return
  queued = true
  requestAnimationFrame(() => {
    queued = false
    if (solid?.draw()) tell({ type: 'drawn', view: 'solid', frames: ++frames.solid })
    if (flat?.draw()) tell({ type: 'drawn', view: 'flat', frames: ++frames.flat })
    if (flat?.goesOn()) redraw()
    if (!isLit) return
    clearTimeout(resting)
    resting = setTimeout(() => tell({ type: 'apart', apart: solid?.compare() ?? null }), REST)
  })
}

/** The scene that a slot shows when there is no draft. */
const stored: { master: string | null; returned: string | null } = { master: null, returned: null }
/** The scene fetched last, for the other slot and for the Bench: nothing is fetched twice. */
let fetched: { sceneId: string; scene: Promise<Scene | null> } | null = null

/** When the master is there: what came back is drawn in its unit and axes, so that both can be laid over each other. */
let masterReady: Promise<void> = Promise.resolve()

async function load(slot: Slot, source: string | Scene | null): Promise<void> {
  const ticket = ++loads[slot]
  // a draft takes the model's place when it is ready, so that the view doesn't blink
  const inPlace = typeof source !== 'string' && source !== null
  const put = (model: LoadedModel | null): void => {
    if (state.models[slot] !== model) state.models[slot]?.dispose()
    state.models[slot] = model
    solid?.modelChanged(slot)
    redraw()
  }
  if (!inPlace) {
    put(null)
    flat?.modelChanged()
  }
  if (!source) return
  if (slot === 'returned') await masterReady
  const wanted = (): boolean => ticket === loads[slot]
  if (!wanted()) return
  let model: LoadedModel | null = null
  let isFramed = false
  const known = typeof source === 'string' && fetched?.sceneId === source ? await fetched.scene : null
  if (!wanted()) return
  const loading = loadModel(
    known ?? source,
    slot === 'returned' ? (state.models.master?.space ?? null) : null,
    isLit,
    {
      wanted,
      progress: (share, stage) => tell({ type: 'progress', slot, share, stage }),
      begun(begun) {
        model = begun
        if (inPlace) return
        put(begun)
        if (state.needsFraming && begun.bounds) {
          state.needsFraming = false
          isFramed = true
          solid?.frame(null)
        }
      },
      more() {
        if (!inPlace && wanted()) put(model)
      },
    },
  )
  if (typeof source === 'string' && !known) fetched = { sceneId: source, scene: loading.catch(() => null) }
  const scene = await loading
  if (!scene || !model || !wanted()) return
  put(model)
  flat?.modelChanged()
  // which tiles there are is known when all parts are
  if (isFramed) flat?.frame()
  redraw()
  tell({ type: 'loaded', slot, faceCount: (model as LoadedModel).faceCount })
}

/** In double precision, along the polygons' own edges. */
function edgeLengths(node: number): Float64Array | null {
  const part = state.models.master?.partOf(node)
  if (!part) return null
  const edges = part.drawn.edges()
  const { points } = part.mesh
  const lengths = new Float64Array(edges.length / 2)
  for (let edge = 0; edge < lengths.length; edge++) {
    const a = 3 * edges[2 * edge]!
    const b = 3 * edges[2 * edge + 1]!
    lengths[edge] = Math.hypot(
      points[a]! - points[b]!,
      points[a + 1]! - points[b + 1]!,
      points[a + 2]! - points[b + 2]!,
    )
  }
  return lengths
}

/** The liveliest piece of a material's map of normals, as what came back has it. */
function normalsPiece(material: number, size: number): Uint8ClampedArray<ArrayBuffer> | null {
  const image = state.models.returned?.materials.normalsOf(material)
  if (!image) return null
  const { width, height } = image
  const canvas = new OffscreenCanvas(Math.max(width, size), Math.max(height, size))
  const context = canvas.getContext('2d')!
  // the image lies V up: its last row is the top one
  context.setTransform(1, 0, 0, -1, 0, height)
  context.drawImage(image, 0, 0)
  const { data } = context.getImageData(0, 0, width, height)
  const [column, row] = liveliestSquare(data, width, height, size)
  return context.getImageData(column, row, size, size).data
}

/** What the Bench made of the model; null: nothing. */
let draft: Scene | null = null
let isBefore = false
const show = (source: string | Scene | null): Promise<void> =>
  load('master', source).catch((error: Error) => tell({ type: 'failed', text: error.message }))

/** The model as it was fetched, so that it takes a draft's place without a blink; null where it isn't there. */
const storedMaster = async (): Promise<Scene | null> =>
  fetched && fetched.sceneId === stored.master ? fetched.scene : null

/** The model without the draft, in its place. */
async function showBefore(on: boolean): Promise<void> {
  if (!draft || on === isBefore) return
  isBefore = on
  if (!on) return show(draft)
  const scene = await storedMaster()
  if (isBefore && scene) await show(scene)
}

/** The Bench's worker: its drafts are drawn, and it is given the model that was fetched for the views. */
function listenToBench(port: MessagePort): void {
  port.onmessage = async ({ data }: MessageEvent<ToViewerFromBench>) => {
    if (data.type === 'want') {
      const scene = fetched?.sceneId === data.sceneId ? await fetched.scene : null
      // copied on the way, between workers: the page is not held up
      port.postMessage({ sceneId: data.sceneId, scene } satisfies ToBenchFromViewer)
      return
    }
    draft = data.scene
    isBefore = false
    await show(draft ?? (await storedMaster()) ?? stored.master)
  }
}

onmessage = (event: MessageEvent<ToViewer>) => {
  const message = event.data
  switch (message.type) {
    case 'init':
      try {
        isLit = message.lit
        solid = createSolidView(message.solid, state, isLit)
        flat = message.flat && createFlatView(message.flat, state)
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
      listenToBench(message.port)
      return
    case 'lengths': {
      const lengths = edgeLengths(message.node)
      postMessage({ type: 'lengths', id: message.id, lengths } satisfies FromViewer, {
        transfer: lengths ? [lengths.buffer] : [],
      })
      return
    }
    case 'normals':
      tell({ type: 'normals', id: message.id, pixels: normalsPiece(message.material, message.size) })
      return
    case 'measure':
      if (solid) tell({ type: 'measured', milliseconds: solid.measure(message.times) })
      return
    case 'drag':
      if (message.view === 'solid') solid?.drag(message.dx, message.dy, message.pan)
      else flat?.drag(message)
      break
    case 'grab':
      flat?.grab(message.x, message.y)
      return
    case 'release': {
      const placing = flat?.release() ?? null
      if (placing) tell({ type: 'placed', placing })
      break
    }
    case 'before':
      showBefore(message.on)
      return
    case 'zoom':
      ;(message.view === 'solid' ? solid : flat)?.zoom(message.x, message.y, message.steps)
      break
    case 'pick': {
      const picked = (message.view === 'solid' ? solid : flat)?.pick(message.x, message.y) ?? null
      tell({
        type: 'picked',
        node: picked?.node ?? null,
        face: picked?.face ?? null,
        material: picked?.material ?? -1,
        slot: picked?.slot ?? 'master',
        corner: picked?.corner ?? null,
        nearest: picked?.nearest ?? null,
        add: message.add,
      })
      return
    }
  }
  redraw()
}
