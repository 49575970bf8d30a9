/**
 * The mooring bollard: a prop of cast iron, about 62 cm tall, as it came back from somebody's hard disk: it
 * has the faults that the Bench is for.
 */
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import {
  faceCorners,
  numbers,
  replaceFaces,
  splitPoints,
  type NewFace,
} from '../../mesh/rebuilding/edit-faces.ts'
import { brassMap, brassRoughness, enamelMap } from './demo-maps.ts'
import { colorMap, demoImage, demoMaterial, roughnessMap } from './demo-material.ts'
import { demoScene } from './demo-scene.ts'
import { buildTurned } from './turned.ts'

const IRON = 0
const PAINT = 1

const shifted = (mesh: Mesh, x: number, y: number, z: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => value + [x, y, z][at % 3]!),
})

const facesOf = (mesh: Mesh): NewFace[] =>
  Array.from({ length: faceCountOf(mesh) }, (_value, face) => ({
    corners: faceCorners(mesh, face),
    from: face,
  }))

/** The first faces lose their neighbours: their points are doubled in place. */
function unweld(mesh: Mesh, faces: number): Mesh {
  const faceVertices = mesh.faceVertices.slice()
  const sources = [...numbers(pointCountOf(mesh))]
  const copies = new Map<number, number>()
  const elsewhere = new Set(mesh.faceVertices.subarray(mesh.faceOffsets[faces]))
  for (let corner = 0; corner < mesh.faceOffsets[faces]!; corner++) {
    const point = faceVertices[corner]!
    if (!elsewhere.has(point)) continue
    if (!copies.has(point)) copies.set(point, sources.push(point) - 1)
    faceVertices[corner] = copies.get(point)!
  }
  return splitPoints(mesh, faceVertices, Int32Array.from(sources))
}

/** Some faces turned over, some doubled, and points that nobody uses. */
function spoil(mesh: Mesh, turned: readonly number[], doubled: readonly number[], loose: number): Mesh {
  const faces = facesOf(mesh).map((face, at) =>
    turned.includes(at) ? { ...face, corners: [...face.corners].reverse() } : face,
  )
  const spoilt = replaceFaces(mesh, [...faces, ...doubled.map((at) => faces[at]!)])
  const points = new Float64Array(spoilt.points.length + 3 * loose)
  points.set(spoilt.points)
  for (let at = 0; at < loose; at++) points.set([12 + at, 70, 3], spoilt.points.length + 3 * at)
  return { ...spoilt, points }
}

/** Faces cut into triangles, as a hop leaves them. */
function triangulated(mesh: Mesh): Mesh {
  return replaceFaces(
    mesh,
    facesOf(mesh).flatMap(({ corners, from }) => [
      { corners: [corners[0]!, corners[1]!, corners[2]!], from },
      ...(corners.length > 3 ? [{ corners: [corners[0]!, corners[2]!, corners[3]!], from }] : []),
    ]),
  )
}

const withoutMaterial = (mesh: Mesh, faces: number): Mesh => ({
  ...mesh,
  faceMaterials: mesh.faceMaterials!.map((material, face) => (face < faces ? -1 : material)),
})

/** Seven parts, two materials and one that nothing uses. */
export function buildMooringBollard(): Scene {
  const column = buildTurned(
    'column',
    [
      [15, 3],
      [15.6, 3.6],
      [15.2, 5.4],
      [12, 8],
      [10.6, 13],
      [10.2, 22],
      [10.6, 32],
      [12, 39],
      [15.4, 43.4],
      [17.8, 46.6],
      [18.4, 49.4],
      [17.8, 52.4],
      [14.8, 55.4],
      [9, 57.4],
      [3, 58],
    ],
    { material: PAINT, uv: [0.02, 0.02, 0.98, 0.98], creased: [1, 2], group: 'column', around: 48 },
  )
  const plate = buildTurned(
    'base plate',
    [
      [24, 0],
      [24.6, 0.5],
      [24.6, 2.4],
      [24, 3],
    ],
    { material: IRON, uv: [0.02, 0.02, 0.6, 0.6], creased: [1, 2], group: 'plate', around: 48 },
  )
  const bolts = [45, 135, 225, 315].map((degrees, at) => {
    const angle = (degrees * Math.PI) / 180
    const u = 0.64 + 0.18 * (at % 2)
    const v = 0.64 + 0.18 * (at >> 1)
    const bolt = buildTurned(
      'bolt',
      [
        [1.9, 2.6],
        [1.9, 4.6],
        [1.5, 5],
      ],
      { material: IRON, uv: [u, v, u + 0.16, v + 0.16], creased: [1], group: 'bolt', around: 8 },
    )
    return shifted(bolt, 19.6 * Math.cos(angle), 0, 19.6 * Math.sin(angle))
  })
  const parts = [
    withoutMaterial(spoil(unweld(column, 96), [400, 401, 402, 448, 449], [520, 521, 522], 2), 24),
    triangulated(plate),
    ...bolts.map((mesh, at) => ({ ...mesh, name: at === 3 ? 'bolt Süd' : 'bolt' })),
  ]
  return demoScene(
    // it hangs a little above the quay
    parts.map((mesh) => shifted(mesh, 0, 4, 0)),
    [
      demoMaterial('cast_iron', [0.26, 0.26, 0.27], 0.6, 1, 1, [
        colorMap('maps/iron_color.png'),
        roughnessMap('maps/iron_roughness.png'),
      ]),
      demoMaterial('harbour_paint', [0.16, 0.3, 0.34], 0.5, 0, 1, [colorMap('maps/paint_color.png')]),
      demoMaterial('old_rust', [0.4, 0.2, 0.1], 0.9, 0, 1, []),
    ],
    [
      demoImage('maps/iron_color.png', brassMap()),
      demoImage('maps/iron_roughness.png', brassRoughness()),
      demoImage('maps/paint_color.png', enamelMap()),
    ],
  )
}
