/** What the solid view marks on a model: findings, what is chosen, the selection, the ruler. */
import * as THREE from 'three'
import { joinBoxes, type Box } from '../../core/base/math/box.ts'
import { faceCountOf } from '../../core/scene/mesh.ts'
import { faceHeat, fieldColors, placeHighlight } from '../../core/view/highlight.ts'
import type { LoadedModel } from './loaded-model.ts'
import type { LoadedPart } from './loaded-part.ts'
import { thickLines } from './thick-lines.ts'
import { VIEW_COLORS } from './view-colors.ts'
import type { ViewState } from './view-state.ts'
import type { Slot } from './viewer-messages.ts'

/** Triangles of their own, so that each face has one colour. */
function heatMesh({ positions, colors }: { positions: Float32Array; colors: Float32Array }): THREE.Mesh {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3))
  geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3))
  return new THREE.Mesh(
    geometry,
    // lit by polygon, so that the shape is still seen
    new THREE.MeshLambertMaterial({
      vertexColors: true,
      flatShading: true,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: -1,
    }),
  )
}

function onPoints(part: LoadedPart, indices: Uint32Array): THREE.BufferGeometry | null {
  if (indices.length === 0) return null
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(part.drawn.pointPositions, 3))
  geometry.setIndex(new THREE.BufferAttribute(indices, 1))
  return geometry
}

const fill = (color: number, opacity: number, offset: number): THREE.MeshBasicMaterial =>
  new THREE.MeshBasicMaterial({
    color,
    transparent: opacity < 1,
    opacity,
    side: THREE.DoubleSide,
    depthWrite: opacity === 1,
    polygonOffset: true,
    polygonOffsetFactor: offset,
  })

const allFaces = (part: LoadedPart): Uint32Array =>
  Uint32Array.from({ length: faceCountOf(part.mesh) }, (_face, at) => at)

export function clearMarks(overlay: THREE.Group): void {
  for (const child of [...overlay.children]) {
    overlay.remove(child)
    const drawn = child as THREE.Mesh
    drawn.geometry.dispose()
    ;(drawn.material as THREE.Material).dispose()
  }
}

/** @param size of the view, pixels. */
export function addMarks(
  overlay: THREE.Group,
  model: LoadedModel,
  slot: Slot,
  state: ViewState,
  size: { readonly width: number; readonly height: number },
): void {
  const add = (object: THREE.Object3D): void => {
    object.renderOrder = 5
    overlay.add(object)
  }
  for (const item of state.highlights) {
    if (item.slot !== slot) continue
    const part = model.partOf(item.node)
    if (!part) continue
    const placed = placeHighlight(part.mesh, item.element, item.elements)
    if (item.field) {
      const surface = onPoints(part, placeHighlight(part.mesh, 'faces', allFaces(part)).triangles)
      if (!surface) continue
      const colors = fieldColors(item.field.values, item.field.most)
      surface.setAttribute('color', new THREE.BufferAttribute(colors, 3))
      add(
        new THREE.Mesh(
          surface,
          new THREE.MeshBasicMaterial({
            vertexColors: true,
            side: THREE.DoubleSide,
            polygonOffset: true,
            polygonOffsetFactor: -1,
          }),
        ),
      )
      continue
    }
    const color = item.chosen ? VIEW_COLORS.chosen : VIEW_COLORS.mark
    if (item.heat) {
      add(heatMesh(faceHeat(part.mesh, item.heat, part.drawn.pointPositions)))
      continue
    }
    if (placed.lines.length) {
      // drawn twice: full where it can be seen, faint where the model hides it
      const positions = part.drawn.pointPositions
      const look = { color, ...size }
      add(thickLines(positions, 3, placed.lines, { ...look, lineWidth: 3, opacity: 1, depthTest: true }))
      add(thickLines(positions, 3, placed.lines, { ...look, lineWidth: 2, opacity: 0.3, depthTest: false }))
    }
    const faces = onPoints(part, placed.triangles)
    if (faces) add(new THREE.Mesh(faces, fill(color, 0.5, -1)))
    const points = onPoints(part, placed.points)
    if (points)
      add(new THREE.Points(points, new THREE.PointsMaterial({ color, size: 7, sizeAttenuation: false })))
  }
  if (slot !== 'master') return
  if (state.ruler.length === 2) addRuler(add, model, state, size)
  const part = state.selectedNode === null ? null : model.partOf(state.selectedNode)
  if (!part) return
  if (state.highlights.length === 0 && (!part.isDense || state.settings.edges)) {
    const edges = onPoints(part, part.drawn.edges())
    if (edges)
      add(
        new THREE.LineSegments(
          edges,
          part.isDense
            ? new THREE.LineBasicMaterial({ color: VIEW_COLORS.edge, transparent: true, opacity: 0.32 })
            : new THREE.LineBasicMaterial({ color: VIEW_COLORS.selected }),
        ),
      )
  }
  if (state.selectedFace === null) return
  const placed = placeHighlight(part.mesh, 'faces', Uint32Array.of(state.selectedFace))
  const face = onPoints(part, placed.triangles)
  if (face) add(new THREE.Mesh(face, fill(VIEW_COLORS.face, 1, -2)))
}

function addRuler(
  add: (object: THREE.Object3D) => void,
  model: LoadedModel,
  state: ViewState,
  size: { readonly width: number; readonly height: number },
): void {
  const { x, y, z } = model.group.position
  const ends = Float32Array.from(state.ruler.flatMap((end) => [end[0] - x, end[1] - y, end[2] - z]))
  const look = { color: VIEW_COLORS.ruler, ...size, opacity: 1, depthTest: false }
  add(thickLines(ends, 3, Uint32Array.of(0, 1), { ...look, lineWidth: 2.5 }))
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(ends, 3))
  const dots = { color: VIEW_COLORS.ruler, size: 9, sizeAttenuation: false, depthTest: false }
  add(new THREE.Points(geometry, new THREE.PointsMaterial(dots)))
}

/** Bounds of what is marked, where it is drawn; what the artist chose is not counted. */
export function boundsOfMarks(state: ViewState): Box | null {
  let box: Box | null = null
  for (const item of state.highlights) {
    const model = state.models[item.slot]
    const part = model?.partOf(item.node)
    if (!model || !part || item.chosen) continue
    const placed = placeHighlight(part.mesh, item.element, item.elements)
    const { position, scale } = model.group
    const origin = position.toArray()
    for (const list of [placed.lines, placed.triangles, placed.points])
      for (const point of list) {
        const at = [0, 1, 2].map(
          (axis) => scale.x * part.drawn.pointPositions[3 * point + axis]! + origin[axis]!,
        ) as [number, number, number]
        box = joinBoxes(box, { min: at, max: at })
      }
  }
  return box
}
