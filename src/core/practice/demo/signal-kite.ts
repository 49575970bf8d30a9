/**
 * The signal kite: four sewn panels with a mark on them, a tail of ribbons, two rings and a line, about 160 cm from top to
 * end. Its maps lie in four UV sets, as a sewing tool leaves them: cloth that repeats by its length, shade and mark over
 * the whole sail, and one set in which nothing lies over anything else.
 */
import type { MapPlacement, Material, MaterialMap } from '../../scene/material.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { clothMap, clothNormals, kiteMark, kiteShade, ribbonMap, ropeMap } from './demo-maps.ts'
import { demoImage } from './demo-material.ts'
import { demoScene } from './demo-scene.ts'
import { layUvs } from './lay-uvs.ts'
import { addLoft, mix, type Ring } from './loft.ts'
import { createPartBuilder, type Vec } from './part-builder.ts'

const SAIL = 0
const RIBBON = 1
const BRASS = 2
const LINE = 3

const TOP: Vec = [0, 160, 0]
const LEFT: Vec = [-34, 126, 0]
const RIGHT: Vec = [34, 126, 0]
const BOTTOM: Vec = [0, 70, 0]
const MIDDLE: Vec = [0, 122, 0]
/** Quads along a side of a panel. */
const CELLS = 12
/** Centimetres that one repeat of the cloth is long. */
const REPEAT = 8

/** Cloth between its spars: it bellies out to the back. */
const bellied = ([x, y]: Vec): Vec => {
  const across = Math.min(1, Math.abs(x) / 34)
  const along = (y - 70) / 90
  return [x, y, -7 * Math.sin(Math.PI * along) * Math.sin(Math.PI * Math.min(1, across * 0.9 + 0.05))]
}

/** A panel from an outer corner over its two sides to the middle. */
function buildSail(): Mesh {
  const builder = createPartBuilder()
  const panels: [string, Vec, Vec, Vec][] = [
    ['panel top', TOP, mix(TOP, LEFT, 0.5), mix(TOP, RIGHT, 0.5)],
    ['panel left', LEFT, mix(LEFT, BOTTOM, 0.5), mix(TOP, LEFT, 0.5)],
    ['panel bottom', BOTTOM, mix(RIGHT, BOTTOM, 0.5), mix(LEFT, BOTTOM, 0.5)],
    ['panel right', RIGHT, mix(TOP, RIGHT, 0.5), mix(RIGHT, BOTTOM, 0.5)],
  ]
  const grids = panels.map(([name, corner, first, second]) =>
    builder.grid({
      columns: CELLS,
      rows: CELLS,
      point: (column, row) =>
        bellied(mix(mix(corner, first, column / CELLS), mix(second, MIDDLE, column / CELLS), row / CELLS)),
      material: SAIL,
      smoothing: 1,
      groups: () => [name],
    }),
  )
  // sewn: the way from a side's middle to the kite's belongs to two panels
  grids.forEach((grid, at) => {
    const next = grids[(at + 1) % grids.length]!
    for (let step = 0; step <= CELLS; step++) builder.join(grid[step]![CELLS]!, next[CELLS]![step]!)
  })
  return builder.build('sail')
}

/** Where the tail hangs, from the kite's lower corner down. */
const tailAt = (share: number): Vec => [7 * Math.sin(5 * share), 70 - 68 * share, 5 * Math.cos(4 * share) - 5]

function buildRibbon(number: number): Mesh {
  const builder = createPartBuilder()
  const middle = tailAt(0.22 + 0.18 * number)
  builder.grid({
    columns: 14,
    rows: 3,
    point: (column, row) => {
      const x = column / 14 - 0.5
      return [
        middle[0] + 20 * x,
        middle[1] + (row / 3 - 0.5) * (1.5 + 9 * Math.abs(x)) - 5 * x * x,
        middle[2] + 2.5 * Math.sin(7 * x + number),
      ]
    },
    material: RIBBON,
    smoothing: 1,
    groups: () => [`ribbon ${number + 1}`],
  })
  return builder.build(`ribbon ${number + 1}`)
}

function buildRing(name: string, [x, y, z]: Vec, radius: number): Mesh {
  const builder = createPartBuilder()
  builder.grid({
    columns: 24,
    rows: 8,
    closed: true,
    closedRows: true,
    point: (column, row) => {
      const around = (2 * Math.PI * column) / 24
      const across = (2 * Math.PI * row) / 8
      const reach = radius + 0.5 * Math.cos(across)
      return [x + reach * Math.cos(around), y + reach * Math.sin(around), z + 0.5 * Math.sin(across)]
    },
    material: BRASS,
    smoothing: 1,
    groups: () => ['rings'],
  })
  return builder.build(name)
}

function buildLine(): Mesh {
  const builder = createPartBuilder()
  const rings = Array.from({ length: 41 }, (_, at): Ring => {
    const [share, next] = [at / 40, Math.min(1, at / 40 + 0.01)]
    const [here, there] = [tailAt(share), tailAt(next === share ? share - 0.01 : next)]
    const turn = next === share ? -1 : 1
    return {
      center: here,
      along: [turn * (there[0] - here[0]), turn * (there[1] - here[1]), turn * (there[2] - here[2])],
      side: 0.35,
      up: 0.35,
      right: [1, 0, 0],
    }
  })
  addLoft(builder, {
    rings,
    around: 8,
    material: LINE,
    smoothing: 1,
    capSmoothing: 2,
    startCap: 0,
    endCap: 0,
    groups: () => ['line'],
  })
  return builder.build('line')
}

/** The sail seen from the front, the part of it between two corners from 0 to 1. */
const seenFrom = (
  mesh: Mesh,
  name: string,
  [left, bottom]: readonly [number, number],
  side: number,
): UvSet => ({
  name,
  values: Float64Array.from({ length: (mesh.points.length / 3) * 2 }, (_, at) => {
    const value = mesh.points[3 * (at >> 1) + (at % 2)]!
    return Number(((value - (at % 2 ? bottom : left)) / side).toFixed(6))
  }),
  indices: Int32Array.from(mesh.faceVertices),
  depths: null,
})

const map = (
  property: string,
  slot: MaterialMap['slot'],
  file: string,
  uvSet: string,
  more: Partial<MapPlacement> = {},
): MaterialMap => ({
  property,
  slot,
  file,
  options: [],
  placement: {
    name: file.replace(/^.*\/|\.png$/g, ''),
    uvSet,
    wrapU: 'repeat',
    wrapV: 'repeat',
    scale: [1, 1],
    offset: [0, 0],
    kept: [],
    ...more,
  },
})

const material = (
  name: string,
  color: readonly [number, number, number],
  shininess: number,
  maps: readonly MaterialMap[],
): Material => ({
  id: '',
  name,
  model: 'phong',
  properties: [
    { name: 'DiffuseColor', values: color, text: null },
    { name: 'SpecularColor', values: [0.2, 0.2, 0.2], text: null },
    { name: 'ShininessExponent', values: [shininess], text: null },
  ],
  maps,
  kept: [],
})

/** How one map lies over another, by FBX's numbers: by its opacity, and times what is below. */
const OVER = 0
const TIMES = 2

export function buildSignalKite(): Scene {
  const built = [
    buildSail(),
    ...[0, 1, 2, 3].map(buildRibbon),
    buildRing('ring top', [0, 161.6, -0.4], 1.2),
    buildRing('ring tail', [0, 68.6, 0], 1.4),
    buildLine(),
  ]
  // one tile for all parts, whatever their material
  const laid = layUvs(built.map((mesh) => ({ ...mesh, faceMaterials: mesh.faceMaterials!.map(() => SAIL) })))
  const meshes = built.map((mesh, at): Mesh => {
    const own = mesh.uvSets[0]!
    const cloth: UvSet = {
      ...own,
      name: 'cloth',
      values: own.values.map((value) => Number((value / REPEAT).toFixed(6))),
    }
    const flat: UvSet = { ...laid[at]!.uvSets[0]!, name: 'flat' }
    if (at > 0) return { ...mesh, uvSets: [cloth, flat] }
    return {
      ...mesh,
      uvSets: [cloth, seenFrom(mesh, 'shade', [-46, 69], 92), seenFrom(mesh, 'mark', [-14, 108], 28), flat],
    }
  })
  const stack = (blend: number, alpha = 1) => ({ stack: { name: 'sail', blend, alpha } })
  return {
    ...demoScene(
      meshes,
      [
        material('sail_cloth', [0.8, 0.8, 0.8], 12, [
          map('DiffuseColor', 'baseColor', 'maps/cloth_color.png', 'cloth', stack(OVER)),
          map('DiffuseColor', 'baseColor', 'maps/sail_shade.png', 'shade', stack(TIMES, 0.8)),
          map('DiffuseColor', 'baseColor', 'maps/signal_mark.png', 'mark', {
            ...stack(OVER),
            wrapU: 'clamp',
            wrapV: 'clamp',
          }),
          map('NormalMap', 'normal', 'maps/cloth_normal.png', 'cloth'),
        ]),
        material('tail_ribbon', [0.8, 0.8, 0.8], 20, [
          map('DiffuseColor', 'baseColor', 'maps/ribbon_color.png', 'cloth'),
          map('NormalMap', 'normal', 'maps/cloth_normal.png', 'cloth', { scale: [2, 2] }),
        ]),
        material('ring_brass', [0.62, 0.48, 0.22], 80, []),
        material('kite_line', [0.8, 0.8, 0.8], 8, [
          map('DiffuseColor', 'baseColor', 'maps/line_color.png', 'cloth'),
        ]),
      ],
      [
        demoImage('maps/cloth_color.png', clothMap()),
        demoImage('maps/sail_shade.png', kiteShade()),
        demoImage('maps/signal_mark.png', kiteMark()),
        demoImage('maps/cloth_normal.png', clothNormals()),
        demoImage('maps/ribbon_color.png', ribbonMap()),
        demoImage('maps/line_color.png', ropeMap()),
      ],
    ),
    format: 'fbx',
  }
}
