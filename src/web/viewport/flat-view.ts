/** The flat view: UVs over the tile grid and the material's map. */
import * as THREE from 'three'
import { placeHighlight, uvHeat } from '../../core/view/highlight.ts'
import { faceCountOf } from '../../core/scene/mesh.ts'
import type { LoadedModel } from './loaded-model.ts'
import type { LoadedPart } from './loaded-part.ts'
import type { Picked } from './solid-view.ts'
import { checkerTexture } from './checker.ts'
import { createFlatHand } from './flat-hand.ts'
import { nearestOnFace } from './picking.ts'
import { tileLabels } from './tile-labels.ts'
import { thickLines } from './thick-lines.ts'
import { VIEW_COLORS } from './view-colors.ts'
import type { ViewState } from './view-state.ts'

/** Parts drawn together without a selection; more would only be a tangle. */
const MOST_UV_LINES = 4000000

/** The parts' UV lines as one drawing, as many parts as are worth looking at together. */
function joinLines(parts: readonly LoadedPart[]): { positions: Float32Array; lines: Uint32Array } {
  const [only] = parts.length === 1 ? parts : []
  if (only) return { positions: only.drawn.uvPositions, lines: only.drawn.uvLines() }
  let uvLength = 0
  let lineLength = 0
  const taken: LoadedPart[] = []
  for (const part of parts) {
    const { length } = part.drawn.uvLines()
    if (lineLength + length > MOST_UV_LINES) break
    taken.push(part)
    uvLength += part.drawn.uvPositions.length
    lineLength += length
  }
  const positions = new Float32Array(uvLength)
  const lines = new Uint32Array(lineLength)
  let uv = 0
  let line = 0
  for (const { drawn } of taken) {
    positions.set(drawn.uvPositions, uv)
    for (const end of drawn.uvLines()) lines[line++] = end + uv / 2
    uv += drawn.uvPositions.length
  }
  return { positions, lines }
}

const EVERYWHERE = new THREE.Sphere(new THREE.Vector3(), Infinity)

export function createFlatView(canvas: OffscreenCanvas, state: ViewState) {
  const renderer = new THREE.WebGLRenderer({ canvas, antialias: true })
  renderer.setClearColor(VIEW_COLORS.ground)
  const scene = new THREE.Scene()
  const camera = new THREE.OrthographicCamera(-0.1, 1.1, 1.1, -0.1, -10, 10)
  const content = new THREE.Group()
  const hand = createFlatHand(state)
  const labels = tileLabels()
  scene.add(content, hand.group, labels.group)
  const center = new THREE.Vector2(0.5, 0.5)
  /** UV units across the shorter side. */
  let span = 1.12
  let width = 1
  let height = 1
  let stale = true
  /** Something is still giving way to the hand. */
  let goesOn = false

  const shownModel = (): LoadedModel | null =>
    state.models[state.settings.shown] ?? state.models.master ?? state.models.returned

  const shownParts = (model: LoadedModel): readonly LoadedPart[] =>
    state.selectedNode === null
      ? model.parts
      : model.parts.filter((part) => part.node === state.selectedNode || model.parts.length === 1)

  /** Adds lines (pairs) or triangles (triples) over UVs; `order` says what lies above what. */
  function add(
    kind: 'lines' | 'triangles',
    positions: Float32Array,
    indices: Uint32Array,
    look: { color: number; opacity: number; order: number },
  ): void {
    if (indices.length === 0) return
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 2))
    geometry.setIndex(new THREE.BufferAttribute(indices, 1))
    // two coordinates have no sphere; nothing is culled here
    geometry.boundingSphere = EVERYWHERE
    const { color, opacity } = look
    const shared = { color, transparent: true, opacity, depthTest: false }
    const drawn =
      kind === 'lines'
        ? new THREE.LineSegments(geometry, new THREE.LineBasicMaterial(shared))
        : new THREE.Mesh(geometry, new THREE.MeshBasicMaterial({ ...shared, side: THREE.DoubleSide }))
    drawn.frustumCulled = false
    drawn.renderOrder = look.order
    content.add(drawn)
  }

  /** Columns and rows of tiles that UVs reach, at least the unit tile, at most ten. */
  function reachOf(parts: readonly LoadedPart[]): [columns: number, rows: number] {
    let u1 = 1
    let v1 = 1
    for (const part of parts)
      for (let at = 0; at < part.drawn.uvPositions.length; at += 2) {
        u1 = Math.max(u1, Math.min(10, Math.ceil(part.drawn.uvPositions[at]! - 1e-6)))
        v1 = Math.max(v1, Math.min(10, Math.ceil(part.drawn.uvPositions[at + 1]! - 1e-6)))
      }
    return [u1, v1]
  }

  /** Where UVs begin that lie before the first tile; at most one tile away, for nothing is mapped out there. */
  function startOf(parts: readonly LoadedPart[]): readonly [number, number] {
    let [u0, v0] = [0, 0]
    for (const part of parts)
      for (let at = 0; at < part.drawn.uvPositions.length; at += 2) {
        u0 = Math.max(-1, Math.min(u0, part.drawn.uvPositions[at]!))
        v0 = Math.max(-1, Math.min(v0, part.drawn.uvPositions[at + 1]!))
      }
    return [u0, v0]
  }

  /** The tile grid: every tile that UVs reach, the unit tile strongest. */
  function addGrid(parts: readonly LoadedPart[]): void {
    const [u1, v1] = reachOf(parts)
    labels.show(u1, v1)
    const fine: number[] = []
    for (let step = 1; step < 10; step++)
      if (step !== 0) fine.push(step / 10, 0, step / 10, 1, 0, step / 10, 1, step / 10)
    const tiles: number[] = []
    for (let u = 0; u <= u1; u++) tiles.push(u, 0, u, v1)
    for (let v = 0; v <= v1; v++) tiles.push(0, v, u1, v)
    const range = (length: number): Uint32Array => Uint32Array.from({ length }, (_value, index) => index)
    add('lines', Float32Array.from(fine), range(fine.length / 2), {
      color: 0xffffff,
      opacity: 0.14,
      order: 1,
    })
    add('lines', Float32Array.from(tiles), range(tiles.length / 2), {
      color: 0xffffff,
      opacity: 0.75,
      order: 1,
    })
  }

  /** The base colour map of the part's most used material, under its islands. */
  function addMap(model: LoadedModel, parts: readonly LoadedPart[]): void {
    if (state.settings.checker) return addPlane(checkerTexture(), ...reachOf(parts))
    if (!state.settings.maps || state.selectedNode === null || parts.length !== 1) return
    const counts = new Map<number, number>()
    for (const piece of parts[0]!.drawn.pieces)
      for (const run of piece.runs) counts.set(run.material, (counts.get(run.material) ?? 0) + run.size)
    const [material] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [-1]
    const texture = model.materials.textures.get(material)
    if (!texture) return
    // a map of another set says nothing of these UVs
    const { uvSet } = texture.userData as { uvSet?: string }
    if (uvSet && uvSet !== parts[0]!.mesh.uvSets[0]?.name) return
    // a map of several tiles covers as many squares
    const [columns, rows] = [Math.round(1 / texture.repeat.x), Math.round(1 / texture.repeat.y)]
    addPlane(texture, columns, rows)
  }

  function addPlane(texture: THREE.Texture, columns: number, rows: number): void {
    const geometry = new THREE.PlaneGeometry(columns, rows)
    const { uv } = geometry.attributes
    for (let at = 0; at < uv!.count; at++) uv!.setXY(at, uv!.getX(at) * columns, uv!.getY(at) * rows)
    const plane = new THREE.Mesh(
      geometry,
      new THREE.MeshBasicMaterial({ map: texture, transparent: true, opacity: 0.85, depthTest: false }),
    )
    plane.position.set(columns / 2, rows / 2, 0)
    plane.renderOrder = 0
    content.add(plane)
  }

  function rebuild(): void {
    for (const child of [...content.children]) {
      content.remove(child)
      const drawn = child as THREE.Mesh
      drawn.geometry.dispose()
      ;(drawn.material as THREE.Material).dispose()
    }
    const model = shownModel()
    if (!model) return
    const parts = shownParts(model)
    addMap(model, parts)
    addGrid(parts)
    // islands of several materials lie over each other: faint, until one part is chosen
    const alone = state.selectedNode !== null
    // so many lines would only be a grey field
    const islands = joinLines(alone ? parts : parts.filter((part) => !part.isDense))
    add('lines', islands.positions, islands.lines, {
      color: alone ? 0x063f47 : 0x1d1f24,
      opacity: alone ? 0.85 : 0.22,
      order: 2,
    })
    hand.take(model)
    for (const item of state.highlights) {
      const source = state.models[item.slot]
      const part = source?.partOf(item.node)
      if (!source || !part || source !== model) continue
      if (item.heat) {
        // only parts that are looked at
        if (parts.includes(part)) addHeat(part, item.heat)
        continue
      }
      const placed = placeHighlight(part.mesh, item.element, item.elements)
      add('triangles', part.drawn.uvPositions, placed.uvTriangles, {
        color: item.chosen ? VIEW_COLORS.chosen : VIEW_COLORS.mark,
        opacity: 0.45,
        order: 3,
      })
      if (placed.uvLines.length) {
        const lines = thickLines(part.drawn.uvPositions, 2, placed.uvLines, {
          color: item.chosen ? VIEW_COLORS.chosen : VIEW_COLORS.mark,
          lineWidth: 3,
          opacity: 1,
          depthTest: false,
          width,
          height,
        })
        lines.renderOrder = 4
        content.add(lines)
      }
    }
    if (state.selectedNode !== null && state.selectedFace !== null) {
      const part = model.partOf(state.selectedNode)
      if (part) {
        const { mesh } = part
        if (state.selectedFace < faceCountOf(mesh)) {
          const placed = placeHighlight(mesh, 'faces', Uint32Array.of(state.selectedFace))
          add('triangles', part.drawn.uvPositions, placed.uvTriangles, {
            color: VIEW_COLORS.face,
            opacity: 0.9,
            order: 5,
          })
        }
      }
    }
  }

  function refresh(): void {
    stale = false
    rebuild()
  }

  function addHeat(part: LoadedPart, heat: Float32Array): void {
    const { positions, colors } = uvHeat(part.mesh, heat, part.drawn.uvPositions)
    if (positions.length === 0) return
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 2))
    geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3))
    geometry.boundingSphere = EVERYWHERE
    const drawn = new THREE.Mesh(
      geometry,
      new THREE.MeshBasicMaterial({
        vertexColors: true,
        depthTest: false,
        side: THREE.DoubleSide,
        transparent: true,
      }),
    )
    drawn.frustumCulled = false
    drawn.renderOrder = 1.5
    content.add(drawn)
  }

  /** UV units of one pixel. */
  const pixel = (): number => span / Math.min(width, height)

  const toUv = (x: number, y: number): [number, number] => {
    const scale = span / Math.min(width, height)
    return [center.x + (x - width / 2) * scale, center.y - (y - height / 2) * scale]
  }

  return {
    resize(nextWidth: number, nextHeight: number, ratio: number): void {
      width = Math.max(1, nextWidth)
      height = Math.max(1, nextHeight)
      renderer.setPixelRatio(ratio)
      renderer.setSize(width, height, false)
      stale = true
    },
    modelChanged(): void {
      stale = true
    },
    /** Brings all of it into view: the tiles, and what lies left of them or below. */
    frame(): void {
      const model = shownModel()
      const [columns, rows] = model ? reachOf(model.parts) : [1, 1]
      const [u0, v0] = model ? startOf(model.parts) : [0, 0]
      center.set((u0 + columns) / 2, (v0 + rows) / 2)
      span = Math.max(columns - u0, rows - v0) + 0.12
    },
    /** Brings what is marked close. */
    focus(): void {
      let u0 = Infinity
      let v0 = Infinity
      let u1 = -Infinity
      let v1 = -Infinity
      for (const item of state.highlights) {
        const model = state.models[item.slot]
        const part = model?.partOf(item.node)
        if (!part || item.chosen) continue
        const placed = placeHighlight(part.mesh, item.element, item.elements)
        for (const list of [placed.uvLines, placed.uvTriangles])
          for (const uv of list) {
            u0 = Math.min(u0, part.drawn.uvPositions[2 * uv]!)
            u1 = Math.max(u1, part.drawn.uvPositions[2 * uv]!)
            v0 = Math.min(v0, part.drawn.uvPositions[2 * uv + 1]!)
            v1 = Math.max(v1, part.drawn.uvPositions[2 * uv + 1]!)
          }
      }
      if (!(u1 >= u0)) return
      center.set((u0 + u1) / 2, (v0 + v1) / 2)
      span = Math.max(0.05, 1.6 * Math.max(u1 - u0, v1 - v0))
    },
    drag({ dx, dy, x, y, free }: { dx: number; dy: number; x: number; y: number; free: boolean }): void {
      const model = shownModel()
      if (model && hand.drag(toUv(x, y), shownParts(model), free, pixel())) return
      center.x -= dx * pixel()
      center.y += dy * pixel()
    },
    grab(x: number, y: number): void {
      if (stale) refresh()
      hand.grab(toUv(x, y), pixel())
    },
    release: hand.release,
    zoom(x: number, y: number, steps: number): void {
      const [u, v] = toUv(x, y)
      const factor = 1.12 ** steps
      span = Math.max(1e-4, Math.min(100, span * factor))
      const [u2, v2] = toUv(x, y)
      center.x += u - u2
      center.y += v - v2
    },
    /** The polygon whose UVs hold the place; the selected part's first. */
    pick(x: number, y: number): Picked | null {
      const model = shownModel()
      if (!model) return null
      const [u, v] = toUv(x, y)
      for (const part of shownParts(model)) {
        const { mesh } = part
        const set = mesh.uvSets[0]
        if (!set) continue
        for (let face = 0; face < faceCountOf(mesh); face++) {
          const start = mesh.faceOffsets[face]!
          const end = mesh.faceOffsets[face + 1]!
          let inside = false
          for (let corner = start, last = end - 1; corner < end; last = corner++) {
            const a = set.indices[corner]!
            const b = set.indices[last]!
            if (a < 0 || b < 0) {
              inside = false
              break
            }
            const au = set.values[2 * a]!
            const av = set.values[2 * a + 1]!
            const bu = set.values[2 * b]!
            const bv = set.values[2 * b + 1]!
            if (av > v !== bv > v && u < ((bu - au) * (v - av)) / (bv - av) + au) inside = !inside
          }
          if (inside)
            return {
              node: part.node,
              face,
              material: mesh.faceMaterials?.[face] ?? -1,
              slot: model === state.models.master ? 'master' : 'returned',
              corner: null,
              nearest: nearestOnFace(mesh, face, [u, v], (corner) => {
                const uv = set.indices[corner]!
                return [set.values[2 * uv]!, set.values[2 * uv + 1]!]
              }),
            }
        }
      }
      return null
    },
    goesOn: (): boolean => goesOn,
    draw(): boolean {
      if (stale) refresh()
      const scale = pixel()
      goesOn = hand.draw(scale)
      labels.update(scale)
      camera.left = center.x - (width / 2) * scale
      camera.right = center.x + (width / 2) * scale
      camera.top = center.y + (height / 2) * scale
      camera.bottom = center.y - (height / 2) * scale
      camera.updateProjectionMatrix()
      renderer.render(scene, camera)
      return true
    },
  }
}
