/** The numbers of tiles (1001 + column + 10 rows) in their lower left corners, in letters of one size on screen. */
import * as THREE from 'three'

/** Pixels: a letter's height with its room, and how far apart two are at least. */
const [HEIGHT, WIDTH, LEAST] = [15, 34, 44]

export function tileLabels() {
  const group = new THREE.Group()
  let shown = ''

  function clear(): void {
    for (const child of [...group.children]) {
      group.remove(child)
      const { material } = child as THREE.Sprite
      material.map?.dispose()
      material.dispose()
    }
  }

  return {
    group,
    show(columns: number, rows: number): void {
      const key = `${columns} ${rows}`
      if (key === shown) return
      shown = key
      clear()
      // one tile needs no number
      if (columns * rows < 2) return
      for (let row = 0; row < rows; row++)
        for (let column = 0; column < columns; column++) {
          const canvas = new OffscreenCanvas(4 * WIDTH, 4 * HEIGHT)
          const context = canvas.getContext('2d')!
          context.fillStyle = 'rgb(247 244 237 / 75%)'
          context.fillRect(0, 0, canvas.width, canvas.height)
          context.fillStyle = '#17181b'
          context.font = `${3 * HEIGHT}px system-ui, sans-serif`
          context.textAlign = 'center'
          context.textBaseline = 'middle'
          context.fillText(String(1001 + column + 10 * row), canvas.width / 2, canvas.height / 2)
          const map = new THREE.CanvasTexture(canvas)
          map.colorSpace = THREE.SRGBColorSpace
          const sprite = new THREE.Sprite(new THREE.SpriteMaterial({ map, depthTest: false }))
          sprite.center.set(0, 0)
          sprite.position.set(column, row, 0)
          sprite.renderOrder = 7
          group.add(sprite)
        }
    },
    /** @param pixel UV units of one pixel. */
    update(pixel: number): void {
      group.visible = 1 / pixel > LEAST
      for (const sprite of group.children) sprite.scale.set(WIDTH * pixel, HEIGHT * pixel, 1)
    },
  }
}
