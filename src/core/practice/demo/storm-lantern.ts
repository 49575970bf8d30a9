/** The storm lantern: the demo's prop, about 34 cm tall. Turned metal, a glass chimney, wire and a rope loop. */
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { brassMap, brassRoughness, enamelMap, glassMap, ropeMap } from './demo-maps.ts'
import { colorMap, demoImage, demoMaterial, roughnessMap } from './demo-material.ts'
import { demoScene } from './demo-scene.ts'
import { layUvs } from './lay-uvs.ts'
import { addBand, addLoft, pathRings } from './loft.ts'
import { createPartBuilder, type Vec } from './part-builder.ts'
import { buildTurned } from './turned.ts'

const ENAMEL = 0
const BRASS = 1
const GLASS = 2
const ROPE = 3

function buildWire(): Mesh {
  const builder = createPartBuilder()
  for (let rod = 0; rod < 4; rod++) {
    const angle = (rod / 4) * 2 * Math.PI + Math.PI / 4
    const at = (radius: number, height: number): [number, number, number, number, number] => [
      radius * Math.cos(angle),
      height,
      radius * Math.sin(angle),
      0.22,
      0.22,
    ]
    addLoft(builder, {
      rings: pathRings([at(5.6, 8), at(6.4, 10.5), at(6.9, 14.5), at(6.4, 18.5), at(5, 21.4)], 24),
      around: 8,
      material: BRASS,
      groups: () => ['guard'],
    })
  }
  for (const height of [12, 17])
    addBand(builder, {
      path: (share) => {
        const angle = share * 2 * Math.PI
        const radius = height === 12 ? 6.75 : 6.75
        return [radius * Math.cos(angle), height, radius * Math.sin(angle)]
      },
      outward: (share) => [Math.cos(share * 2 * Math.PI), 0, Math.sin(share * 2 * Math.PI)],
      width: 0.34,
      thickness: 0.34,
      steps: 64,
      material: BRASS,
      smoothing: 2,
      group: 'hoop',
    })
  return builder.build('wire_guard')
}

function buildHandle(): Mesh {
  const builder = createPartBuilder()
  const path: [number, number, number, number, number][] = []
  for (let step = 0; step <= 12; step++) {
    const angle = Math.PI * (1 - step / 12)
    path.push([6.6 * Math.cos(angle), 22 + 9.5 * Math.sin(angle), 0, 0.26, 0.26])
  }
  addLoft(builder, {
    rings: pathRings(path, 48),
    around: 8,
    material: BRASS,
    groups: () => ['handle'],
  })
  return builder.build('handle')
}

function buildRope(): Mesh {
  const builder = createPartBuilder()
  // two strands wound round each other through the handle's top
  for (const strand of [0, 1]) {
    const path = (share: number): Vec => {
      const angle = share * 2 * Math.PI
      const twist = share * 2 * Math.PI * 11 + strand * Math.PI
      const ring = 2.6 + 0.34 * Math.cos(twist)
      return [0.34 * Math.sin(twist), 33.6 + ring * Math.sin(angle), ring * Math.cos(angle)]
    }
    addBand(builder, {
      path,
      outward: (share) => [0, Math.sin(share * 2 * Math.PI), Math.cos(share * 2 * Math.PI)],
      width: 0.52,
      thickness: 0.52,
      steps: 168,
      material: ROPE,
      smoothing: 1,
      group: strand === 0 ? 'strand_a' : 'strand_b',
    })
  }
  return builder.build('rope')
}

/** The whole prop: 7 parts, 4 materials. */
export function buildStormLantern(): Scene {
  return demoScene(
    layUvs([
      buildTurned(
        'tank',
        [
          [6.6, 0],
          [7.4, 0.25],
          [7.6, 0.8],
          [7.6, 4.2],
          [7.3, 5],
          [6, 5.7],
          [4.4, 6.1],
          [3.4, 6.6],
          [3.4, 7.4],
          [4.6, 7.6],
          [5.4, 8],
          [5.4, 8.6],
          [5, 8.9],
        ],
        { material: ENAMEL, creased: [1, 3, 11], group: 'tank' },
      ),
      buildTurned(
        'chimney',
        [
          [3.8, 8.8],
          [4.8, 10],
          [5.6, 12],
          [5.9, 14.4],
          [5.5, 17],
          [4.6, 19.2],
          [3.8, 20.8],
        ],
        { material: GLASS, creased: [], group: 'chimney', open: true },
      ),
      buildTurned(
        'hood',
        [
          [5.2, 20.6],
          [6.2, 20.8],
          [6.2, 21.6],
          [5.2, 22.4],
          [3.6, 23.2],
          [3.2, 24.6],
          [4.4, 25],
          [4.4, 25.6],
          [2.2, 26.6],
        ],
        { material: ENAMEL, creased: [1, 2, 6, 7], group: 'hood' },
      ),
      buildTurned(
        'burner',
        [
          [2.6, 8.7],
          [2.8, 9.4],
          [2.2, 10],
          [1.2, 10.6],
          [0.6, 11.4],
          [0.5, 12.2],
        ],
        { material: BRASS, creased: [1], group: 'burner' },
      ),
      buildWire(),
      buildHandle(),
      buildRope(),
    ]),
    [
      demoMaterial('enamel', [0.18, 0.36, 0.38], 0.3, 0, 1, [colorMap('maps/enamel_color.png')]),
      demoMaterial('brass', [0.62, 0.5, 0.26], 0.35, 1, 1, [
        colorMap('maps/brass_color.png'),
        roughnessMap('maps/brass_roughness.png'),
      ]),
      demoMaterial('chimney_glass', [0.5, 0.58, 0.56], 0.05, 0, 0.35, [colorMap('maps/glass_color.png')]),
      demoMaterial('rope', [0.62, 0.52, 0.36], 0.9, 0, 1, [colorMap('maps/rope_color.png')]),
    ],
    [
      demoImage('maps/enamel_color.png', enamelMap()),
      demoImage('maps/brass_color.png', brassMap()),
      demoImage('maps/brass_roughness.png', brassRoughness()),
      demoImage('maps/glass_color.png', glassMap()),
      demoImage('maps/rope_color.png', ropeMap()),
    ],
  )
}
