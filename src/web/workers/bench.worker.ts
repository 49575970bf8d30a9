/** The Bench's worker: checks and steps on the model on screen, off the page's thread. */
import { createBench, type Bench } from '../../app/bench.ts'
import { StepRefusal } from '../../core/steps/step.ts'
import type { BenchRequestName, BenchRequests, FromBench, ToBench } from '../features/bench/bench-messages.ts'
import type { Scene } from '../../core/scene/scene.ts'
import type { ToBenchFromViewer, ToViewerFromBench } from '../viewport/viewer-messages.ts'
import { loadScene } from './load-scene.ts'

let bench: Bench | null = null
/** Leads to the viewer's worker, which draws the draft and has fetched the model already. */
let viewer: MessagePort | null = null
const tell = (message: FromBench): void => postMessage(message)

const progress = (): ((share: number, stage: string) => void) => {
  let told = 0
  return (share, stage) => {
    const now = performance.now()
    if (now - told < 80) return
    told = now
    tell({ type: 'progress', share, stage })
  }
}

/** The model that the views show; null where they have another. */
const fromViewer = (sceneId: string): Promise<Scene | null> =>
  new Promise((resolve) => {
    const line = viewer
    if (!line) return resolve(null)
    const answered = ({ data }: MessageEvent<ToBenchFromViewer>): void => {
      if (data.sceneId !== sceneId) return
      line.removeEventListener('message', answered)
      resolve(data.scene)
    }
    line.addEventListener('message', answered)
    line.postMessage({ type: 'want', sceneId } satisfies ToViewerFromBench)
  })

const open = (): Bench => {
  if (!bench) throw new Error('The model is not loaded yet.')
  return bench
}

const HANDLERS: {
  [Name in BenchRequestName]: (
    ask: BenchRequests[Name]['ask'],
  ) => BenchRequests[Name]['answer'] | Promise<BenchRequests[Name]['answer']>
} = {
  async open({ sceneId }) {
    const report = progress()
    report(0, 'Loading')
    const scene =
      (await fromViewer(sceneId)) ??
      (await loadScene(sceneId, {
        outline: () => {},
        mesh: () => {},
        progress: (share) => report(share, 'Loading'),
      }))
    bench = createBench(scene)
    return { inspection: bench.inspect() }
  },
  setSteps({ steps }) {
    let refusal: string | null = null
    const before = open().scene()
    try {
      open().setSteps(steps)
    } catch (error) {
      if (!(error instanceof StepRefusal)) throw error
      refusal = error.message
    }
    const scene = open().scene()
    // copied on the way, between workers: the page is not held up
    if (scene !== before)
      viewer?.postMessage({
        type: 'draft',
        scene: open().records().length ? scene : null,
      } satisfies ToViewerFromBench)
    return { records: open().records(), inspection: open().inspect(), refusal }
  },
  preview: ({ step }) => open().preview(step),
  check({ settings }) {
    const findings = open().check(settings, progress())
    return { findings, runs: open().checkRuns() }
  },
  places: ({ index, place }) => open().places(index, place),
  grow: ({ clicked, kind }) => open().grow(clicked, kind),
  uvField: ({ kind, nodes }) => open().uvField(kind, nodes),
  layout: (drawing) => open().layout(drawing),
  panels: (wish) => open().panels(wish),
  growth: ({ nodes }) => open().growth(nodes),
}

onmessage = async (event: MessageEvent<ToBench>) => {
  const message = event.data
  if (message.type === 'port') {
    viewer = message.port
    viewer.start()
    return
  }
  const { id, name, ask } = message
  try {
    const handle = HANDLERS[name] as (ask: unknown) => unknown
    tell({ type: 'answer', id, answer: await handle(ask) })
  } catch (error) {
    tell({ type: 'failed', id, text: (error as Error).message })
  }
}
