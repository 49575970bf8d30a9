/** A camera that goes round what it looks at, Y or Z up. */
import * as THREE from 'three'
import { diagonalOf, type Box } from '../../core/base/math/box.ts'

/** Share of the view that a framed model fills. */
const FRAME_MARGIN = 1.0
/** Radians; straight above and below stay a little aslant. */
const STEEPEST = 1.55

export interface OrbitCamera {
  readonly camera: THREE.PerspectiveCamera
  readonly resize: (width: number, height: number) => void
  /** Puts the camera where it has been moved to. */
  readonly place: () => void
  /** Comes as near as the whole box allows; `whole` is the model that it is a part of. */
  readonly frame: (box: Box | null, whole: Box | null) => void
  /** Turns to the side of the model that a place is on. */
  readonly lookFrom: (whole: Box, place: Box) => void
  /** Pixels. */
  readonly turn: (dx: number, dy: number) => void
  readonly move: (dx: number, dy: number) => void
  /** Steps of a wheel; farther is positive. */
  readonly zoom: (steps: number) => void
}

export function createOrbitCamera(zUp: () => boolean): OrbitCamera {
  const camera = new THREE.PerspectiveCamera(32, 1, 0.01, 1000)
  const orbit = { yaw: 0.62, pitch: 0.22, distance: 10, target: new THREE.Vector3() }
  let width = 1
  let height = 1
  /** Half the model's diagonal. */
  let radius = 1

  function place(): void {
    const { yaw, pitch, distance, target } = orbit
    const flat = Math.cos(pitch) * distance
    const offset = new THREE.Vector3(Math.sin(yaw) * flat, Math.sin(pitch) * distance, Math.cos(yaw) * flat)
    if (zUp()) offset.set(offset.x, -offset.z, offset.y)
    camera.up.set(0, zUp() ? 0 : 1, zUp() ? 1 : 0)
    camera.position.copy(target).add(offset)
    camera.near = Math.max(distance - radius * 4, distance / 500)
    camera.far = distance + radius * 8
    camera.lookAt(target)
    camera.aspect = width / height
    camera.updateProjectionMatrix()
  }

  return {
    camera,
    place,
    resize(nextWidth, nextHeight) {
      width = nextWidth
      height = nextHeight
    },
    lookFrom(whole, at) {
      const away = [0, 1, 2].map(
        (axis) => (at.min[axis]! + at.max[axis]! - whole.min[axis]! - whole.max[axis]!) / 2,
      )
      const [x, y, z] = zUp() ? [away[0]!, away[2]!, -away[1]!] : [away[0]!, away[1]!, away[2]!]
      // what goes round the model is seen from any side; in its middle no side is nearer than another
      if (diagonalOf(at) > 0.4 * diagonalOf(whole)) return
      if (Math.hypot(x!, y!, z!) < 0.12 * diagonalOf(whole)) return
      if (Math.hypot(x!, z!) > 1e-6 * diagonalOf(whole)) orbit.yaw = Math.atan2(x!, z!)
      orbit.pitch = Math.max(-1.2, Math.min(1.2, Math.atan2(y!, Math.hypot(x!, z!)))) * 0.7
    },
    frame(box, whole) {
      if (!box) return
      orbit.target.set(...([0, 1, 2].map((k) => (box.min[k]! + box.max[k]!) / 2) as [number, number, number]))
      place()
      camera.updateMatrixWorld()
      // the least distance at which all eight corners of the box are in view
      const right = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0)
      const up = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 1)
      const toward = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 2)
      const tangent = Math.tan((camera.fov * Math.PI) / 360)
      let distance = 0
      for (let corner = 0; corner < 8; corner++) {
        const offset = new THREE.Vector3(
          ...([0, 1, 2].map((k) => (corner & (1 << k) ? box.max[k]! : box.min[k]!)) as [
            number,
            number,
            number,
          ]),
        ).sub(orbit.target)
        const across = Math.max(
          Math.abs(offset.dot(up)) / tangent,
          Math.abs(offset.dot(right)) / (tangent * (width / height)),
        )
        distance = Math.max(distance, across + offset.dot(toward))
      }
      orbit.distance = Math.max(distance * FRAME_MARGIN, 1e-9)
      if (whole) radius = 1e-9 + diagonalOf(whole) / 2
    },
    turn(dx, dy) {
      orbit.yaw -= dx * 0.008
      orbit.pitch = Math.max(-STEEPEST, Math.min(STEEPEST, orbit.pitch + dy * 0.008))
    },
    move(dx, dy) {
      const perPixel = (2 * orbit.distance * Math.tan((camera.fov * Math.PI) / 360)) / height
      const right = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0)
      const up = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 1)
      orbit.target.addScaledVector(right, -dx * perPixel).addScaledVector(up, dy * perPixel)
    },
    zoom(steps) {
      orbit.distance = Math.max(radius * 0.01, Math.min(radius * 60, orbit.distance * 1.12 ** steps))
    },
  }
}
