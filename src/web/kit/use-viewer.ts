import { onBeforeUnmount, ref, shallowRef } from 'vue'
import ViewerWorker from '../workers/viewer.worker.ts?worker'
import type { FromViewer, HandPlacing, Slot, ToViewer, ViewName } from '../viewport/viewer-messages.ts'

export type Picked = Extract<FromViewer, { type: 'picked' }>

/** A viewer with its worker, for as long as the component lives. */
export function useViewer(
  onPicked: (picked: Picked) => void,
  onPlaced: (placing: HandPlacing) => void = () => {},
) {
  const worker = new ViewerWorker()
  const progress = shallowRef<{ slot: Slot; share: number; stage: string } | null>(null)
  const failure = ref<string | null>(null)
  const loadedSlots = ref<Slot[]>([])
  /** Of lit models: how far apart the two look as they stand. */
  const apart = shallowRef<Extract<FromViewer, { type: 'apart' }>['apart']>(null)
  const send = (message: ToViewer, transfer: Transferable[] = []): void =>
    worker.postMessage(message, transfer)
  worker.onmessage = (event: MessageEvent<FromViewer>) => {
    const message = event.data
    if (message.type === 'progress') progress.value = message
    else if (message.type === 'loaded') {
      progress.value = null
      loadedSlots.value = [...new Set([...loadedSlots.value, message.slot])]
    } else if (message.type === 'apart') apart.value = message.apart
    else if (message.type === 'picked') onPicked(message)
    else if (message.type === 'placed') onPlaced(message.placing)
    else if (message.type === 'normals') {
      askedNormals.get(message.id)?.(message.pixels)
      askedNormals.delete(message.id)
    } else if (message.type === 'lengths') {
      asked.get(message.id)?.(message.lengths)
      asked.delete(message.id)
    } else if (message.type === 'failed') {
      progress.value = null
      failure.value = message.text
    }
  }
  worker.onerror = (event) => {
    failure.value = `The view stopped: ${event.message}`
  }
  const asked = new Map<number, (lengths: Float64Array | null) => void>()
  let nextId = 1
  /** Lengths of a part's edges, the file's unit; null where the part is not there. */
  const edgeLengths = (node: number): Promise<Float64Array | null> =>
    new Promise((resolve) => {
      asked.set(nextId, resolve)
      send({ type: 'lengths', id: nextId++, node })
    })
  const askedNormals = new Map<number, (pixels: Uint8ClampedArray<ArrayBuffer> | null) => void>()
  /** A piece of a map of normals of what came back, RGBA from the top, green up; null where there is none. */
  const normalsOf = (material: number, size: number): Promise<Uint8ClampedArray<ArrayBuffer> | null> =>
    new Promise((resolve) => {
      askedNormals.set(nextId, resolve)
      send({ type: 'normals', id: nextId++, material, size })
    })
  const observers: ResizeObserver[] = []

  /** @param flat null: the solid view alone. */
  function attach(solid: HTMLCanvasElement, flat: HTMLCanvasElement | null, lit = false): void {
    const solidCanvas = solid.transferControlToOffscreen()
    const flatCanvas = flat?.transferControlToOffscreen() ?? null
    send({ type: 'init', solid: solidCanvas, flat: flatCanvas, lit }, [
      solidCanvas,
      ...(flatCanvas ? [flatCanvas] : []),
    ])
    for (const [view, canvas] of [
      ['solid', solid],
      ['flat', flat],
    ] as const) {
      if (!canvas) continue
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect
        send({ type: 'resize', view, width, height, ratio: Math.min(devicePixelRatio, 2) })
      })
      observer.observe(canvas)
      observers.push(observer)
      listen(view, canvas)
    }
  }

  /** Left drags orbit (or move the flat view), with Shift, right or middle they move; a click without a drag picks. */
  function listen(view: ViewName, canvas: HTMLCanvasElement): void {
    let held: { x: number; y: number; moved: number; pan: boolean } | null = null
    const placeIn = (event: MouseEvent): { x: number; y: number } => {
      const box = canvas.getBoundingClientRect()
      return { x: event.clientX - box.left, y: event.clientY - box.top }
    }
    canvas.addEventListener('pointerdown', (event) => {
      held = { x: event.clientX, y: event.clientY, moved: 0, pan: event.shiftKey || event.button !== 0 }
      canvas.setPointerCapture(event.pointerId)
      if (view === 'flat' && !held.pan) send({ type: 'grab', ...placeIn(event) })
    })
    canvas.addEventListener('pointermove', (event) => {
      if (!held) return
      const dx = event.clientX - held.x
      const dy = event.clientY - held.y
      held = { ...held, x: event.clientX, y: event.clientY, moved: held.moved + Math.abs(dx) + Math.abs(dy) }
      if (held.moved > 3)
        send({ type: 'drag', view, dx, dy, pan: held.pan, ...placeIn(event), free: event.altKey })
    })
    canvas.addEventListener('pointerup', (event) => {
      if (view === 'flat') send({ type: 'release' })
      if (held && held.moved <= 3) send({ type: 'pick', view, ...placeIn(event), add: event.shiftKey })
      held = null
    })
    canvas.addEventListener('contextmenu', (event) => event.preventDefault())
    canvas.addEventListener(
      'wheel',
      (event) => {
        event.preventDefault()
        const steps = Math.max(-3, Math.min(3, event.deltaY / 60))
        send({ type: 'zoom', view, ...placeIn(event), steps })
      },
      { passive: false },
    )
    canvas.addEventListener('keydown', (event) => {
      const turn: Record<string, [number, number]> = {
        ArrowLeft: [-16, 0],
        ArrowRight: [16, 0],
        ArrowUp: [0, -16],
        ArrowDown: [0, 16],
      }
      const move = turn[event.key]
      if (move) {
        event.preventDefault()
        send({ type: 'drag', view, dx: move[0], dy: move[1], pan: event.shiftKey, x: 0, y: 0, free: false })
      } else if (event.key === '+' || event.key === '-') {
        const box = canvas.getBoundingClientRect()
        send({ type: 'zoom', view, x: box.width / 2, y: box.height / 2, steps: event.key === '+' ? -1 : 1 })
      }
    })
  }

  onBeforeUnmount(() => {
    for (const observer of observers) observer.disconnect()
    worker.terminate()
  })
  return { attach, send, edgeLengths, normalsOf, progress, failure, loadedSlots, apart }
}
