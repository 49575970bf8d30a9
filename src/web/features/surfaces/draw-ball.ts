/**
 * A ball of one material under a neutral light set of the project's own: a bright panel above to the left, a dim one to
 * the right, grey ground below. Physically based as three's material has it.
 */
import {
  BackSide,
  Color,
  Mesh,
  MeshBasicMaterial,
  MeshPhysicalMaterial,
  NeutralToneMapping,
  PerspectiveCamera,
  PlaneGeometry,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  WebGLRenderer,
  type Texture,
} from 'three'
import type { SurfaceValue, SurfaceValues } from '../../../core/surfaces/model.ts'

export interface BallDrawer {
  /** Red, green, blue and opacity as bytes, rows from the top; the ground is see-through. */
  readonly draw: (values: SurfaceValues) => Uint8ClampedArray<ArrayBuffer>
  readonly size: number
  readonly end: () => void
}

const num = (value: SurfaceValue | undefined, otherwise = 0): number =>
  typeof value === 'number' ? value : otherwise
const colorOf = (value: SurfaceValue | undefined): Color => {
  const [r = 0, g = 0, b = 0] = Array.isArray(value) ? (value as number[]) : []
  return new Color(r, g, b)
}

/** @param values of the glTF model; what three's material has no word for is left out. */
function materialOf(values: SurfaceValues): MeshPhysicalMaterial {
  const material = new MeshPhysicalMaterial({
    color: colorOf(values['base_color']),
    metalness: num(values['metallic'], 1),
    roughness: num(values['roughness'], 1),
    ior: Math.min(2.333, Math.max(1, num(values['ior'], 1.5))),
    specularIntensity: num(values['specular'], 1),
    specularColor: colorOf(values['specular_color']),
    clearcoat: num(values['clearcoat']),
    clearcoatRoughness: num(values['clearcoat_roughness']),
    sheen: Math.max(...((values['sheen_color'] as number[] | undefined) ?? [0])) > 0 ? 1 : 0,
    sheenColor: colorOf(values['sheen_color']),
    sheenRoughness: num(values['sheen_roughness']),
    anisotropy: num(values['anisotropy_strength']),
    anisotropyRotation: num(values['anisotropy_rotation']),
    iridescence: num(values['iridescence']),
    iridescenceIOR: num(values['iridescence_ior'], 1.3),
    emissive: colorOf(values['emissive']),
    emissiveIntensity: num(values['emissive_strength'], 1),
  })
  // light that passes is drawn as what lies behind showing through: a ball alone has nothing behind it
  const through = Math.min(1, num(values['alpha'], 1)) * (1 - 0.7 * num(values['transmission']))
  if (through < 1) {
    material.transparent = true
    material.opacity = through
  }
  return material
}

function lightSet(renderer: WebGLRenderer): Texture {
  const scene = new Scene()
  const panel = (
    width: number,
    height: number,
    light: number,
    at: readonly [number, number, number],
  ): void => {
    const mesh = new Mesh(
      new PlaneGeometry(width, height),
      new MeshBasicMaterial({ color: new Color(light, light, light), side: 2 }),
    )
    mesh.position.set(...at)
    mesh.lookAt(0, 0, 0)
    scene.add(mesh)
  }
  scene.add(
    new Mesh(
      new SphereGeometry(20, 16, 12),
      new MeshBasicMaterial({ color: new Color(0.32, 0.32, 0.32), side: BackSide }),
    ),
  )
  panel(7, 7, 9, [-6, 8, 6])
  panel(4, 9, 2.2, [9, 2, 3])
  panel(16, 16, 0.12, [0, -7, 0])
  const generator = new PMREMGenerator(renderer)
  const { texture } = generator.fromScene(scene, 0.02)
  generator.dispose()
  return texture
}

export function createBallDrawer(size: number): BallDrawer {
  const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  renderer.setSize(size, size, false)
  renderer.outputColorSpace = SRGBColorSpace
  renderer.toneMapping = NeutralToneMapping
  renderer.setClearColor(0x000000, 0)
  const scene = new Scene()
  scene.environment = lightSet(renderer)
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
      const material = materialOf(values)
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
