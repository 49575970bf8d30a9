import * as THREE from 'three'
import { boundsOf, joinBoxes, type Box } from '../../core/base/math/box.ts'
import { isIdentity, transformPoints } from '../../core/base/math/matrix.ts'
import { prepareMesh, type DrawMesh, type DrawPiece } from '../../core/view/prepare-mesh.ts'
import { faceCountOf } from '../../core/scene/mesh.ts'
import type { Material } from '../../core/scene/material.ts'
import type { Scene, Space } from '../../core/scene/scene.ts'
import { moveToSpace } from '../../core/formats/arrange/arrange-scene.ts'
import { sameSpace } from '../../core/scene/space.ts'
import { worldMatrices } from '../../core/scene/world.ts'
import { loadScene } from '../workers/load-scene.ts'

/** Edges of a part with more than this many polygons are drawn only where it is selected. */
export const MOST_EDGED_FACES = 300000

export interface LoadedPart {
  readonly node: number
  readonly drawn: DrawMesh
  readonly solids: THREE.Mesh[]
  readonly edges: THREE.LineSegments | null
  readonly bounds: Box | null
}

export interface LoadedModel {
  readonly scene: Scene
  readonly group: THREE.Group
  readonly parts: LoadedPart[]
  readonly bounds: Box | null
  readonly faceCount: number
  /** Material textures by material index, where there is a base colour map. */
  readonly textures: ReadonlyMap<number, THREE.Texture>
  /** Takes the next prepared pieces into the group; false when all are there. */
  uploadNext(): boolean
  dispose(): void
}

const numberOf = (material: Material, name: string, fallback: number): number =>
  material.properties.find((property) => property.name.toLowerCase() === name)?.values[0] ?? fallback

function drawMaterial(
  material: Material | null,
  texture: THREE.Texture | undefined,
): THREE.MeshStandardMaterial {
  // what the formats call a material's own colour
  const color = material?.properties.find((property) =>
    ['kd', 'diffusecolor', 'diffuse'].includes(property.name.toLowerCase()),
  )?.values
  const opacity = material
    ? Math.min(1, Math.max(0.15, numberOf(material, 'd', 1 - numberOf(material, 'tr', 0))))
    : 1
  const drawn = new THREE.MeshStandardMaterial({
    color: color && color.length >= 3 ? new THREE.Color(color[0], color[1], color[2]) : 0xb9b4aa,
    roughness: material ? Math.max(0.25, numberOf(material, 'pr', 0.7)) : 0.8,
    // without surroundings to mirror, a full metal would be black
    metalness: material ? numberOf(material, 'pm', 0) * 0.35 : 0,
    side: THREE.DoubleSide,
    transparent: opacity < 1,
    opacity,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  })
  drawn.userData.color = drawn.color.clone()
  drawn.userData.texture = texture ?? null
  drawn.userData.marks = { value: 0 }
  // back faces are striped: told apart without colour
  drawn.onBeforeCompile = (shader) => {
    shader.uniforms.markBackFaces = drawn.userData.marks as { value: number }
    shader.fragmentShader = `uniform float markBackFaces;\n${shader.fragmentShader}`.replace(
      '#include <color_fragment>',
      `#include <color_fragment>
      if (markBackFaces > 0.5 && !gl_FrontFacing) {
        float stripe = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 14.0));
        diffuseColor = vec4(mix(vec3(0.68, 0.18, 0.05), vec3(0.95, 0.86, 0.8), stripe), 1.0);
      }`,
    )
  }
  return drawn
}

async function loadTextures(scene: Scene): Promise<Map<number, THREE.Texture>> {
  const textures = new Map<number, THREE.Texture>()
  const byFile = new Map<string, THREE.Texture>()
  for (const [index, material] of scene.materials.entries()) {
    const map = material.maps.find((candidate) => candidate.slot === 'baseColor')
    const image = map && scene.images.find((candidate) => candidate.file === map.file)
    if (!image?.bytes) continue
    let texture = byFile.get(image.file)
    if (!texture) {
      try {
        const bitmap = await createImageBitmap(new Blob([image.bytes.slice()]), { imageOrientation: 'flipY' })
        texture = new THREE.Texture(bitmap)
      } catch {
        // a format this browser can't show; the material keeps its colour
        continue
      }
      texture.flipY = false
      texture.colorSpace = THREE.SRGBColorSpace
      texture.wrapS = texture.wrapT = THREE.RepeatWrapping
      texture.needsUpdate = true
      byFile.set(image.file, texture)
    }
    textures.set(index, texture)
  }
  return textures
}

function solidOf(piece: DrawPiece, materials: THREE.Material[], fallback: THREE.Material): THREE.Mesh {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(piece.positions, 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(piece.normals, 3))
  geometry.setAttribute('uv', new THREE.BufferAttribute(piece.uvs, 2))
  geometry.setIndex(new THREE.BufferAttribute(piece.indices, 1))
  piece.runs.forEach((run, index) => geometry.addGroup(run.start, run.size, index))
  const mesh = new THREE.Mesh(
    geometry,
    piece.runs.map((run) => (run.material >= 0 ? materials[run.material]! : fallback)),
  )
  mesh.userData.triangleFaces = piece.triangleFaces
  return mesh
}

/** The scene with its numbers in another unit and other axes. */
const inSpace = (scene: Scene, { unitMeters, upAxis, frontAxis, handedness }: Space): Scene =>
  moveToSpace(scene, {
    unitMeters,
    unitAs: 'points',
    upAxis,
    frontAxis,
    mirrored: handedness === 'left',
    axesAs: 'points',
    scale: 1,
  })

/**
 * Loads and prepares a model. Positions are drawn relative to the middle of its bounds of the first load,
 * kept in `group.position`, so that single precision is spent on the model and not on its place.
 *
 * @param source a stored scene's id, or the scene itself.
 * @param space unit and axes to draw it in; null: its own.
 * @param wanted asked between steps; when it says no, the work stops and null is given.
 */
export async function loadModel(
  source: string | Scene,
  space: Space | null,
  progress: (share: number, stage: string) => void,
  wanted: () => boolean,
): Promise<LoadedModel | null> {
  progress(0, 'Loading')
  const own =
    typeof source === 'string' ? await loadScene(source, (share) => progress(share * 0.4, 'Loading')) : source
  if (!wanted()) return null
  const scene = space && !sameSpace(own.space, space) ? inSpace(own, space) : own
  const worlds = worldMatrices(scene)
  let bounds: Box | null = null
  const boxes = scene.nodes.map((node, index) => {
    if (node.mesh < 0) return null
    const points = scene.meshes[node.mesh]!.points
    return boundsOf(isIdentity(worlds[index]!) ? points : transformPoints(points, worlds[index]!))
  })
  for (const box of boxes) bounds = joinBoxes(bounds, box)
  const origin: [number, number, number] = bounds
    ? ([0, 1, 2].map((k) => (bounds!.min[k]! + bounds!.max[k]!) / 2) as [number, number, number])
    : [0, 0, 0]
  const textures = await loadTextures(scene)
  const materials = scene.materials.map((material, index) => drawMaterial(material, textures.get(index)))
  const fallback = drawMaterial(null, undefined)
  const group = new THREE.Group()
  group.position.set(...origin)
  const lineMaterial = new THREE.LineBasicMaterial({ color: 0x24262b, transparent: true, opacity: 0.32 })
  const parts: LoadedPart[] = []
  const waiting: { part: LoadedPart; piece: DrawPiece }[] = []
  let faceCount = 0
  for (const [index, node] of scene.nodes.entries()) {
    if (node.mesh < 0) continue
    const mesh = scene.meshes[node.mesh]!
    const drawn = prepareMesh(mesh, worlds[index]!, origin)
    faceCount += faceCountOf(mesh)
    let edges: THREE.LineSegments | null = null
    if (drawn.edges.length) {
      const geometry = new THREE.BufferGeometry()
      geometry.setAttribute('position', new THREE.BufferAttribute(drawn.pointPositions, 3))
      geometry.setIndex(new THREE.BufferAttribute(drawn.edges, 1))
      edges = new THREE.LineSegments(geometry, lineMaterial)
      edges.userData.many = faceCountOf(mesh) > MOST_EDGED_FACES
    }
    const part: LoadedPart = { node: index, drawn, solids: [], edges, bounds: boxes[index]! }
    parts.push(part)
    for (const piece of drawn.pieces) waiting.push({ part, piece })
    progress(0.4 + (0.6 * parts.length) / scene.nodes.length, 'Preparing')
    // let messages in between parts
    await new Promise((resolve) => setTimeout(resolve, 0))
    if (!wanted()) return null
  }
  return {
    scene,
    group,
    parts,
    bounds,
    faceCount,
    textures,
    uploadNext() {
      for (let taken = 0; taken < 8 && waiting.length;) {
        const { part, piece } = waiting.shift()!
        const solid = solidOf(piece, materials, fallback)
        solid.userData.node = part.node
        part.solids.push(solid)
        group.add(solid)
        if (part.edges && part.solids.length === 1) {
          part.edges.userData.node = part.node
          group.add(part.edges)
        }
        taken += piece.triangleFaces.length > 20000 ? 8 : 1
      }
      return waiting.length > 0
    },
    dispose() {
      group.traverse((object) => {
        if (object instanceof THREE.Mesh || object instanceof THREE.LineSegments)
          (object.geometry as THREE.BufferGeometry).dispose()
      })
      for (const material of [...materials, fallback, lineMaterial]) material.dispose()
      for (const texture of textures.values()) texture.dispose()
    },
  }
}
