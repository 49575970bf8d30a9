/** A ball of one material under the project's light set, physically based as three's material has it. */
import {
  Mesh,
  NeutralToneMapping,
  PerspectiveCamera,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  WebGLRenderer,
} from 'three'
import type { SurfaceValues } from '../../../core/surfaces/model.ts'
import { createLightSet } from '../../viewport/light-set.ts'
import { litMaterial } from '../../viewport/lit-material.ts'

export interface BallDrawer {
  /** Red, green, blue and opacity as bytes, rows from the top; the ground is see-through. */
  readonly draw: (values: SurfaceValues) => Uint8ClampedArray<ArrayBuffer>
  readonly size: number
  readonly end: () => void
}

export function createBallDrawer(size: number): BallDrawer {
  const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  renderer.setSize(size, size, false)
  renderer.outputColorSpace = SRGBColorSpace
  renderer.toneMapping = NeutralToneMapping
  renderer.setClearColor(0x000000, 0)
  const scene = new Scene()
  scene.environment = createLightSet(renderer)
  const ball = new Mesh(new SphereGeometry(1, 96, 64))
  scene.add(ball)
  const camera = new PerspectiveCamera(26, 1, 0.1, 20)
  camera.position.set(0, 0.35, 4.9)
  camera.lookAt(0, 0, 0)
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = size
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  return {
    size,
    draw(values) {
      const material = litMaterial(values)
      ball.material = material
      renderer.render(scene, camera)
      material.dispose()
      context.clearRect(0, 0, size, size)
      context.drawImage(renderer.domElement, 0, 0)
      return context.getImageData(0, 0, size, size).data
    },
    end() {
      ball.geometry.dispose()
      renderer.dispose()
      renderer.forceContextLoss()
    },
  }
}
