/** One parameter of a material as flat colour: what its map says times its value, without any light. */
import * as THREE from 'three'
import type { SurfaceParameter, SurfaceValue } from '../../core/surfaces/model.ts'

/** What a map of directions has where the surface is smooth. */
const STRAIGHT = [0.5, 0.5, 1]
const CHANNELS = { r: [1, 0, 0, 0], g: [0, 1, 0, 0], b: [0, 0, 1, 0], a: [0, 0, 0, 1] } as const

const VERTEX = `
varying vec2 place;
uniform mat3 lay;
#if CHANNEL == 1
attribute vec2 uv1;
#elif CHANNEL == 2
attribute vec2 uv2;
#elif CHANNEL == 3
attribute vec2 uv3;
#endif
void main() {
  #if CHANNEL == 1
  vec2 own = uv1;
  #elif CHANNEL == 2
  vec2 own = uv2;
  #elif CHANNEL == 3
  vec2 own = uv3;
  #else
  vec2 own = uv;
  #endif
  place = (lay * vec3(own, 1.0)).xy;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`

// numbers are shown as they stand, colours as the eye is to see them
const FRAGMENT = `
varying vec2 place;
uniform sampler2D image;
uniform float hasImage;
uniform vec4 channel;
uniform vec3 factor;
uniform float least;
uniform float isColor;
void main() {
  vec4 texel = texture2D(image, place);
  float one = dot(texel, channel);
  vec3 own = dot(channel, channel) > 0.5 ? vec3(one) : texel.rgb;
  vec3 value = clamp(mix(vec3(1.0), own, hasImage) * factor + least, 0.0, 1.0);
  vec3 shown = mix(pow(value, vec3(0.41666)) * 1.055 - 0.055, value * 12.92, vec3(lessThanEqual(value, vec3(0.0031308))));
  gl_FragColor = vec4(isColor > 0.5 ? shown : value, 1.0);
}`

export const createFlatMaterial = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    side: THREE.DoubleSide,
    toneMapped: false,
    defines: { CHANNEL: 0 },
    uniforms: {
      image: { value: null },
      lay: { value: new THREE.Matrix3() },
      hasImage: { value: 0 },
      channel: { value: new THREE.Vector4() },
      factor: { value: new THREE.Vector3(1, 1, 1) },
      least: { value: 0 },
      isColor: { value: 0 },
    },
  })

/** @param value the parameter's, linear; absent: its standard. */
export function showFlat(
  material: THREE.ShaderMaterial,
  parameter: SurfaceParameter,
  value: SurfaceValue | undefined,
  texture: THREE.Texture | null,
): void {
  const { uniforms } = material
  const given = value ?? parameter.standard ?? 0
  const factor =
    parameter.kind === 'map' && !texture
      ? STRAIGHT
      : parameter.kind === 'map' || (parameter.slot === 'occlusion' && !texture)
        ? [1, 1, 1]
        : Array.isArray(given)
          ? (given as number[])
          : [Number(given), Number(given), Number(given)]
  uniforms.image!.value = texture
  uniforms.hasImage!.value = texture ? 1 : 0
  ;(uniforms.factor!.value as THREE.Vector3).fromArray(factor)
  // of occlusion the value is how strong it is: 1 + strength × (map − 1) (glTF 2.0, 3.9.3)
  uniforms.least!.value = parameter.slot === 'occlusion' ? 1 - (factor[0] ?? 1) : 0
  const channel = parameter.channel ? CHANNELS[parameter.channel] : [0, 0, 0, 0]
  ;(uniforms.channel!.value as THREE.Vector4).fromArray(channel)
  uniforms.isColor!.value = parameter.kind === 'color' ? 1 : 0
  if (texture) {
    texture.updateMatrix()
    ;(uniforms.lay!.value as THREE.Matrix3).copy(texture.matrix)
  }
  const set = texture?.channel ?? 0
  if (material.defines.CHANNEL !== set) {
    material.defines.CHANNEL = set
    material.needsUpdate = true
  }
}
