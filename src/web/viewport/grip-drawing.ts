/** The frame around what is chosen in the flat view: it is moved inside it, scaled at its corners, turned at the dot above. */
import * as THREE from 'three'
import { NOT_PLACED, placedAt, type Gripped, type Hold } from './flat-grip.ts'
import type { LoadedPart } from './loaded-part.ts'
import { VIEW_COLORS } from './view-colors.ts'
import type { HandPlacing } from './viewer-messages.ts'

/** Pixels: half a corner's square, the dot above the frame, room for the hand. */
const [CORNER, ABOVE, REACH] = [4, 22, 9]
const EVERYWHERE = new THREE.Sphere(new THREE.Vector3(), Infinity)

export function createGripDrawing() {
  const group = new THREE.Group()
  let grip: Gripped | null = null
  let moved: { from: Float32Array; uvs: Uint32Array; attribute: THREE.BufferAttribute }[] = []
  let frame: THREE.LineSegments | null = null

  function clear(): void {
    for (const child of [...group.children]) {
      group.remove(child)
      const drawn = child as THREE.LineSegments
      drawn.geometry.dispose()
      ;(drawn.material as THREE.Material).dispose()
    }
    moved = []
    frame = null
  }

  function addLines(
    attribute: THREE.BufferAttribute,
    index: Uint32Array | null,
    color: number,
  ): THREE.LineSegments {
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', attribute)
    if (index) geometry.setIndex(new THREE.BufferAttribute(index, 1))
    geometry.boundingSphere = EVERYWHERE
    const lines = new THREE.LineSegments(
      geometry,
      new THREE.LineBasicMaterial({
        color,
        transparent: true,
        depthTest: false,
      }),
    )
    lines.frustumCulled = false
    lines.renderOrder = 6
    group.add(lines)
    return lines
  }

  return {
    group,
    /** @param parts whose UVs are held in part. @param givesWay other UVs of these parts may move as well. */
    build(next: Gripped | null, parts: readonly LoadedPart[], givesWay: boolean): void {
      clear()
      grip = next
      if (!grip) return
      for (const { positions, uvs, isGripped } of grip.parts) {
        const part = parts.find(({ drawn }) => drawn.uvPositions === positions)
        if (!part) continue
        const lines: number[] = []
        const all = part.drawn.uvLines()
        for (let at = 0; at < all.length; at += 2)
          if (givesWay || isGripped[all[at]!] || isGripped[all[at + 1]!]) lines.push(all[at]!, all[at + 1]!)
        const attribute = new THREE.BufferAttribute(positions.slice(), 2)
        addLines(attribute, Uint32Array.from(lines), VIEW_COLORS.chosen)
        moved.push({ from: positions, uvs, attribute })
      }
      frame = addLines(new THREE.BufferAttribute(new Float32Array(3 * 2 * 32), 3), null, VIEW_COLORS.frame)
    },
    /** @param pixel UV units of one pixel. @param givenWay where all UVs of a part lie while some are drawn. */
    update(
      placing: HandPlacing | null,
      pixel: number,
      givenWay: ReadonlyMap<Float32Array, Float32Array> | null,
    ): void {
      if (!grip || !frame) return
      const own = placing ?? NOT_PLACED
      for (const { from, uvs, attribute } of moved) {
        const into = attribute.array
        into.set(givenWay?.get(from) ?? from)
        for (const uv of givenWay?.has(from) ? [] : uvs) {
          const [u, v] = placedAt(grip, own, from[2 * uv]!, from[2 * uv + 1]!)
          into[2 * uv] = u
          into[2 * uv + 1] = v
        }
        attribute.needsUpdate = true
      }
      const { low, high } = grip
      const place = (u: number, v: number): [number, number] => placedAt(grip!, own, u, v)
      const corners = [
        place(low[0], low[1]),
        place(high[0], low[1]),
        place(high[0], high[1]),
        place(low[0], high[1]),
      ]
      const ends: number[] = []
      const line = (a: readonly number[], b: readonly number[]): void =>
        void ends.push(a[0]!, a[1]!, 0, b[0]!, b[1]!, 0)
      corners.forEach((corner, at) => {
        line(corner, corners[(at + 1) % 4]!)
        const r = CORNER * pixel
        const square = [
          [corner[0] - r, corner[1] - r],
          [corner[0] + r, corner[1] - r],
          [corner[0] + r, corner[1] + r],
          [corner[0] - r, corner[1] + r],
        ]
        square.forEach((from, side) => line(from, square[(side + 1) % 4]!))
      })
      const [cu, cv] = dotOf(grip, pixel)
      const dot = place(cu, cv)
      line(place(cu, high[1]), dot)
      const sides = 10
      for (let at = 0; at < sides; at++) {
        const [a, b] = [at, at + 1].map((k) => (2 * Math.PI * k) / sides) as [number, number]
        const r = 1.2 * CORNER * pixel
        line(
          [dot[0] + r * Math.cos(a), dot[1] + r * Math.sin(a)],
          [dot[0] + r * Math.cos(b), dot[1] + r * Math.sin(b)],
        )
      }
      const attribute = frame.geometry.getAttribute('position') as THREE.BufferAttribute
      attribute.array.fill(0)
      attribute.array.set(ends)
      attribute.needsUpdate = true
      frame.geometry.setDrawRange(0, ends.length / 3)
    },
    /** What a hand at this place takes hold of; null: nothing. */
    at(u: number, v: number, pixel: number): { hold: Hold; corner: [number, number] } | null {
      if (!grip) return null
      const { low, high } = grip
      const near = (pu: number, pv: number): boolean => Math.hypot(u - pu, v - pv) < REACH * pixel
      const [du, dv] = dotOf(grip, pixel)
      if (near(du, dv)) return { hold: 'turn', corner: [du, dv] }
      const hasSize = high[0] - low[0] + high[1] - low[1] > 0
      for (const pu of [low[0], high[0]])
        for (const pv of [low[1], high[1]])
          if (hasSize && near(pu, pv)) return { hold: 'scale', corner: [pu, pv] }
      const room = hasSize ? 0 : REACH * pixel
      const isInside = u >= low[0] - room && u <= high[0] + room && v >= low[1] - room && v <= high[1] + room
      return isInside ? { hold: 'move', corner: [u, v] } : null
    },
  }
}

const dotOf = ({ low, high }: Gripped, pixel: number): [number, number] => [
  (low[0] + high[0]) / 2,
  high[1] + ABOVE * pixel,
]
