/** Maps of the demo's materials, drawn by arithmetic. */
import { heightToNormal } from '../../image/operations/height-to-normal.ts'
import { once } from '../../base/remembering/once.ts'
import { writePng } from '../../image/codecs/write-png.ts'

type Color = readonly [number, number, number]

export const DEMO_MAP_SIZE = 256

/** A number from 0 to 1 that looks random but follows from its place. */
function grain(x: number, y: number): number {
  let h = Math.imul(x, 374761393) + Math.imul(y, 668265263)
  h = Math.imul(h ^ (h >>> 13), 1274126177)
  return ((h ^ (h >>> 16)) >>> 0) / 4294967295
}

function drawColor(shade: (u: number, v: number, x: number, y: number) => Color): Uint8Array {
  const pixels = new Uint8Array(DEMO_MAP_SIZE * DEMO_MAP_SIZE * 3)
  for (let y = 0; y < DEMO_MAP_SIZE; y++)
    for (let x = 0; x < DEMO_MAP_SIZE; x++) {
      const color = shade((x + 0.5) / DEMO_MAP_SIZE, 1 - (y + 0.5) / DEMO_MAP_SIZE, x, y)
      for (let channel = 0; channel < 3; channel++)
        pixels[(y * DEMO_MAP_SIZE + x) * 3 + channel] = Math.max(
          0,
          Math.min(255, Math.round(color[channel]!)),
        )
    }
  return writePng({ width: DEMO_MAP_SIZE, height: DEMO_MAP_SIZE, channels: 3, pixels, colorSpace: 'sRGB' })
}

function drawGrey(
  shade: (u: number, v: number, x: number, y: number) => number,
  colorSpace?: 'sRGB',
): Uint8Array {
  const pixels = new Uint8Array(DEMO_MAP_SIZE * DEMO_MAP_SIZE)
  for (let y = 0; y < DEMO_MAP_SIZE; y++)
    for (let x = 0; x < DEMO_MAP_SIZE; x++)
      pixels[y * DEMO_MAP_SIZE + x] = Math.round(
        255 * shade((x + 0.5) / DEMO_MAP_SIZE, 1 - (y + 0.5) / DEMO_MAP_SIZE, x, y),
      )
  return writePng({ width: DEMO_MAP_SIZE, height: DEMO_MAP_SIZE, channels: 1, pixels, colorSpace })
}

/** Drawn at the first call; each call gets bytes of its own, since whoever gets them may pass them on to a thread. */
function drawnOnce(draw: () => Uint8Array): () => Uint8Array {
  const drawn = once(draw)
  return () => drawn().slice()
}

const blend = (a: Color, b: Color, share: number): Color => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
]

/** Feathers: rows of scales, lighter at their tips. */
export const plumageMap = drawnOnce(() =>
  drawColor((u, v, x, y) => {
    const row = Math.floor(v * 36)
    const across = (u * 30 + (row % 2) * 0.5) % 1
    const along = (v * 36) % 1
    const scale = Math.hypot((across - 0.5) * 1.5, along - 0.15)
    const base = blend([96, 116, 138], [66, 82, 104], Math.min(1, scale * 1.1))
    return blend(
      base,
      [178, 190, 200],
      0.35 * Math.max(0, 0.4 - Math.abs(scale - 0.55) * 3) + 0.1 * grain(x, y),
    )
  }),
)

export const hornMap = drawnOnce(() =>
  drawColor((_u, v, x, y) =>
    blend([214, 156, 72], [142, 92, 40], 0.5 + 0.3 * Math.sin(v * 120) + 0.25 * (grain(x, y >> 2) - 0.5)),
  ),
)

export const leatherMap = drawnOnce(() =>
  drawColor((u, v, x, y) => {
    const stitch = (v * 24) % 1 < 0.5 && Math.abs(((u * 8) % 1) - 0.06) < 0.015
    return stitch
      ? [222, 198, 150]
      : blend([124, 74, 44], [92, 50, 30], 0.6 * grain(x >> 1, y >> 1) + 0.2 * Math.sin(u * 25 + v * 13))
  }),
)

export const brassMap = drawnOnce(() =>
  drawColor((u, v, x, y) =>
    blend(
      [196, 160, 84],
      [128, 100, 52],
      0.25 + 0.25 * grain(x, y >> 4) + 0.2 * Math.sin(u * 9) * Math.cos(v * 11),
    ),
  ),
)

/** Numbers, saved as if they were colours: a fault that paint tools bring in. */
export const brassRoughness = drawnOnce(() =>
  drawGrey((u, v, x, y) => 0.32 + 0.12 * grain(x >> 1, y >> 3) + 0.06 * Math.sin(u * 30 + v * 17), 'sRGB'),
)

export const glassMap = drawnOnce(() =>
  drawColor((u, v, x, y) =>
    blend([58, 74, 74], [120, 150, 146], 0.25 * grain(x, y) + 0.5 * (0.5 + 0.5 * Math.sin(u * 6 + v * 6))),
  ),
)

export const ropeMap = drawnOnce(() =>
  drawColor((u, v, x, y) =>
    blend([196, 176, 132], [132, 110, 72], (((u * 4 + v * 60) % 1) + 0.3 * grain(x, y)) * 0.7),
  ),
)

export const enamelMap = drawnOnce(() =>
  drawColor((u, v, x, y) => {
    const chipped = grain(x >> 3, y >> 3) > 0.985
    return chipped
      ? [88, 82, 76]
      : blend([46, 92, 96], [32, 70, 76], 0.4 * grain(x, y) + 0.3 * Math.sin(u * 8 + v * 5))
  }),
)

/** Woven cloth: threads over and under, 16 to a repeat; it goes on beyond its borders. */
const THREADS = 16
const thread = (u: number, v: number): { isOver: boolean; along: number; across: number } => {
  const [x, y] = [u * THREADS, v * THREADS]
  const isOver = (Math.floor(x) + Math.floor(y)) % 2 === 0
  return { isOver, along: (isOver ? x : y) % 1, across: (isOver ? y : x) % 1 }
}

export const clothMap = drawnOnce(() =>
  drawColor((u, v, x, y) => {
    const { isOver, across } = thread(u, v)
    const round = Math.sin(Math.PI * across)
    const base: Color = isOver ? [226, 214, 188] : [212, 198, 170]
    return blend([150, 136, 112], base, 0.55 + 0.4 * round + 0.05 * grain(x, y))
  }),
)

/** Threads as high as they are round, over and under each other; green points up. */
export const clothNormals = drawnOnce(() => {
  const count = DEMO_MAP_SIZE * DEMO_MAP_SIZE
  const heights = new Float32Array(count)
  for (let at = 0; at < count; at++) {
    const u = ((at % DEMO_MAP_SIZE) + 0.5) / DEMO_MAP_SIZE
    const v = (Math.floor(at / DEMO_MAP_SIZE) + 0.5) / DEMO_MAP_SIZE
    const [x, y] = [Math.PI * THREADS * u, Math.PI * THREADS * v]
    heights[at] = 0.5 + 0.25 * Math.sin(x) * Math.sin(y) + 0.12 * (Math.cos(2 * x) + Math.cos(2 * y))
  }
  const { values } = heightToNormal(
    { width: DEMO_MAP_SIZE, height: DEMO_MAP_SIZE, channels: 1, bits: 32, values: heights },
    3,
  )
  const pixels = Uint8Array.from(values, (value) => Math.round(value / 257))
  return writePng({ width: DEMO_MAP_SIZE, height: DEMO_MAP_SIZE, channels: 3, pixels })
})

/** Light and dark over the whole sail: dark along spars and seams, as sun and salt leave it. */
export const kiteShade = drawnOnce(() =>
  drawColor((u, v, x, y) => {
    const spar = Math.min(Math.abs(u - 0.5), Math.abs(v - 0.58))
    const shade = 255 * (0.62 + 0.38 * Math.min(1, spar * 7) - 0.06 * grain(x >> 2, y >> 2))
    return [shade, shade, shade * 0.98]
  }),
)

/** The mark that is sewn on: a ring round a bar, clear outside. */
export const kiteMark = drawnOnce(() => {
  const pixels = new Uint8Array(DEMO_MAP_SIZE * DEMO_MAP_SIZE * 4)
  for (let row = 0; row < DEMO_MAP_SIZE; row++)
    for (let column = 0; column < DEMO_MAP_SIZE; column++) {
      const [x, y] = [(column + 0.5) / DEMO_MAP_SIZE - 0.5, 0.5 - (row + 0.5) / DEMO_MAP_SIZE]
      const away = Math.hypot(x, y)
      const ring = Math.min(1, Math.max(0, (0.08 - Math.abs(away - 0.38)) * 60))
      const bar = Math.min(1, Math.max(0, Math.min(0.06 - Math.abs(y), 0.26 - Math.abs(x)) * 60))
      pixels.set([176, 42, 34, Math.round(255 * Math.max(ring, bar))], (row * DEMO_MAP_SIZE + column) * 4)
    }
  return writePng({ width: DEMO_MAP_SIZE, height: DEMO_MAP_SIZE, channels: 4, pixels, colorSpace: 'sRGB' })
})

export const ribbonMap = drawnOnce(() =>
  drawColor((u, v, x, y) =>
    blend(
      (u * 4) % 1 < 0.5 ? [176, 42, 34] : [226, 214, 188],
      [90, 60, 50],
      0.12 * grain(x, y) + 0.1 * Math.sin(v * 50),
    ),
  ),
)
