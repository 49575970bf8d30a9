import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { encode } from 'fast-png'
import { tryProblems } from '../../../../tests/checks.ts'
import { mapped, png } from '../../../../tests/check-shapes.ts'
import type { Slot } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { writePng } from '../../image/codecs/write-png.ts'

const asColor = (colorSpace?: 'sRGB'): Uint8Array =>
  writePng({
    width: 4,
    height: 4,
    channels: 3,
    pixels: new Uint8Array(48),
    ...(colorSpace ? { colorSpace } : {}),
  })
const withSlot = (scene: Scene, slot: Slot): Scene => ({
  ...scene,
  materials: scene.materials.map((material) => ({
    ...material,
    maps: material.maps.map((map) => ({ ...map, slot })),
  })),
})
const deep = new Uint8Array(
  encode({ width: 4, height: 4, channels: 1, depth: 16, data: new Uint16Array(16) }),
)
const normals = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(join(import.meta.dirname, `../../../../tests/reference/images/${name}.png`)))

tryProblems('map-contents', {
  'raw-as-color': {
    bad: mapped(['color.png', png(4, 4)], ['rough.png', asColor('sRGB')]),
    count: 1,
    // the same for a colour is as it should be
    near: mapped(['color.png', asColor('sRGB')], ['rough.png', asColor()]),
  },
  'few-bits': {
    bad: withSlot(mapped(['height.png', png(4, 4)]), 'displacement'),
    count: 1,
    near: withSlot(mapped(['height.png', deep]), 'displacement'),
  },
  'green-down': {
    bad: withSlot(mapped(['n.png', normals('normal-waves-y-down')]), 'normal'),
    count: 1,
    near: withSlot(mapped(['n.png', normals('normal-waves-y-up')]), 'normal'),
  },
  unused: {
    bad: {
      ...mapped(['color.png', png(4, 4)]),
      images: [
        { file: 'color.png', entry: 'color.png', bytes: png(4, 4) },
        { file: 'old.png', entry: 'old.png', bytes: png(4, 4) },
      ],
    },
    count: 1,
    near: mapped(['color.png', png(4, 4)]),
  },
})
