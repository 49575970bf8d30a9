/** Cameras and lights: those of this format in its own words, those of others by the last part of their names. */
import type { CustomProperties } from '../../scene/scene.ts'
import type { XmlWriter } from './xml-writer.ts'

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

const DEGREES = 180 / Math.PI

/** @param factor how much larger the numbers of the scene have become on their way into the file: its lengths go with it. */
export function writeCamera(
  xml: XmlWriter,
  id: string,
  name: string,
  properties: CustomProperties,
  factor: number,
): void {
  const length = (value: number | null): number | null => (value === null ? null : value * factor)
  const isFlat = properties.type === 'orthographic' || numberIn(properties, 'CameraProjectionType') === 1
  // glTF has its angle in radians, and says `aspectRatio` where this format says `aspect_ratio`
  const stated = numberIn(properties, 'yfov')
  const isRadians =
    stated !== null && stated < Math.PI && !('aspect_ratio' in properties) && !('xfov' in properties)
  const yfov =
    stated === null
      ? numberIn(properties, 'FieldOfViewY', 'FieldOfView')
      : isRadians
        ? stated * DEGREES
        : stated
  const values: [string, number | null][] = isFlat
    ? [
        ['xmag', length(numberIn(properties, 'xmag'))],
        ['ymag', length(numberIn(properties, 'ymag'))],
      ]
    : [
        ['xfov', numberIn(properties, 'xfov')],
        ['yfov', yfov],
      ]
  values.push(
    ['aspect_ratio', numberIn(properties, 'aspect_ratio', 'aspectRatio')],
    ['znear', length(numberIn(properties, 'znear', 'NearPlane') ?? 0.1)],
    ['zfar', length(numberIn(properties, 'zfar', 'FarPlane') ?? 1000)],
  )
  xml.element('camera', { id, name }, () =>
    xml.element('optics', {}, () =>
      xml.element('technique_common', {}, () =>
        xml.element(isFlat ? 'orthographic' : 'perspective', {}, () => {
          if (!values.slice(0, 2).some(([, value]) => value !== null))
            xml.leaf(isFlat ? 'ymag' : 'yfov', {}, isFlat ? '1' : '40')
          for (const [word, value] of values) if (value !== null) xml.leaf(word, { sid: word }, String(value))
        }),
      ),
    ),
  )
}

const LIGHTS = ['point', 'directional', 'spot', 'ambient'] as const

export function writeLight(xml: XmlWriter, id: string, name: string, properties: CustomProperties): void {
  const type =
    LIGHTS.find((own) => own === properties.type) ?? LIGHTS[numberIn(properties, 'LightType') ?? 0] ?? 'point'
  const found = Object.entries(properties).find(([key]) => key.toLowerCase() === 'color')?.[1]
  const color = Array.isArray(found) ? (found as readonly number[]).slice(0, 3) : [1, 1, 1]
  xml.element('light', { id, name }, () =>
    xml.element('technique_common', {}, () =>
      xml.element(type, {}, () => {
        xml.leaf('color', { sid: 'color' }, color.join(' '))
        if (type !== 'point' && type !== 'spot') return
        for (const word of ['constant_attenuation', 'linear_attenuation', 'quadratic_attenuation']) {
          const value = numberIn(properties, word)
          if (value !== null) xml.leaf(word, { sid: word }, String(value))
        }
        if (type !== 'spot') return
        const outer = numberIn(properties, 'outerConeAngle')
        const angle =
          numberIn(properties, 'falloff_angle', 'OuterAngle') ?? (outer === null ? null : 2 * outer * DEGREES)
        if (angle !== null) xml.leaf('falloff_angle', { sid: 'falloff_angle' }, String(angle))
        const exponent = numberIn(properties, 'falloff_exponent')
        if (exponent !== null) xml.leaf('falloff_exponent', { sid: 'falloff_exponent' }, String(exponent))
      }),
    ),
  )
}
