/** The hand in the flat view: takes hold of what is chosen, places it, and lets it go. */
import { createMeshFacts } from '../../core/mesh/relations/mesh-facts.ts'
import { islandsInSet, type LaidIsland } from '../../core/uv/islands/laid-island.ts'
import { pullIsland, type Pull } from '../../core/uv/islands/pull-island.ts'
import { gripOf, placedAt, placingOf, type Gripped, type Hold } from './flat-grip.ts'
import { createGripDrawing } from './grip-drawing.ts'
import type { LoadedModel } from './loaded-model.ts'
import type { LoadedPart } from './loaded-part.ts'
import type { ViewState } from './view-state.ts'
import type { HandPlacing } from './viewer-messages.ts'

/** Pixels within which what is held snaps. */
const SNAP = 7

/** Islands that give way while corners of them are drawn. */
interface Pulled {
  readonly part: LoadedPart
  readonly island: LaidIsland
  readonly pull: Pull
  readonly dragged: readonly number[]
  /** Of the part's UVs, as drawn. */
  readonly positions: Float32Array
}

export function createFlatHand(state: ViewState) {
  const drawing = createGripDrawing()
  let grip: Gripped | null = null
  let held: { hold: Hold; corner: [number, number]; from: [number, number] } | null = null
  let placing: HandPlacing | null = null
  let pulled: readonly Pulled[] = []
  let isBehind = false
  let parts: readonly LoadedPart[] = []

  const givesWay = (): boolean => state.settings.placing === 'corners' && state.settings.givesWay !== null

  /** The islands that what is held belongs to, ready to give way. */
  function beginPull(): Pulled[] {
    const reach = state.settings.givesWay
    if (!grip || reach === null || !givesWay()) return []
    return grip.parts.flatMap(({ positions, isGripped }) => {
      const part = parts.find(({ drawn }) => drawn.uvPositions === positions)
      const set = part?.mesh.uvSets[0]
      if (!part || !set) return []
      const facts = createMeshFacts(part.mesh)
      return islandsInSet(facts, set).flatMap((island): Pulled[] => {
        const dragged = new Set<number>()
        eachCorner(island, part, (vertex, uv) => isGripped[uv] && dragged.add(vertex))
        if (dragged.size === 0) return []
        const pull = pullIsland(facts, island, [...dragged], reach, 'leastDistortion')
        return pull ? [{ part, island, pull, dragged: [...dragged], positions: positions.slice() }] : []
      })
    })
  }

  /** One answer: the drawn corners go on, the rest gives way. */
  function pullOn(): void {
    if (!grip || !placing) return
    const [own, now] = [grip, placing]
    isBehind = false
    for (const { part, island, pull, dragged, positions } of pulled) {
      const targets = new Float64Array(2 * dragged.length)
      dragged.forEach((vertex, at) =>
        targets.set(placedAt(own, now, island.flat[2 * vertex]!, island.flat[2 * vertex + 1]!), 2 * at),
      )
      const { flat, left } = pull.to(targets, 1)
      if (left > 0) isBehind = true
      eachCorner(island, part, (vertex, uv) => {
        positions[2 * uv] = flat[2 * vertex]!
        positions[2 * uv + 1] = flat[2 * vertex + 1]!
      })
    }
  }

  return {
    group: drawing.group,
    /** What is chosen can be held, where the page works on it. */
    take(model: LoadedModel): void {
      parts = model.parts
      const chosen = state.highlights.flatMap((item) => {
        const part = item.chosen && model === state.models[item.slot] ? model.partOf(item.node) : null
        return part ? [{ ...item, mesh: part.mesh, positions: part.drawn.uvPositions }] : []
      })
      const { placing: what } = state.settings
      grip = what && chosen.length ? gripOf(chosen, what === 'islands') : null
      held = null
      placing = null
      pulled = []
      drawing.build(grip, model.parts, givesWay())
    },
    /** The hand goes down: on the frame of what is chosen it holds that. @param pixel UV units. */
    grab(at: [number, number], pixel: number): void {
      const found = drawing.at(...at, pixel)
      held = found && { ...found, from: at }
      placing = null
      pulled = held?.hold === 'move' ? beginPull() : []
    },
    /** @returns whether something is held. */
    drag(to: [number, number], shown: readonly LoadedPart[], free: boolean, pixel: number): boolean {
      if (!held || !grip) return false
      const others = shown.map(({ drawn }) => ({
        positions: drawn.uvPositions,
        isGripped: grip!.parts.find(({ positions }) => positions === drawn.uvPositions)?.isGripped ?? null,
      }))
      placing = placingOf(grip, held.hold, held.corner, held.from, to, others, free ? 0 : SNAP * pixel)
      isBehind = pulled.length > 0
      return true
    },
    /** Where what was held is to lie; null where nothing was, or it didn't move. */
    release(): HandPlacing | null {
      const done = held ? placing : null
      held = null
      placing = null
      pulled = []
      return done
    },
    /** @returns whether there is more to draw soon. */
    draw(pixel: number): boolean {
      if (isBehind && pulled.length) pullOn()
      drawing.update(
        placing,
        pixel,
        placing ? new Map(pulled.map(({ part, positions }) => [part.drawn.uvPositions, positions])) : null,
      )
      return isBehind && pulled.length > 0
    },
  }
}

/** Every corner of an island: its vertex in the net, and its UV in the part's first set. */
function eachCorner(
  { net }: LaidIsland,
  { mesh }: LoadedPart,
  visit: (vertex: number, uv: number) => void,
): void {
  const { indices } = mesh.uvSets[0]!
  for (let at = 0; at < net.faces.length; at++) {
    const start = mesh.faceOffsets[net.faces[at]!]! - net.faceStarts[at]!
    for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
      const uv = indices[start + k]!
      if (uv >= 0) visit(net.vertices[k]!, uv)
    }
  }
}
