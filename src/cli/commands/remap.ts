import { QUIET } from '../../app/host.ts'
import { remapModel } from '../../app/remap-model.ts'
import { stemOf } from '../../core/formats/package/package-file.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import { MAP_NAMING_STANDARD } from '../../core/surfaces/remap/map-naming.ts'
import { OWN_MODEL } from '../../core/surfaces/own-model.ts'
import {
  NO_RULES,
  parseOneMap,
  parseRules,
  targetOf,
  type RemapRules,
} from '../../core/surfaces/remap/rules.ts'
import { valueText } from '../../core/surfaces/convert/convert-surface.ts'
import type { MaterialSheet } from '../../core/surfaces/documents/material-sheet.ts'
import { NODE_HOST } from '../../host/node-host.ts'
import { wanted, type Arguments, type Command } from '../command.ts'
import { loadModel, parseReadOptions, parseWriteOptions, readJson } from '../load.ts'
import { checkTarget, fileDocuments, outName, writeAndForecast } from '../save.ts'
import { loadMaps, surfaceNamed } from '../surfaces.ts'
import { UsageError } from '../usage-error.ts'

/** A model's materials wired for a renderer. */
export const remapCommand: Command = async (paths, values) => {
  const [from, to] = wanted(paths, 'IN', 'OUT')
  checkTarget(to!)
  const rules = withOneMap(values.rules ? parseRules(readJson(values.rules)) : NO_RULES, values)
  const isOwn = values.surface === OWN_MODEL && rules.ownModel !== undefined
  const target = isOwn ? targetOf(OWN_MODEL, rules) : surfaceNamed(values.surface, '--surface')
  const folder = values.maps ? loadMaps(values.maps) : []
  const { scene, findings } = loadModel(from!, parseReadOptions(values.read))
  const remapped = await remapModel(
    scene,
    {
      target,
      files: folder,
      rules,
      ...(values['name-maps'] ? { naming: { ...MAP_NAMING_STANDARD, pattern: values['name-maps'] } } : {}),
      stem: stemOf(outName(to!)),
      makes: true,
    },
    QUIET,
    NODE_HOST,
  )
  const { options } = parseWriteOptions(values.option, outName(to!))
  const { written } = writeAndForecast(remapped.scene, to!, options, remapped.documents)
  const { result, plan, gltf } = remapped
  const isClean = !remapped.findings.some(
    ({ code }) => code !== 'remap.sizes-differ' && code !== 'remap.few-bits',
  )
  return {
    output: {
      surface: target.id,
      materials: remapped.sheets.map((sheet) => ({ name: sheet.material, ...sheet })),
      sets: result.sets,
      doubtful: result.doubtful,
      maps: plan.maps.map(({ path, copies, done, colorSpace }) => ({
        path,
        copies,
        done: done || null,
        colorSpace,
      })),
      ...(gltf ? { gltf } : {}),
      files: fileDocuments([...written.files, ...remapped.documents]),
      messages: describeFindings([...findings, ...remapped.findings, ...written.findings]),
    },
    text: remapped.sheets.map(materialText).join('\n'),
    findings: [...findings, ...remapped.findings, ...written.findings],
    status: isClean && remapped.sheets.every(({ lost }) => lost.length === 0) ? 0 : 1,
  }
}

/** Options of one map for all go before those of the rules' file. */
function withOneMap(rules: RemapRules, values: Arguments): RemapRules {
  const { 'one-map': size, 'one-map-set': set, padding } = values
  if (size === undefined) {
    if (set !== undefined || padding !== undefined)
      throw new UsageError('--one-map-set and --padding go with --one-map SIZE.', true)
    return rules
  }
  const oneMap = parseOneMap(
    {
      ...rules.oneMap,
      size: Number(size),
      ...(set === undefined ? {} : { set }),
      ...(padding === undefined ? {} : { padding: Number(padding) }),
    },
    (what) => {
      throw new UsageError(`--one-map: ${what}.`)
    },
  )
  return { ...rules, oneMap }
}

function materialText({ material, from, surface, parameters, lost }: MaterialSheet): string {
  const said = parameters.filter((row) => row.from !== 'standard' || row.map)
  return [
    `${material}: ${from.model} (${from.how}) as ${surface}`,
    ...said.map(
      ({ parameter, value, map, channel, colorSpace, amount, how, note }) =>
        `  ${parameter.padEnd(28)} ${[
          valueText(value, 4),
          map
            ? `${map} (${channel}, ${colorSpace === 'sRGB' ? 'sRGB' : 'plain numbers'}${amount === 1 ? '' : `, ${Math.round(amount * 100)} %`})`
            : '',
          how === 'exact' ? '' : `${how}: ${note}`,
        ]
          .filter(Boolean)
          .join('  ')}`,
    ),
    ...lost.map(({ what, note }) => `  without a place: ${what} (${note})`),
  ].join('\n')
}
