import type { ImageOperation } from './operation.ts'
import { changeBits } from './change-bits.ts'
import { changeSpace } from './change-space.ts'
import { carryMapsToUvs } from './carry-maps-to-uvs.ts'
import { cutTiles } from './cut-tiles.ts'
import { flipGreen } from './flip-green.ts'
import { heightsToNormals } from './heights-to-normals.ts'
import { invert } from './invert.ts'
import { joinTiles } from './join-tiles.ts'
import { packChannels } from './pack-channels.ts'
import { renormalise } from './renormalise.ts'
import { resize } from './resize.ts'
import { padIslands } from './pad-islands.ts'
import { saveAs } from './save-as.ts'
import { takeChannel } from './take-channel.ts'

export const IMAGE_OPERATIONS: readonly ImageOperation[] = [
  invert,
  flipGreen,
  renormalise,
  heightsToNormals,
  takeChannel,
  packChannels,
  changeSpace,
  changeBits,
  resize,
  joinTiles,
  cutTiles,
  carryMapsToUvs,
  padIslands,
  saveAs,
]

export const imageOperation = (id: string): ImageOperation | undefined =>
  IMAGE_OPERATIONS.find((operation) => operation.id === id)
