import * as THREE from 'three'
import { boundsOf, joinBoxes, type Box } from '../../core/base/math/box.ts'
import { isIdentity, transformPoints, type Matrix } from '../../core/base/math/matrix.ts'
import { moveToSpace } from '../../core/formats/arrange/arrange-scene.ts'
import { faceCountOf, type Mesh } from '../../core/scene/mesh.ts'
import type { Scene, Space } from '../../core/scene/scene.ts'
import { sameSpace } from '../../core/scene/space.ts'
import { worldMatrices } from '../../core/scene/world.ts'
import { prepareMesh, type DrawPiece } from '../../core/view/prepare-mesh.ts'
import { BATCH_TRIANGLES, buildBatch, buildEdgeLines, type Batch } from './batches.ts'
import { buildCloud } from './clouds.ts'
import { createDrawnMaterials, type DrawnMaterials } from './drawn-materials.ts'
import { createLitMaterials } from './lit-materials.ts'
import type { LoadedPart } from './loaded-part.ts'
import { VIEW_COLORS } from './view-colors.ts'

/** Edges of a part with more than this many polygons are drawn only where it is selected. */
export const MOST_EDGED_FACES = 300000
/** Milliseconds for which parts are held back so that they go to the graphics memory together. */
const LONGEST_WAIT = 200

/** A model as far as it has come; parts are added while it is on screen. */
export interface LoadedModel {
  readonly space: Space
  readonly worlds: readonly Matrix[]
  readonly group: THREE.Group
  /** What its positions are drawn relative to: the middle of its bounds. */
  readonly origin: readonly [number, number, number]
  /** Everything of the group that draws all parts together, hidden where one is looked at alone. */
  readonly batches: readonly Batch[]
  readonly edges: THREE.Group
  /** Parts without polygons. */
  readonly clouds: THREE.Group
  readonly parts: readonly LoadedPart[]
  readonly partOf: (node: number) => LoadedPart | null
  readonly bounds: Box | null
  readonly faceCount: number
  readonly materials: DrawnMaterials
  /** One part as a drawing of its own. */
  readonly drawAlone: (part: LoadedPart) => {
    readonly drawn: THREE.Group
    readonly batches: readonly Batch[]
  }
  readonly add: (node: number, mesh: Mesh) => void
  /** Draws the parts that are held back; without `now` only if they are many or have waited. Whether it did. */
  readonly flush: (now: boolean) => boolean
  readonly dispose: () => void
}

/** Frees what a drawing holds in the graphics memory, beside its materials. */
export function disposeGeometries(drawn: THREE.Object3D): void {
  drawn.traverse((object) => {
    if (
      object instanceof THREE.Mesh ||
      object instanceof THREE.LineSegments ||
      object instanceof THREE.Points
    )
      (object.geometry as THREE.BufferGeometry).dispose()
    // others share the model's
    if (object.userData.ownsMaterial) ((object as THREE.Points).material as THREE.Material).dispose()
  })
}

/** The scene with its numbers in another unit and other axes. */
export const inSpace = (scene: Scene, space: Space): Scene => {
  if (sameSpace(scene.space, space)) return scene
  const { unitMeters, upAxis, frontAxis, handedness } = space
  return moveToSpace(scene, {
    unitMeters,
    unitAs: 'points',
    upAxis,
    frontAxis,
    mirrored: handedness === 'left',
    axesAs: 'points',
    scale: 1,
  })
}

/** Bounds of everything in world space. */
export function boundsOfScene(scene: Scene): Box | null {
  const worlds = worldMatrices(scene)
  let bounds: Box | null = null
  for (const [index, node] of scene.nodes.entries()) {
    if (node.mesh < 0) continue
    const { points } = scene.meshes[node.mesh]!
    bounds = joinBoxes(
      bounds,
      boundsOf(isIdentity(worlds[index]!) ? points : transformPoints(points, worlds[index]!)),
    )
  }
  return bounds
}

function boundsOfDrawn(positions: Float32Array, origin: readonly number[]): Box | null {
  if (positions.length === 0) return null
  const min: [number, number, number] = [Infinity, Infinity, Infinity]
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  for (let at = 0; at < positions.length; at += 3)
    for (let axis = 0; axis < 3; axis++) {
      const value = positions[at + axis]! + origin[axis]!
      if (value < min[axis]!) min[axis] = value
      if (value > max[axis]!) max[axis] = value
    }
  return { min, max }
}

/**
 * A model without parts yet. Positions are drawn relative to the middle of its bounds, kept in `group.position`, so
 * that single precision is spent on the model and not on its place.
 * @param outline the scene; of its meshes nothing is read.
 * @param lit its materials are glTF's, and drawn as they are.
 */
export function createModel(outline: Scene, bounds: Box | null, lit: boolean): LoadedModel {
  const worlds = worldMatrices(outline)
  const origin: [number, number, number] = bounds
    ? ([0, 1, 2].map((k) => (bounds.min[k]! + bounds.max[k]!) / 2) as [number, number, number])
    : [0, 0, 0]
  const materials = lit ? createLitMaterials(outline) : createDrawnMaterials(outline)
  const group = new THREE.Group()
  const edges = new THREE.Group()
  group.position.set(...origin)
  const clouds = new THREE.Group()
  group.add(edges, clouds)
  const lineMaterial = new THREE.LineBasicMaterial({
    color: VIEW_COLORS.edge,
    transparent: true,
    opacity: 0.32,
  })
  const parts: LoadedPart[] = []
  const byNode = new Map<number, LoadedPart>()
  const batches: Batch[] = []
  let held: { part: LoadedPart; piece: DrawPiece }[] = []
  let heldTriangles = 0
  let heldSince = 0
  let faceCount = 0

  function drawHeld(): void {
    const batch = buildBatch(held, materials)
    batches.push(batch)
    group.add(batch.solid)
    const whole = [...new Set(held.map(({ part }) => part))].filter(
      // a part of several pieces has its edges once, with the last of them
      (part) =>
        !part.isDense && part.drawn.pieces.at(-1) === held.findLast((entry) => entry.part === part)!.piece,
    )
    const lines = buildEdgeLines(whole, lineMaterial)
    if (lines) edges.add(lines)
    held = []
    heldTriangles = 0
  }

  return {
    space: outline.space,
    worlds,
    group,
    origin,
    batches,
    edges,
    clouds,
    parts,
    bounds,
    materials,
    get faceCount() {
      return faceCount
    },
    partOf: (node) => byNode.get(node) ?? null,
    add(node, mesh) {
      const drawn = prepareMesh(mesh, worlds[node]!, origin, materials.setNames)
      const part: LoadedPart = {
        node,
        mesh,
        drawn,
        isDense: faceCountOf(mesh) > MOST_EDGED_FACES,
        bounds: boundsOfDrawn(drawn.pointPositions, origin),
      }
      parts.push(part)
      byNode.set(node, part)
      faceCount += faceCountOf(mesh)
      const cloud = buildCloud(part)
      if (cloud) clouds.add(cloud)
      for (const piece of drawn.pieces) {
        if (held.length === 0) heldSince = performance.now()
        held.push({ part, piece })
        heldTriangles += piece.triangleFaces.length
        if (heldTriangles >= BATCH_TRIANGLES) drawHeld()
      }
    },
    flush(now) {
      if (held.length === 0 || (!now && performance.now() - heldSince < LONGEST_WAIT)) return false
      drawHeld()
      return true
    },
    drawAlone(part) {
      const drawn = new THREE.Group()
      const own = part.drawn.pieces.map((piece) => buildBatch([{ part, piece }], materials))
      for (const { solid } of own) drawn.add(solid)
      const cloud = buildCloud(part)
      if (cloud) drawn.add(cloud)
      const lines = part.isDense ? null : buildEdgeLines([part], lineMaterial)
      if (lines) {
        lines.userData.isEdges = true
        drawn.add(lines)
      }
      return { drawn, batches: own }
    },
    dispose() {
      disposeGeometries(group)
      materials.dispose()
      lineMaterial.dispose()
    },
  }
}
