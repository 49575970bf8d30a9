/** Cameras and lights: those of this format in its own words, those of others by the last part of their names. Source: OpenUSD, UsdGeomCamera, UsdLux. */
import type { CustomProperties } from '../../scene/scene.ts'
import { numberText, valueText, type UsdWriter } from './write-text.ts'

/** A number by the last part of its name. */
function numberIn(properties: CustomProperties, ...names: readonly string[]): number | null {
  for (const name of names) {
    const found = Object.entries(properties).find(
      ([key]) => (key.split('|').pop() ?? key).toLowerCase() === name.toLowerCase(),
    )?.[1]
    const value = Array.isArray(found) ? (found as readonly number[])[0] : found
    if (typeof value === 'number' && Number.isFinite(value)) return value
  }
  return null
}

const RADIANS = Math.PI / 180
/** Of a film of 35 mm, in tenths of a unit: what the schema takes where nothing is said. */
const APERTURE = 20.955
const HIGH_APERTURE = 15.2908

const TYPES: Readonly<Record<string, string>> = {
  focalLength: 'float',
  horizontalAperture: 'float',
  verticalAperture: 'float',
  horizontalApertureOffset: 'float',
  verticalApertureOffset: 'float',
  fStop: 'float',
  focusDistance: 'double',
  projection: 'token',
  clippingRange: 'float2',
}

/** Lengths in scene units; all others are of the film. */
const LENGTHS: ReadonlySet<string> = new Set(['clippingRange', 'focusDistance'])

/** @param ratio how much larger the scene has become on its way into the file. */
export function writeCamera(writer: UsdWriter, properties: CustomProperties, ratio: number): void {
  if (numberIn(properties, 'focalLength') !== null && 'horizontalAperture' in properties) {
    for (const [name, stated] of Object.entries(properties)) {
      const type = TYPES[name]
      const by = LENGTHS.has(name) ? ratio : 1
      const value = Array.isArray(stated) ? stated.map((one: number) => one * by) : typeof stated === 'number' ? stated * by : stated // prettier-ignore
      if (type) writer.line(`${type} ${name} = ${valueText(Array.isArray(value) ? Float64Array.from(value) : (value as number), type)}`) // prettier-ignore
    }
    return
  }
  const isFlat = properties.type === 'orthographic' || numberIn(properties, 'CameraProjectionType') === 1
  const stated = numberIn(properties, 'yfov')
  const inDegrees = numberIn(properties, 'FieldOfViewY')
  const across = numberIn(properties, 'xfov', 'FieldOfView')
  const aspect = numberIn(properties, 'aspectRatio', 'aspect_ratio') ?? APERTURE / HIGH_APERTURE
  // one format has its angle in radians, another in degrees
  const up =
    inDegrees !== null
      ? inDegrees * RADIANS
      : stated !== null
        ? stated < Math.PI && !('aspect_ratio' in properties)
          ? stated
          : stated * RADIANS
        : across !== null
          ? 2 * Math.atan(Math.tan((across * RADIANS) / 2) / aspect)
          : 40 * RADIANS
  const high = APERTURE / aspect
  writer.line(`token projection = "${isFlat ? 'orthographic' : 'perspective'}"`)
  if (isFlat) {
    // in tenths of a unit: the half height that others say, whole
    const half = numberIn(properties, 'ymag', 'xmag', 'OrthoZoom') ?? 1
    writer.line(`float horizontalAperture = ${numberText(20 * half * aspect)}`)
    writer.line(`float verticalAperture = ${numberText(20 * half)}`)
  } else {
    writer.line(`float horizontalAperture = ${numberText(APERTURE)}`)
    writer.line(`float verticalAperture = ${numberText(high)}`)
    writer.line(
      `float focalLength = ${numberText(high / (2 * Math.tan(Math.min(Math.max(up, 1e-3), 3.1) / 2)))}`,
    )
  }
  const near = (numberIn(properties, 'znear', 'NearPlane') ?? 0.1) * ratio
  const far = (numberIn(properties, 'zfar', 'FarPlane') ?? 10000) * ratio
  writer.line(`float2 clippingRange = (${numberText(near)}, ${numberText(far)})`)
}

/** The kind of prim that a light is. */
export function lightType({ type, ...properties }: CustomProperties): string {
  if (typeof type === 'string' && /Light$/.test(type)) return type
  if (type === 'directional') return 'DistantLight'
  if (type === 'ambient') return 'DomeLight'
  return numberIn(properties, 'LightType') === 1 ? 'DistantLight' : 'SphereLight'
}

export function writeLight(writer: UsdWriter, properties: CustomProperties): void {
  const color = Object.entries(properties).find(([key]) => key.toLowerCase() === 'color')?.[1]
  if (Array.isArray(color) && color.length >= 3)
    writer.line(
      `color3f inputs:color = ${valueText(Float64Array.from((color as number[]).slice(0, 3)), 'color3f')}`,
    )
  const isOwn = typeof properties.type === 'string' && /Light$/.test(properties.type)
  for (const name of isOwn ? ['intensity', 'exposure', 'radius', 'width', 'height', 'length', 'angle'] : []) {
    const value = numberIn(properties, name)
    if (value !== null) writer.line(`float inputs:${name} = ${numberText(value)}`)
  }
  const outer = numberIn(properties, 'outerConeAngle')
  const angle =
    numberIn(properties, 'shaping:cone:angle', 'cone:angle') ?? (outer === null ? null : outer / RADIANS)
  if (angle !== null && (isOwn || properties.type === 'spot'))
    writer.line(`float inputs:shaping:cone:angle = ${numberText(angle)}`)
}
