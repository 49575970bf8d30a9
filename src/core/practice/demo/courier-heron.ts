/**
 * The courier heron: the demo's character, about 112 cm tall, carrying letters for the harbour post office.
 * Quads throughout; caps are grids, so that there are no poles of triangles.
 */
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { brassMap, brassRoughness, glassMap, hornMap, leatherMap, plumageMap } from './demo-maps.ts'
import { colorMap, demoImage, demoMaterial, roughnessMap } from './demo-material.ts'
import { demoScene } from './demo-scene.ts'
import { layUvs } from './lay-uvs.ts'
import { addBand, addLoft, curvePoint, pathRings, type Ring } from './loft.ts'
import { createPartBuilder, type Vec } from './part-builder.ts'

const PLUMAGE = 0
const HORN = 1
const LEATHER = 2
const BRASS = 3
const GLASS = 4

const TWO_PI = 2 * Math.PI

function buildBody(): Mesh {
  const builder = createPartBuilder()
  const rings = pathRings(
    [
      [0, 52, -34, 1.6, 0.9],
      [0, 54, -28, 4.2, 2.2],
      [0, 57, -18, 7.6, 6.2],
      [0, 60, -6, 10.4, 10.2],
      [0, 63, 6, 10.2, 11],
      [0, 68, 14, 7.2, 8],
      [0, 76, 17, 4.2, 4.6],
      [0, 84, 14, 3.1, 3.3],
      [0, 92, 12, 2.8, 3],
      [0, 100, 15, 2.9, 3.2],
      [0, 104.5, 19, 4, 3.9],
      [0, 105.5, 24.5, 3.9, 3.5],
      [0, 104.8, 28.5, 2.4, 2.2],
    ],
    56,
  )
  addLoft(builder, {
    rings,
    around: 32,
    material: PLUMAGE,
    groups: (row) => [row < 8 ? 'tail' : row < 26 ? 'trunk' : row < 44 ? 'neck' : 'head'],
  })
  return builder.build('body')
}

function buildWing(name: string, side: 1 | -1): Mesh {
  const builder = createPartBuilder()
  const rings = pathRings(
    [
      [side * 8.6, 66, 9, 0.9, 3.4],
      [side * 10.6, 65, 4, 1.3, 6.4],
      [side * 11.6, 62, -6, 1.4, 8],
      [side * 11, 58, -18, 1.2, 6.8],
      [side * 8.8, 53, -30, 0.8, 4],
      [side * 6.4, 49, -39, 0.4, 1.5],
    ],
    32,
    2.4,
  )
  addLoft(builder, {
    rings,
    around: 24,
    material: PLUMAGE,
    groups: (row) => ['wing', row < 14 ? 'coverts' : 'primaries'],
    rowCrease: (row) => (row === 14 ? 1.5 : 0),
  })
  return builder.build(name)
}

function buildLeg(name: string, side: 1 | -1): Mesh {
  const builder = createPartBuilder()
  const x = side * 4.6
  addLoft(builder, {
    rings: pathRings(
      [
        [x, 54, -2, 3.4, 3.6],
        [x, 47, -2.5, 2.1, 2.3],
        [x, 38, -1, 1.1, 1.2],
        [x, 29.5, 1.5, 1.25, 1.4],
        [x, 20, -0.5, 0.8, 0.85],
        [x, 9, -1.8, 0.75, 0.8],
        [x, 2, -2, 1.1, 1.2],
      ],
      28,
    ),
    around: 12,
    material: HORN,
    groups: (row) => [row < 7 ? 'thigh' : 'shank'],
  })
  const toes: [number, number][] = [
    [0, 11],
    [0.55, 9.5],
    [-0.55, 9.5],
    [Math.PI, 5],
  ]
  toes.forEach(([turn, length]) => {
    const dx = Math.sin(turn)
    const dz = Math.cos(turn)
    addLoft(builder, {
      rings: pathRings(
        [
          [x, 1.6, -2, 1, 1],
          [x + dx * length * 0.5, 1.3, -2 + dz * length * 0.5, 0.75, 0.8],
          [x + dx * length, 0.55, -2 + dz * length, 0.3, 0.35],
        ],
        8,
      ),
      around: 8,
      material: HORN,
      smoothing: 2,
      groups: () => ['toes'],
    })
  })
  return builder.build(name)
}

function buildBeak(): Mesh {
  const builder = createPartBuilder()
  const half = (name: string, lift: number, smoothing: number): void =>
    addLoft(builder, {
      rings: pathRings(
        [
          [0, 104.9 + lift, 28.2, 1.9, 0.95],
          [0, 104.6 + lift * 0.9, 34, 1.4, 0.75],
          [0, 104 + lift * 0.6, 40, 0.9, 0.5],
          [0, 103.2 + lift * 0.3, 47, 0.22, 0.16],
        ],
        18,
        1.35,
      ),
      around: 12,
      material: HORN,
      smoothing,
      capSmoothing: smoothing + 1,
      groups: () => ['beak', name],
      // the cutting edges and the ridge
      columnCrease: (column) =>
        column % 6 === 1.5 ? 0 : column === 0 || column === 3 ? 6 : column === 6 || column === 9 ? 3.5 : 0,
      rowCrease: (row) => (row === 0 ? 10 : 0),
    })
  half('upper', 0.75, 1)
  half('lower', -0.75, 3)
  return builder.build('beak')
}

function buildEye(name: string, side: 1 | -1): Mesh {
  const builder = createPartBuilder()
  const radius = 1.05
  const rings: Ring[] = []
  for (let row = 0; row <= 8; row++) {
    const angle = -Math.PI / 2.6 + (row / 8) * ((2 * Math.PI) / 2.6)
    rings.push({
      center: [side * (3.35 + radius * Math.sin(angle)), 106, 24.2],
      along: [side, 0, 0],
      side: radius * Math.cos(angle),
      up: radius * Math.cos(angle),
    })
  }
  addLoft(builder, {
    rings,
    around: 16,
    material: GLASS,
    startCap: 0.5,
    endCap: 0.5,
    groups: (row) => [row > 5 ? 'pupil' : 'eyeball'],
  })
  return builder.build(name)
}

function buildSatchel(): Mesh {
  const builder = createPartBuilder()
  const x = -14.6
  const rings: Ring[] = []
  const rows = 16
  for (let row = 0; row <= rows; row++) {
    const share = row / rows
    const swell = 1 + 0.08 * Math.sin(Math.PI * share)
    rings.push({
      center: [x, 42 + 11 * share, 2],
      along: [0, 1, 0],
      side: 2.6 * swell,
      up: 7.2 * swell,
      power: 7,
    })
  }
  addLoft(builder, {
    rings,
    around: 32,
    material: LEATHER,
    smoothing: 1,
    capSmoothing: 2,
    groups: () => ['pouch'],
    startCap: 0.08,
    endCap: 0.08,
    rowCrease: (row) => (row === 0 || row === rows ? 4 : 0),
  })
  // the flap: a sheet with thickness, folded over the front
  const fold: [number, number][] = [
    [x + 2.6, 53.7],
    [x, 54.5],
    [x - 2.2, 54.2],
    [x - 3.3, 52.6],
    [x - 3.4, 49.8],
    [x - 3.3, 46.6],
  ]
  const flap = (share: number): [number, number] => curvePoint(fold, share) as [number, number]
  const flapRings: Ring[] = []
  for (let row = 0; row <= 18; row++) {
    const [fx, fy] = flap(row / 18)
    const [nx, ny] = flap(Math.min(1, row / 18 + 0.03))
    const [px, py] = flap(Math.max(0, row / 18 - 0.03))
    flapRings.push({
      center: [fx, fy, 2],
      along: [nx - px, ny - py, 0],
      right: [0, 0, 1],
      side: 7.1,
      up: 0.3,
      power: 4,
    })
  }
  addLoft(builder, {
    rings: flapRings,
    around: 16,
    material: LEATHER,
    smoothing: 3,
    startCap: 0,
    endCap: 0,
    groups: () => ['flap'],
  })
  // the clasp
  addLoft(builder, {
    rings: [0, 1, 2, 3].map((row) => ({
      center: [x - 3.4 - row * 0.3, 48.6, 2] as Vec,
      along: [-1, 0, 0] as Vec,
      side: 1.1,
      up: 0.8,
      power: 5,
    })),
    around: 12,
    material: BRASS,
    smoothing: 4,
    capSmoothing: 5,
    groups: () => ['clasp'],
    startCap: 0.1,
    endCap: 0.2,
    rowCrease: (row) => (row === 0 || row === 3 ? 5 : 0),
  })
  return builder.build('satchel')
}

function buildStrap(): Mesh {
  const builder = createPartBuilder()
  // an oval from the satchel over the far shoulder and back
  const path = (share: number): Vec => {
    const angle = share * TWO_PI
    const c = Math.cos(angle)
    const s = Math.sin(angle)
    return [
      -1.6 + 13.2 * c * -1,
      62 + 12.6 * s - 7.5 * (c > 0 ? c * c : 0) + 1.5 * c,
      4.2 + 3.4 * Math.sin(angle * 2) * 0.4,
    ]
  }
  addBand(builder, {
    path,
    outward: (share) => {
      const p = path(share)
      return [p[0] + 1.6, p[1] - 60, 0]
    },
    width: 2.2,
    thickness: 0.42,
    steps: 72,
    material: LEATHER,
    smoothing: 1,
    group: 'strap',
    crease: 2,
  })
  return builder.build('strap')
}

function buildGoggles(): Mesh {
  const builder = createPartBuilder()
  for (const side of [1, -1] as const) {
    const center: Vec = [side * 4.05, 106, 24.2]
    addBand(builder, {
      path: (share) => {
        const angle = share * TWO_PI
        return [
          center[0] + side * 0.35,
          center[1] + 1.75 * Math.sin(angle),
          center[2] + 1.75 * Math.cos(angle) * side,
        ]
      },
      outward: (share) => {
        const angle = share * TWO_PI
        return [0, Math.sin(angle), Math.cos(angle) * side]
      },
      width: 1.1,
      thickness: 0.5,
      steps: 32,
      material: BRASS,
      smoothing: 1,
      group: side === 1 ? 'rim_left' : 'rim_right',
      crease: 4.5,
    })
    addLoft(builder, {
      rings: [0, 1, 2].map((row) => ({
        center: [center[0] + side * (0.45 + row * 0.09), center[1], center[2]] as Vec,
        along: [side, 0, 0] as Vec,
        side: 1.62,
        up: 1.62,
      })),
      around: 32,
      material: GLASS,
      smoothing: 2,
      groups: () => [side === 1 ? 'lens_left' : 'lens_right'],
      startCap: 0.12,
      endCap: 0.22,
    })
  }
  // the band round the head
  addBand(builder, {
    path: (share) => {
      const angle = share * TWO_PI
      return [
        4.25 * Math.sin(angle),
        106 + 1.1 * Math.cos(angle),
        23 + 4.6 * Math.cos(angle) * (Math.cos(angle) > 0 ? 0.9 : 1),
      ]
    },
    outward: (share) => [Math.sin(share * TWO_PI), 0, Math.cos(share * TWO_PI)],
    width: 1.2,
    thickness: 0.35,
    steps: 48,
    material: LEATHER,
    smoothing: 3,
    group: 'headband',
  })
  return builder.build('goggles')
}

function buildCrest(): Mesh {
  const builder = createPartBuilder()
  for (const side of [1, -1, 0])
    addLoft(builder, {
      rings: pathRings(
        [
          [side * 0.9, 107.6, 19.5, 0.55, 0.35],
          [side * 1.5, 108.6, 14, 0.7, 0.3],
          [side * 2, 107, 7, 0.5, 0.22],
          [side * 2.2, 103.5 - (side === 0 ? 1.5 : 0), 0.5 - (side === 0 ? 3 : 0), 0.12, 0.08],
        ],
        20,
      ),
      around: 8,
      material: PLUMAGE,
      groups: () => ['crest'],
    })
  return builder.build('crest')
}

/** The whole character: 11 parts, 5 materials, 6 maps. */
export function buildCourierHeron(): Scene {
  return demoScene(
    layUvs([
      buildBody(),
      buildWing('wing_left', 1),
      buildWing('wing_right', -1),
      buildLeg('leg_left', 1),
      buildLeg('leg_right', -1),
      buildBeak(),
      buildEye('eye_left', 1),
      buildEye('eye_right', -1),
      buildSatchel(),
      buildStrap(),
      buildGoggles(),
      buildCrest(),
    ]),
    [
      demoMaterial('plumage', [0.33, 0.4, 0.48], 0.75, 0, 1, [colorMap('maps/plumage_color.png')]),
      demoMaterial('horn', [0.68, 0.46, 0.2], 0.45, 0, 1, [colorMap('maps/horn_color.png')]),
      demoMaterial('leather', [0.42, 0.24, 0.14], 0.65, 0, 1, [colorMap('maps/leather_color.png')]),
      demoMaterial('brass', [0.62, 0.5, 0.26], 0.35, 1, 1, [
        colorMap('maps/brass_color.png'),
        roughnessMap('maps/brass_roughness.png'),
      ]),
      demoMaterial('glass', [0.3, 0.38, 0.38], 0.08, 0, 0.6, [colorMap('maps/glass_color.png')]),
    ],
    [
      demoImage('maps/plumage_color.png', plumageMap()),
      demoImage('maps/horn_color.png', hornMap()),
      demoImage('maps/leather_color.png', leatherMap()),
      demoImage('maps/brass_color.png', brassMap()),
      demoImage('maps/brass_roughness.png', brassRoughness()),
      demoImage('maps/glass_color.png', glassMap()),
    ],
  )
}
