/**
 * Cameras and lights: those that came from a glTF in its own words, those of other files by the last part of their names.
 * Source: glTF 2.0, section 3.10; KHR_lights_punctual.
 */
import type { CustomProperties, SceneCamera } from '../../scene/scene.ts'

const numberIn = (properties: CustomProperties, ...names: readonly string[]): number | null => {
  for (const name of names) {
    const found = Object.entries(properties).find(
      ([key]) => (key.split('|').pop() ?? key).toLowerCase() === name.toLowerCase(),
    )?.[1]
    const value = Array.isArray(found) ? found[0] : found
    if (typeof value === 'number' && Number.isFinite(value)) return value
  }
  return null
}
const tripleIn = (properties: CustomProperties, name: string): number[] | null => {
  const found = Object.entries(properties).find(([key]) => key.toLowerCase() === name.toLowerCase())?.[1]
  return Array.isArray(found) && found.length >= 3 ? found.slice(0, 3).map(Number) : null
}

const DEGREES = Math.PI / 180

/** @param ratio how much larger the scene has become on its way into the file. */
export function cameraWords({ name, properties }: SceneCamera, ratio: number): object {
  const near = Math.max((numberIn(properties, 'znear', 'NearPlane') ?? 0.1) * ratio, 1e-6)
  const far = numberIn(properties, 'zfar', 'FarPlane')
  const zfar = far !== null && far * ratio > near ? far * ratio : null
  const isFlat = properties.type === 'orthographic' || numberIn(properties, 'CameraProjectionType') === 1
  if (isFlat) {
    const wide = numberIn(properties, 'xmag', 'OrthoZoom') ?? 1
    return {
      name,
      type: 'orthographic',
      orthographic: {
        xmag: wide * ratio || 1,
        ymag: (numberIn(properties, 'ymag') ?? wide) * ratio || 1,
        zfar: zfar ?? near + 1000 * ratio,
        znear: near,
      },
    }
  }
  const aspect =
    numberIn(properties, 'aspectRatio') ??
    ((wide, high) => (wide && high ? wide / high : null))(
      numberIn(properties, 'AspectWidth'),
      numberIn(properties, 'AspectHeight'),
    )
  const across = numberIn(properties, 'FieldOfView')
  const up = numberIn(properties, 'FieldOfViewY')
  const yfov =
    numberIn(properties, 'yfov') ??
    (up !== null
      ? up * DEGREES
      : across !== null
        ? 2 * Math.atan(Math.tan((across * DEGREES) / 2) / (aspect ?? 4 / 3))
        : 40 * DEGREES)
  return {
    name,
    type: 'perspective',
    perspective: {
      ...(aspect && aspect > 0 ? { aspectRatio: aspect } : {}),
      yfov: yfov > 0 && yfov < Math.PI ? yfov : 40 * DEGREES,
      ...(zfar === null ? {} : { zfar }),
      znear: near,
    },
  }
}

const LIGHT_TYPES = ['point', 'directional', 'spot'] as const

export function lightWords({ name, properties }: SceneCamera, ratio: number): object {
  const stated = LIGHT_TYPES.find((type) => type === properties.type)
  const type = stated ?? LIGHT_TYPES[numberIn(properties, 'LightType') ?? 0] ?? 'point'
  const color = tripleIn(properties, 'color')
  const intensity = numberIn(properties, 'intensity')
  const range = numberIn(properties, 'range')
  const inner = numberIn(properties, 'innerConeAngle')
  const outer = numberIn(properties, 'outerConeAngle')
  const innerDegrees = numberIn(properties, 'InnerAngle')
  const outerDegrees = numberIn(properties, 'OuterAngle')
  const outerAngle = Math.min(
    Math.max(outer ?? (outerDegrees === null ? Math.PI / 4 : (outerDegrees / 2) * DEGREES), 1e-3),
    Math.PI / 2,
  )
  const innerAngle = inner ?? (innerDegrees === null ? 0 : (innerDegrees / 2) * DEGREES)
  return {
    name,
    type,
    ...(color ? { color: color.map((one) => Math.max(0, Math.min(1, one))) } : {}),
    // a strength in percent of who knows what is no candela: only one in the format's words is one
    ...(intensity !== null && stated ? { intensity: Math.max(0, intensity) } : {}),
    ...(range !== null && range > 0 && type !== 'directional' ? { range: range * ratio } : {}),
    ...(type === 'spot'
      ? {
          spot: {
            innerConeAngle: Math.max(0, Math.min(innerAngle, outerAngle - 1e-4)),
            outerConeAngle: outerAngle,
          },
        }
      : {}),
  }
}
