/** The solid view: shaded polygons with their edges, an orbiting camera, marks, and the before/after wipe. */
import * as THREE from 'three'
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh'
import { diagonalOf, joinBoxes, type Box } from '../../core/base/math/box.ts'
import { faceHeat, placeHighlight } from '../../core/view/highlight.ts'
import { worldMatrices } from '../../core/scene/world.ts'
import { transformPoints } from '../../core/base/math/matrix.ts'
import type { LoadedModel } from './loaded-model.ts'
import { thickLines } from './thick-lines.ts'
import { VIEW_COLORS, type ViewState } from './view-state.ts'
import type { Slot } from './viewer-messages.ts'

export interface Picked {
  readonly node: number
  readonly face: number
  /** World position of the polygon's corner nearest to the click. */
  readonly corner: readonly [number, number, number] | null
}

/** Triangles of their own, so that each face has one colour. */
function heatMesh({ positions, colors }: { positions: Float32Array; colors: Float32Array }): THREE.Mesh {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3))
  geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3))
  return new THREE.Mesh(
    geometry,
    new THREE.MeshBasicMaterial({
      vertexColors: true,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: -1,
    }),
  )
}

/** Share of the view that a framed model fills. */
const FRAME_MARGIN = 1.0

export function createSolidView(canvas: OffscreenCanvas, state: ViewState) {
  const renderer = new THREE.WebGLRenderer({ canvas, antialias: true, powerPreference: 'high-performance' })
  renderer.setClearColor(VIEW_COLORS.ground)
  renderer.autoClear = false
  const scenes: Record<Slot, THREE.Scene> = { master: new THREE.Scene(), returned: new THREE.Scene() }
  const overlays: Record<Slot, THREE.Group> = { master: new THREE.Group(), returned: new THREE.Group() }
  const camera = new THREE.PerspectiveCamera(32, 1, 0.01, 1000)
  for (const slot of ['master', 'returned'] as const) {
    scenes[slot].add(new THREE.HemisphereLight(0xffffff, 0x77736a, 1.7))
    const key = new THREE.DirectionalLight(0xffffff, 1.9)
    key.position.set(0.6, 1, 0.8)
    const back = new THREE.DirectionalLight(0xffffff, 0.7)
    back.position.set(-0.8, 0.3, -0.7)
    scenes[slot].add(key, back, overlays[slot])
  }
  const orbit = { yaw: 0.62, pitch: 0.22, distance: 10, target: new THREE.Vector3() }
  let width = 1
  let height = 1
  let radius = 1

  const zUp = (): boolean => state.models.master?.scene.space.upAxis.endsWith('z') ?? false

  function placeCamera(): void {
    const { yaw, pitch, distance, target } = orbit
    const flat = Math.cos(pitch) * distance
    const offset = new THREE.Vector3(Math.sin(yaw) * flat, Math.sin(pitch) * distance, Math.cos(yaw) * flat)
    if (zUp()) offset.set(offset.x, -offset.z, offset.y)
    camera.up.set(0, zUp() ? 0 : 1, zUp() ? 1 : 0)
    camera.position.copy(target).add(offset)
    camera.near = Math.max(distance - radius * 4, distance / 500)
    camera.far = distance + radius * 8
    camera.lookAt(target)
    camera.aspect = width / height
    camera.updateProjectionMatrix()
  }

  const visible = (node: number): boolean =>
    !state.settings.isolate || state.selectedNode === null || node === state.selectedNode

  function applyLook(model: LoadedModel | null, slot: Slot): void {
    if (!model) return
    const { settings } = state
    for (const part of model.parts) {
      const selected = slot === 'master' && part.node === state.selectedNode
      for (const solid of part.solids) {
        solid.visible = visible(part.node) || slot === 'returned'
        const materials = solid.material as THREE.MeshStandardMaterial[]
        for (const material of materials) {
          const texture = settings.maps ? (material.userData.texture as THREE.Texture | null) : null
          if (material.map !== texture) {
            material.map = texture
            material.needsUpdate = true
          }
          // a map is shown as it is; without it the material's own colour
          if (texture) material.color.setRGB(1, 1, 1)
          else material.color.copy(material.userData.color as THREE.Color)
          ;(material.userData.marks as { value: number }).value = settings.backFaces ? 1 : 0
        }
      }
      if (part.edges)
        part.edges.visible =
          visible(part.node) && settings.edges && (!(part.edges.userData.many as boolean) || selected)
    }
  }

  function overlayGeometry(
    model: LoadedModel,
    node: number,
    indices: Uint32Array,
  ): THREE.BufferGeometry | null {
    const part = model.parts.find((candidate) => candidate.node === node)
    if (!part || indices.length === 0) return null
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(part.drawn.pointPositions, 3))
    geometry.setIndex(new THREE.BufferAttribute(indices, 1))
    return geometry
  }

  function clearOverlay(slot: Slot): void {
    for (const child of [...overlays[slot].children]) {
      overlays[slot].remove(child)
      const drawn = child as THREE.Mesh
      drawn.geometry.dispose()
      ;(drawn.material as THREE.Material).dispose()
    }
  }

  function rebuildOverlays(): void {
    for (const slot of ['master', 'returned'] as const) {
      clearOverlay(slot)
      const model = state.models[slot]
      if (!model) continue
      overlays[slot].position.copy(model.group.position)
      const add = (object: THREE.Object3D): void => {
        object.renderOrder = 5
        overlays[slot].add(object)
      }
      for (const item of state.highlights) {
        if (item.slot !== slot) continue
        const node = model.scene.nodes[item.node]
        if (!node || node.mesh < 0) continue
        const mesh = model.scene.meshes[node.mesh]!
        const placed = placeHighlight(mesh, item.element, item.elements)
        const color = item.chosen ? VIEW_COLORS.chosen : VIEW_COLORS.mark
        if (item.heat) {
          const drawn = model.parts.find((candidate) => candidate.node === item.node)!.drawn
          add(heatMesh(faceHeat(mesh, item.heat, drawn.pointPositions)))
          continue
        }
        if (placed.lines.length) {
          const part = model.parts.find((candidate) => candidate.node === item.node)!
          // drawn twice: full where it can be seen, faint where the model hides it
          const look = { color, width, height }
          const positions = part.drawn.pointPositions
          add(thickLines(positions, 3, placed.lines, { ...look, lineWidth: 3, opacity: 1, depthTest: true }))
          add(
            thickLines(positions, 3, placed.lines, { ...look, lineWidth: 2, opacity: 0.3, depthTest: false }),
          )
        }
        const faces = overlayGeometry(model, item.node, placed.triangles)
        if (faces)
          add(
            new THREE.Mesh(
              faces,
              new THREE.MeshBasicMaterial({
                color,
                transparent: true,
                opacity: 0.5,
                side: THREE.DoubleSide,
                depthWrite: false,
                polygonOffset: true,
                polygonOffsetFactor: -1,
              }),
            ),
          )
        const points = overlayGeometry(model, item.node, placed.points)
        if (points)
          add(new THREE.Points(points, new THREE.PointsMaterial({ color, size: 7, sizeAttenuation: false })))
      }
      if (slot === 'master' && state.ruler.length === 2) {
        const ends = Float32Array.from(
          state.ruler.flatMap((end) => [
            end[0] - model.group.position.x,
            end[1] - model.group.position.y,
            end[2] - model.group.position.z,
          ]),
        )
        const look = { color: VIEW_COLORS.ruler, width, height, opacity: 1, depthTest: false }
        add(thickLines(ends, 3, Uint32Array.of(0, 1), { ...look, lineWidth: 2.5 }))
        const geometry = new THREE.BufferGeometry()
        geometry.setAttribute('position', new THREE.BufferAttribute(ends, 3))
        const dots = { color: VIEW_COLORS.ruler, size: 9, sizeAttenuation: false, depthTest: false }
        add(new THREE.Points(geometry, new THREE.PointsMaterial(dots)))
      }
      if (slot === 'master' && state.selectedNode !== null) {
        const part = model.parts.find((candidate) => candidate.node === state.selectedNode)
        if (part && state.highlights.length === 0 && !(part.edges?.userData.many as boolean)) {
          const edges = overlayGeometry(model, part.node, part.drawn.edges)
          if (edges)
            add(new THREE.LineSegments(edges, new THREE.LineBasicMaterial({ color: VIEW_COLORS.selected })))
        }
        if (part && state.selectedFace !== null) {
          const placed = placeHighlight(
            model.scene.meshes[model.scene.nodes[part.node]!.mesh]!,
            'faces',
            Uint32Array.of(state.selectedFace),
          )
          const face = overlayGeometry(model, part.node, placed.triangles)
          if (face)
            add(
              new THREE.Mesh(
                face,
                new THREE.MeshBasicMaterial({
                  color: VIEW_COLORS.face,
                  side: THREE.DoubleSide,
                  polygonOffset: true,
                  polygonOffsetFactor: -2,
                }),
              ),
            )
        }
      }
    }
  }

  /** In double precision, as the ruler measures it. */
  function nearestCorner(
    model: LoadedModel,
    { node, face }: Picked,
    at: THREE.Vector3,
  ): [number, number, number] {
    const mesh = model.scene.meshes[model.scene.nodes[node]!.mesh]!
    const world = worldMatrices(model.scene)[node]!
    let best: [number, number, number] = [at.x, at.y, at.z]
    let least = Infinity
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      const [x, y, z] = transformPoints(mesh.points.slice(3 * point, 3 * point + 3), world) as unknown as [
        number,
        number,
        number,
      ]
      const distance = Math.hypot(x - at.x, y - at.y, z - at.z)
      if (distance < least) {
        least = distance
        best = [x, y, z]
      }
    }
    return best
  }

  function boundsFor(node: number | null): Box | null {
    const model = state.models.master ?? state.models.returned
    if (!model) return null
    return node === null
      ? model.bounds
      : (model.parts.find((part) => part.node === node)?.bounds ?? model.bounds)
  }

  /** Turns to the side of the model that a place is on; straight above and below it is seen aslant. */
  function lookFrom(whole: Box, place: Box): void {
    const away = [0, 1, 2].map(
      (axis) => (place.min[axis]! + place.max[axis]! - whole.min[axis]! - whole.max[axis]!) / 2,
    )
    const [x, y, z] = zUp() ? [away[0]!, away[2]!, -away[1]!] : [away[0]!, away[1]!, away[2]!]
    // what goes round the model is seen from any side; in its middle no side is nearer than another
    if (diagonalOf(place) > 0.4 * diagonalOf(whole)) return
    if (Math.hypot(x!, y!, z!) < 0.12 * diagonalOf(whole)) return
    if (Math.hypot(x!, z!) > 1e-6 * diagonalOf(whole)) orbit.yaw = Math.atan2(x!, z!)
    orbit.pitch = Math.max(-1.2, Math.min(1.2, Math.atan2(y!, Math.hypot(x!, z!)))) * 0.7
  }

  function frameBox(box: Box | null): void {
    if (!box) return
    orbit.target.set(...([0, 1, 2].map((k) => (box.min[k]! + box.max[k]!) / 2) as [number, number, number]))
    placeCamera()
    camera.updateMatrixWorld()
    // the least distance at which all eight corners of the box are in view
    const right = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0)
    const up = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 1)
    const toward = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 2)
    const tangent = Math.tan((camera.fov * Math.PI) / 360)
    let distance = 0
    for (let corner = 0; corner < 8; corner++) {
      const offset = new THREE.Vector3(
        ...([0, 1, 2].map((k) => (corner & (1 << k) ? box.max[k]! : box.min[k]!)) as [
          number,
          number,
          number,
        ]),
      ).sub(orbit.target)
      const across = Math.max(
        Math.abs(offset.dot(up)) / tangent,
        Math.abs(offset.dot(right)) / (tangent * (width / height)),
      )
      distance = Math.max(distance, across + offset.dot(toward))
    }
    orbit.distance = Math.max(distance * FRAME_MARGIN, 1e-9)
    const whole = boundsFor(null)
    if (whole) radius = 1e-9 + Math.hypot(...[0, 1, 2].map((k) => whole.max[k]! - whole.min[k]!)) / 2
  }

  return {
    resize(nextWidth: number, nextHeight: number, ratio: number): void {
      width = Math.max(1, nextWidth)
      height = Math.max(1, nextHeight)
      renderer.setPixelRatio(ratio)
      renderer.setSize(width, height, false)
      rebuildOverlays()
    },
    modelChanged(slot: Slot): void {
      const scene = scenes[slot]
      for (const child of [...scene.children]) if (child.userData.model) scene.remove(child)
      const model = state.models[slot]
      if (model) {
        model.group.userData.model = true
        scene.add(model.group)
      }
      applyLook(model, slot)
      rebuildOverlays()
    },
    settingsChanged(): void {
      applyLook(state.models.master, 'master')
      applyLook(state.models.returned, 'returned')
    },
    selectionChanged(): void {
      applyLook(state.models.master, 'master')
      rebuildOverlays()
    },
    highlightChanged: rebuildOverlays,
    frame: (node: number | null): void => frameBox(boundsFor(node)),
    /** Brings what is marked close, with room around it so that it can be placed. */
    focus(): void {
      let box: Box | null = null
      for (const item of state.highlights) {
        const model = state.models[item.slot]
        const part = model?.parts.find((candidate) => candidate.node === item.node)
        if (!model || !part || item.chosen) continue
        const placed = placeHighlight(
          model.scene.meshes[model.scene.nodes[item.node]!.mesh]!,
          item.element,
          item.elements,
        )
        const { x, y, z } = model.group.position
        const origin = [x, y, z]
        for (const list of [placed.lines, placed.triangles, placed.points])
          for (const point of list) {
            const at = [0, 1, 2].map(
              (axis) => part.drawn.pointPositions[3 * point + axis]! + origin[axis]!,
            ) as [number, number, number]
            box = joinBoxes(box, { min: at, max: at })
          }
      }
      if (!box) return
      const whole = boundsFor(null)
      if (whole) lookFrom(whole, box)
      const room = Math.max(diagonalOf(box) * 0.12, diagonalOf(whole) * 0.02)
      frameBox({
        min: box.min.map((value) => value - room) as [number, number, number],
        max: box.max.map((value) => value + room) as [number, number, number],
      })
    },
    drag(dx: number, dy: number, pan: boolean): void {
      if (!pan) {
        orbit.yaw -= dx * 0.008
        orbit.pitch = Math.max(-1.55, Math.min(1.55, orbit.pitch + dy * 0.008))
        return
      }
      const perPixel = (2 * orbit.distance * Math.tan((camera.fov * Math.PI) / 360)) / height
      const right = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0)
      const up = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 1)
      orbit.target.addScaledVector(right, -dx * perPixel).addScaledVector(up, dy * perPixel)
    },
    zoom(_x: number, _y: number, steps: number): void {
      orbit.distance = Math.max(radius * 0.01, Math.min(radius * 60, orbit.distance * 1.12 ** steps))
    },
    pick(x: number, y: number): Picked | null {
      const { settings } = state
      const right = settings.wipe !== null ? x / width > settings.wipe : settings.shown === 'returned'
      const model = state.models[right ? 'returned' : 'master'] ?? state.models.master
      if (!model) return null
      placeCamera()
      camera.updateMatrixWorld()
      const ray = new THREE.Raycaster()
      ray.firstHitOnly = true
      ray.setFromCamera(new THREE.Vector2((x / width) * 2 - 1, 1 - (y / height) * 2), camera)
      let nearest: { distance: number; picked: Picked; at: THREE.Vector3 } | null = null
      for (const part of model.parts)
        for (const solid of part.solids) {
          if (!solid.visible) continue
          if (!solid.geometry.boundsTree) {
            computeBoundsTree.call(solid.geometry, { indirect: true })
            solid.raycast = acceleratedRaycast
          }
          solid.updateWorldMatrix(true, false)
          const [hit] = ray.intersectObject(solid, false)
          if (!hit || hit.faceIndex === undefined || hit.faceIndex === null) continue
          if (nearest && nearest.distance <= hit.distance) continue
          const faces = solid.userData.triangleFaces as Uint32Array
          nearest = {
            distance: hit.distance,
            picked: { node: part.node, face: faces[hit.faceIndex]!, corner: null },
            at: hit.point,
          }
        }
      if (!nearest) return null
      const found = nearest as { picked: Picked; at: THREE.Vector3 }
      return { ...found.picked, corner: nearestCorner(model, found.picked, found.at) }
    },
    draw(): boolean {
      placeCamera()
      const { wipe, shown } = state.settings
      renderer.setScissorTest(false)
      renderer.clear()
      if (wipe === null || !state.models.returned) {
        const slot = state.models[shown] ? shown : 'master'
        renderer.render(scenes[slot], camera)
        return true
      }
      renderer.setScissorTest(true)
      const split = Math.round(width * wipe)
      renderer.setScissor(0, 0, split, height)
      renderer.render(scenes.master, camera)
      renderer.setScissor(split, 0, width - split, height)
      renderer.render(scenes.returned, camera)
      return true
    },
  }
}
