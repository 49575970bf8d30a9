import { finishRemap, planRemap } from '../../app/remap-model.ts'
import { stemOf } from '../../core/formats/package/package-file.ts'
import { formatOf } from '../../core/formats/registry.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import { imageFiles } from '../../core/scene/image-tiles.ts'
import { writeGltfMaterials } from '../../core/surfaces/documents/gltf-materials.ts'
import { MAP_NAMING_STANDARD } from '../../core/surfaces/remap/plan-maps.ts'
import { NO_RULES, parseRules } from '../../core/surfaces/remap/rules.ts'
import type { MaterialSheet } from '../../core/surfaces/documents/material-sheet.ts'
import { imageFacts } from '../../host/images/image-facts.ts'
import { makeMaps } from '../../host/images/make-maps.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseReadOptions, parseWriteOptions, readJson } from '../load.ts'
import { checkTarget, fileDocuments, outName, writeAndForecast } from '../save.ts'
import { loadMaps, surfaceNamed } from '../surfaces.ts'

/** A model's materials wired for a renderer. */
export const remapCommand: Command = async (paths, values) => {
  const [from, to] = wanted(paths, 'IN', 'OUT')
  const target = surfaceNamed(values.surface, '--surface')
  checkTarget(to!)
  const rules = values.rules ? parseRules(readJson(values.rules)) : NO_RULES
  const folder = values.maps ? loadMaps(values.maps) : []
  const { scene, findings } = loadModel(from!, parseReadOptions(values.read))
  const facts = await imageFacts(folder)
  const planned = planRemap(
    scene,
    { target, files: facts, rules },
    { ...MAP_NAMING_STANDARD, pattern: values['name-maps'] ?? null },
  )
  const byName = new Map(folder.map((file) => [file.name.toLowerCase(), file]))
  const own = new Map(
    scene.images.flatMap((image) => imageFiles(image).map(({ path, bytes }) => [path, bytes] as const)),
  )
  const { images, failed } = await makeMaps(
    planned.plan.maps,
    [...folder.map(({ name }) => name), ...own.keys()],
    (file) => byName.get(file.toLowerCase())?.bytes ?? own.get(file) ?? null,
  )
  const format = formatOf(outName(to!))!
  const stem = stemOf(outName(to!))
  const remapped = finishRemap(scene, planned, images, failed, target, format, stem)
  const { options } = parseWriteOptions(values.option, outName(to!))
  const { written } = writeAndForecast(remapped.scene, to!, options, remapped.documents)
  const { result, plan } = planned
  const isClean = !remapped.findings.some(
    ({ code }) => code !== 'remap.sizes-differ' && code !== 'remap.few-bits',
  )
  return {
    output: {
      surface: target.id,
      materials: remapped.sheets,
      sets: result.sets,
      doubtful: result.doubtful,
      maps: plan.maps.map(({ path, copies, done, colorSpace }) => ({
        path,
        copies,
        done: done || null,
        colorSpace,
      })),
      ...(target.id === 'gltf' || target.id === 'gltf-specular-glossiness'
        ? { gltf: writeGltfMaterials(plan.materials) }
        : {}),
      files: fileDocuments([...written.files, ...remapped.documents]),
      messages: describeFindings([...findings, ...remapped.findings, ...written.findings]),
    },
    text: remapped.sheets.map(materialText).join('\n'),
    findings: [...findings, ...remapped.findings, ...written.findings],
    status: isClean && remapped.sheets.every(({ lost }) => lost.length === 0) ? 0 : 1,
  }
}

function materialText({ material, from, surface, parameters, lost }: MaterialSheet): string {
  const said = parameters.filter((row) => row.from !== 'standard' || row.map)
  return [
    `${material}: ${from.model} (${from.how}) as ${surface}`,
    ...said.map(
      ({ parameter, value, map, channel, colorSpace, amount, how, note }) =>
        `  ${parameter.padEnd(28)} ${[
          value === null
            ? ''
            : Array.isArray(value)
              ? (value as number[]).map((one) => Number(one.toPrecision(4))).join(' ')
              : String(value),
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
