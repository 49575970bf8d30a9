import type { SurfaceParameter } from '../model.ts'
import { colorSpaceOf } from './map-use.ts'
import type { RemappedParameter } from './remapped-material.ts'
import { appliesTo, meansParameter, type RemapRule } from './rules.ts'

/** A row with what rules say of it, the last of them last. */
export function applyRules(
  material: string,
  parameter: SurfaceParameter,
  rules: readonly RemapRule[],
  row: RemappedParameter,
): RemappedParameter {
  let result = row
  for (const rule of rules) {
    if (!appliesTo(rule, material) || !meansParameter(rule, parameter.name, parameter.slot)) continue
    if (rule.value !== undefined && parameter.name !== null)
      result = { ...result, value: rule.value, how: 'exact', note: '', from: 'rule' }
    if (rule.map === null) result = { ...result, map: null, from: 'rule' }
    else if (rule.map && parameter.mapName !== null && parameter.slot !== null)
      result = {
        ...result,
        map: {
          file: rule.map.file,
          slot: parameter.slot,
          channel: rule.map.channel ?? (parameter.width === 1 ? 'r' : 'rgb'),
          isPart: rule.map.channel !== undefined && rule.map.channel !== 'rgb',
          inverted: rule.map.inverted ?? false,
          amount: rule.map.amount ?? 1,
          colorSpace: colorSpaceOf(parameter.slot),
          direction: null,
          from: 'rule',
          ...(rule.map.times ? { isTimesValue: true } : {}),
          uvSet: '',
        },
        how: 'exact',
        note: '',
        from: 'rule',
      }
  }
  return result
}
