/** The solid view: shaded polygons with their edges, an orbiting camera, marks, and the before/after wipe. */
import * as THREE from 'three'
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh'
import { diagonalOf, type Box } from '../../core/base/math/box.ts'
import { pictureDifference } from '../../core/image/color-difference.ts'
import { transformPoints } from '../../core/base/math/matrix.ts'
import type { Batch } from './batches.ts'
import { disposeGeometries, type LoadedModel } from './loaded-model.ts'
import type { LoadedPart } from './loaded-part.ts'
import { createLightSet } from './light-set.ts'
import { createOrbitCamera } from './orbit-camera.ts'
import { nearestOnFace, type NearestCorner } from './picking.ts'
import { addMarks, boundsOfMarks, clearMarks } from './solid-marks.ts'
import { VIEW_COLORS } from './view-colors.ts'
import type { ViewState } from './view-state.ts'
import type { Slot } from './viewer-messages.ts'

export interface Picked {
  readonly node: number
  readonly face: number
  readonly material: number
  readonly slot: Slot
  /** World position of the polygon's corner nearest to the click. */
  readonly corner: readonly [number, number, number] | null
  readonly nearest: NearestCorner
}

const SLOTS = ['master', 'returned'] as const

/** Pixels of a picture whose colours are compared, about. */
const COMPARED_PIXELS = 120_000

/** @param lit materials are glTF's and drawn under the light set; else plainly, so that shape is what is seen. */
export function createSolidView(canvas: OffscreenCanvas, state: ViewState, lit: boolean) {
  const renderer = new THREE.WebGLRenderer({
    canvas,
    antialias: true,
    alpha: lit,
    powerPreference: 'high-performance',
  })
  renderer.setClearColor(VIEW_COLORS.ground, 1)
  renderer.autoClear = false
  if (lit) renderer.toneMapping = THREE.NeutralToneMapping
  const lights = lit ? createLightSet(renderer) : null
  const scenes: Record<Slot, THREE.Scene> = { master: new THREE.Scene(), returned: new THREE.Scene() }
  const overlays: Record<Slot, THREE.Group> = { master: new THREE.Group(), returned: new THREE.Group() }
  for (const slot of SLOTS) {
    if (lights) {
      scenes[slot].environment = lights
      scenes[slot].add(overlays[slot])
      continue
    }
    scenes[slot].add(new THREE.HemisphereLight(0xffffff, 0x77736a, 1.7))
    const key = new THREE.DirectionalLight(0xffffff, 1.9)
    key.position.set(0.6, 1, 0.8)
    const back = new THREE.DirectionalLight(0xffffff, 0.7)
    back.position.set(-0.8, 0.3, -0.7)
    scenes[slot].add(key, back, overlays[slot])
  }
  const orbit = createOrbitCamera(() => state.models.master?.space.upAxis.endsWith('z') ?? false)
  let width = 1
  let height = 1
  /** The selected part by itself, while nothing else is to be seen. */
  let alone: { part: LoadedPart; drawn: THREE.Group; batches: readonly Batch[] } | null = null

  function showAlone(): void {
    const model = state.models.master
    const part =
      state.settings.isolate && state.selectedNode !== null
        ? (model?.partOf(state.selectedNode) ?? null)
        : null
    if (alone && alone.part !== part) {
      alone.drawn.removeFromParent()
      disposeGeometries(alone.drawn)
      alone = null
    }
    if (part && !alone) {
      alone = { part, ...model!.drawAlone(part) }
      model!.group.add(alone.drawn)
    }
    for (const lines of alone?.drawn.children ?? [])
      if (lines.userData.isEdges) lines.visible = state.settings.edges && !part!.isDense
  }

  function applyLook(): void {
    const { settings } = state
    showAlone()
    for (const slot of SLOTS) {
      const model = state.models[slot]
      if (!model) continue
      const whole = slot === 'returned' || !alone
      for (const { solid } of model.batches) solid.visible = whole
      model.edges.visible = whole && settings.edges
      model.clouds.visible = whole
      model.materials.setLook(settings)
      if (lit)
        for (const { solid, looks } of model.batches)
          solid.material = looks.map((look) => model.materials.looks[look]!)
    }
  }

  /** What came back otherwise as a whole is drawn where the master is, or nothing of it would be in sight. */
  function standBeside(): void {
    const { master, returned } = state.models
    if (!returned) return
    const factor = state.settings.returnedFactor
    const isBrought = factor !== null && master?.bounds
    returned.group.position.set(...((isBrought ? master : returned).origin as [number, number, number]))
    returned.group.scale.setScalar(isBrought ? 1 / factor : 1)
  }

  function rebuildOverlays(): void {
    standBeside()
    for (const slot of SLOTS) {
      clearMarks(overlays[slot])
      const model = state.models[slot]
      if (!model) continue
      overlays[slot].position.copy(model.group.position)
      overlays[slot].scale.copy(model.group.scale)
      addMarks(overlays[slot], model, slot, state, { width, height })
    }
  }

  /** In double precision, as the ruler measures it. */
  const cornerPlace = ({ worlds }: LoadedModel, { node, mesh }: LoadedPart, corner: number): Float64Array => {
    const point = mesh.faceVertices[corner]!
    return transformPoints(mesh.points.slice(3 * point, 3 * point + 3), worlds[node]!)
  }

  function boundsFor(node: number | null): Box | null {
    const model = state.models.master ?? state.models.returned
    if (!model) return null
    return (node === null ? null : model.partOf(node)?.bounds) ?? model.bounds
  }

  /** The nearest triangle on a ray among those of a model's batches that are shown. */
  function hitOn(model: LoadedModel, ray: THREE.Raycaster) {
    let nearest: { distance: number; batch: Batch; triangle: number; at: THREE.Vector3 } | null = null
    const sphere = new THREE.Sphere()
    for (const batch of alone && model === state.models.master ? alone.batches : model.batches) {
      const { solid } = batch
      solid.updateWorldMatrix(true, false)
      if (!solid.geometry.boundingSphere) solid.geometry.computeBoundingSphere()
      sphere.copy(solid.geometry.boundingSphere!).applyMatrix4(solid.matrixWorld)
      // what the ray doesn't come near needs no tree
      if (!ray.ray.intersectsSphere(sphere)) continue
      if (!solid.geometry.boundsTree) {
        computeBoundsTree.call(solid.geometry, { indirect: true })
        solid.raycast = acceleratedRaycast
      }
      const [hit] = ray.intersectObject(solid, false)
      if (hit?.faceIndex === undefined || hit.faceIndex === null) continue
      if (!nearest || hit.distance < nearest.distance)
        nearest = { distance: hit.distance, batch, triangle: hit.faceIndex, at: hit.point }
    }
    return nearest
  }

  return {
    resize(nextWidth: number, nextHeight: number, ratio: number): void {
      width = Math.max(1, nextWidth)
      height = Math.max(1, nextHeight)
      orbit.resize(width, height)
      renderer.setPixelRatio(ratio)
      renderer.setSize(width, height, false)
      rebuildOverlays()
    },
    modelChanged(slot: Slot): void {
      const scene = scenes[slot]
      const model = state.models[slot]
      for (const child of [...scene.children])
        if (child.userData.model && child !== model?.group) scene.remove(child)
      if (model && model.group.parent !== scene) {
        model.group.userData.model = true
        scene.add(model.group)
      }
      // the light comes from above, whichever axis is up
      const isZUp = state.models.master?.space.upAxis.endsWith('z') ?? false
      for (const name of SLOTS) scenes[name].environmentRotation.set(isZUp ? Math.PI / 2 : 0, 0, 0)
      applyLook()
      rebuildOverlays()
    },
    settingsChanged(): void {
      applyLook()
      rebuildOverlays()
    },
    selectionChanged(): void {
      applyLook()
      rebuildOverlays()
    },
    highlightChanged: rebuildOverlays,
    frame: (node: number | null): void => orbit.frame(boundsFor(node), boundsFor(null)),
    /** Brings what is marked close, with room around it so that it can be placed. */
    focus(): void {
      const box = boundsOfMarks(state)
      if (!box) return
      const whole = boundsFor(null)
      if (whole) orbit.lookFrom(whole, box)
      const room = Math.max(diagonalOf(box) * 0.12, diagonalOf(whole) * 0.02)
      orbit.frame(
        {
          min: box.min.map((value) => value - room) as [number, number, number],
          max: box.max.map((value) => value + room) as [number, number, number],
        },
        whole,
      )
    },
    drag: (dx: number, dy: number, pan: boolean): void => (pan ? orbit.move(dx, dy) : orbit.turn(dx, dy)),
    zoom: (_x: number, _y: number, steps: number): void => orbit.zoom(steps),
    pick(x: number, y: number): Picked | null {
      const { settings } = state
      const right = settings.wipe !== null ? x / width > settings.wipe : settings.shown === 'returned'
      const slot: Slot = right && state.models.returned ? 'returned' : 'master'
      const model = state.models[slot]
      if (!model) return null
      orbit.place()
      orbit.camera.updateMatrixWorld()
      const ray = new THREE.Raycaster()
      ray.firstHitOnly = true
      ray.setFromCamera(new THREE.Vector2((x / width) * 2 - 1, 1 - (y / height) * 2), orbit.camera)
      const hit = hitOn(model, ray)
      if (!hit) return null
      const { part, face } = hit.batch.at(hit.triangle)
      const placeOf = (corner: number): Float64Array => cornerPlace(model, part, corner)
      // from where it is drawn to where it is
      const at = model.group.worldToLocal(hit.at).add(new THREE.Vector3(...model.origin))
      const nearest = nearestOnFace(part.mesh, face, at.toArray(), placeOf)
      return {
        node: part.node,
        face,
        material: part.mesh.faceMaterials?.[face] ?? -1,
        slot,
        corner: Array.from(placeOf(nearest.corner)) as [number, number, number],
        nearest,
      }
    },
    draw(): boolean {
      orbit.place()
      const { wipe, shown } = state.settings
      renderer.setScissorTest(false)
      renderer.clear()
      if (wipe === null || !state.models.returned) {
        const slot = state.models[shown] ? shown : 'master'
        renderer.render(scenes[slot], orbit.camera)
        return true
      }
      renderer.setScissorTest(true)
      const split = Math.round(width * wipe)
      renderer.setScissor(0, 0, split, height)
      renderer.render(scenes.master, orbit.camera)
      renderer.setScissor(split, 0, width - split, height)
      renderer.render(scenes.returned, orbit.camera)
      return true
    },
    /** How far apart both models look from here, CIEDE2000; null where one of them isn't there. */
    compare(): { mean: number; largest: number } | null {
      if (!state.models.master || !state.models.returned) return null
      orbit.place()
      const ratio = renderer.getPixelRatio()
      const shrink = Math.min(1, Math.sqrt(COMPARED_PIXELS / (width * height * ratio * ratio)))
      const [across, down] = [width, height].map((size) => Math.max(1, Math.floor(size * shrink)))
      const context = renderer.getContext()
      const [pixelsAcross, pixelsDown] = [across, down].map((size) => Math.floor(size! * ratio))
      renderer.setScissorTest(false)
      renderer.setViewport(0, 0, across!, down!)
      renderer.setClearColor(0, 0)
      const pictures = SLOTS.map((slot) => {
        const pixels = new Uint8Array(4 * pixelsAcross! * pixelsDown!)
        const hidden = [overlays[slot], state.models[slot]!.edges].filter(({ visible }) => visible)
        // what is marked is no part of the look
        for (const one of hidden) one.visible = false
        renderer.clear()
        renderer.render(scenes[slot], orbit.camera)
        context.readPixels(0, 0, pixelsAcross!, pixelsDown!, context.RGBA, context.UNSIGNED_BYTE, pixels)
        for (const one of hidden) one.visible = true
        return pixels
      })
      renderer.setClearColor(VIEW_COLORS.ground, 1)
      renderer.setViewport(0, 0, width, height)
      this.draw()
      return pictureDifference(pictures[0]!, pictures[1]!)
    },
    /** Milliseconds that one picture takes, drawn to the end; the middle of several. */
    measure(times: number): number {
      const taken: number[] = []
      const context = renderer.getContext()
      const pixel = new Uint8Array(4)
      for (let time = 0; time < times; time++) {
        const start = performance.now()
        this.draw()
        // reading a pixel waits until everything is drawn
        context.readPixels(0, 0, 1, 1, context.RGBA, context.UNSIGNED_BYTE, pixel)
        taken.push(performance.now() - start)
      }
      return taken.sort((a, b) => a - b)[times >> 1]!
    },
  }
}
