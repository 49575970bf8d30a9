/** Maps of the demo's materials, drawn by arithmetic. */
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

const blend = (a: Color, b: Color, share: number): Color => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
]

/** Feathers: rows of scales, lighter at their tips. */
export const plumageMap = (): Uint8Array =>
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
  })

export const hornMap = (): Uint8Array =>
  drawColor((_u, v, x, y) =>
    blend([214, 156, 72], [142, 92, 40], 0.5 + 0.3 * Math.sin(v * 120) + 0.25 * (grain(x, y >> 2) - 0.5)),
  )

export const leatherMap = (): Uint8Array =>
  drawColor((u, v, x, y) => {
    const stitch = (v * 24) % 1 < 0.5 && Math.abs(((u * 8) % 1) - 0.06) < 0.015
    return stitch
      ? [222, 198, 150]
      : blend([124, 74, 44], [92, 50, 30], 0.6 * grain(x >> 1, y >> 1) + 0.2 * Math.sin(u * 25 + v * 13))
  })

export const brassMap = (): Uint8Array =>
  drawColor((u, v, x, y) =>
    blend(
      [196, 160, 84],
      [128, 100, 52],
      0.25 + 0.25 * grain(x, y >> 4) + 0.2 * Math.sin(u * 9) * Math.cos(v * 11),
    ),
  )

/** Numbers, saved as if they were colours: a fault that paint tools bring in. */
export const brassRoughness = (): Uint8Array =>
  drawGrey((u, v, x, y) => 0.32 + 0.12 * grain(x >> 1, y >> 3) + 0.06 * Math.sin(u * 30 + v * 17), 'sRGB')

export const glassMap = (): Uint8Array =>
  drawColor((u, v, x, y) =>
    blend([58, 74, 74], [120, 150, 146], 0.25 * grain(x, y) + 0.5 * (0.5 + 0.5 * Math.sin(u * 6 + v * 6))),
  )

export const ropeMap = (): Uint8Array =>
  drawColor((u, v, x, y) =>
    blend([196, 176, 132], [132, 110, 72], (((u * 4 + v * 60) % 1) + 0.3 * grain(x, y)) * 0.7),
  )

export const enamelMap = (): Uint8Array =>
  drawColor((u, v, x, y) => {
    const chipped = grain(x >> 3, y >> 3) > 0.985
    return chipped
      ? [88, 82, 76]
      : blend([46, 92, 96], [32, 70, 76], 0.4 * grain(x, y) + 0.3 * Math.sin(u * 8 + v * 5))
  })
