/**
 * The neutral light set that materials are looked at in, the project's own: a bright panel above to the left, a dim one
 * to the right, grey all round, darker below. Y is up.
 */
import {
  BackSide,
  Color,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  type Texture,
  type WebGLRenderer,
} from 'three'

export function createLightSet(renderer: WebGLRenderer): Texture {
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
