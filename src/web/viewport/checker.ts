/** A checker over every tile, on which stretch and the size of islands can be seen. */
import * as THREE from 'three'

/** Squares along a tile's side. */
const SQUARES = 32

let made: THREE.DataTexture | null = null

/** One for all: it is never changed. */
export function checkerTexture(): THREE.DataTexture {
  if (made) return made
  const side = 64
  const pixels = new Uint8Array(4 * side * side)
  for (let row = 0; row < side; row++)
    for (let column = 0; column < side; column++) {
      const isDark = row < side / 2 !== column < side / 2
      // a corner in its own shade shows which way u and v run
      const isMark = !isDark && row < side / 8 && column < side / 8
      pixels.set(
        isMark ? [74, 128, 132, 255] : isDark ? [142, 136, 126, 255] : [222, 216, 204, 255],
        4 * (row * side + column),
      )
    }
  made = new THREE.DataTexture(pixels, side, side)
  made.colorSpace = THREE.SRGBColorSpace
  made.wrapS = made.wrapT = THREE.RepeatWrapping
  made.repeat.set(SQUARES / 2, SQUARES / 2)
  made.magFilter = THREE.NearestFilter
  made.minFilter = THREE.LinearMipmapLinearFilter
  made.generateMipmaps = true
  made.needsUpdate = true
  return made
}
