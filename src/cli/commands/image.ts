import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { QUIET } from '../../app/host.ts'
import { workOnImages } from '../../app/work-on-images.ts'
import { defaultsOf, hasValue } from '../../core/base/options/option.ts'
import { IMAGE_OPERATIONS, imageOperation } from '../../core/image/operations/registry.ts'
import { NODE_HOST } from '../../host/node-host.ts'
import type { Command } from '../command.ts'
import { loadModel, parseOptions, parseReadOptions } from '../load.ts'
import { loadMaps } from '../surfaces.ts'
import { UsageError } from '../usage-error.ts'

/** One operation on images: files or folders of them, into a folder. */
export const imageCommand: Command = async (paths, values) => {
  if (values.list) {
    const operations = IMAGE_OPERATIONS.map(({ run: _run, ...rest }) => rest)
    return {
      output: { operations },
      text: operations.map(({ id, description }) => `${id.padEnd(20)} ${description}`).join('\n'),
      findings: [],
      status: 0,
    }
  }
  const [id, ...rest] = paths
  const to = rest.pop()
  const operation = imageOperation(id ?? '')
  if (!operation)
    throw new UsageError(
      `“${id ?? ''}” is no operation on images: ${IMAGE_OPERATIONS.map((one) => one.id).join(', ')}.`,
    )
  if (!to || rest.length === 0) throw new UsageError('Expected OPERATION IMAGE ... FOLDER.', true)
  if (existsSync(to) && !statSync(to).isDirectory()) throw new UsageError(`“${to}” is no folder.`)
  const given = rest.flatMap((path) => {
    if (!existsSync(path)) throw new UsageError(`There is no file “${path}”.`)
    return statSync(path).isDirectory() || /\.zip$/i.test(path)
      ? loadMaps(path)
      : [{ name: basename(path), bytes: new Uint8Array(readFileSync(path)) }]
  })
  const defaults = defaultsOf(operation.options.filter(hasValue))
  const options = { ...defaults, ...parseOptions(values.option ?? [], operation.options) }
  if (operation.needsIslands && !values.model)
    throw new UsageError(`“${operation.id}” takes a model: --model FILE.`)
  const scene = values.model ? loadModel(values.model, parseReadOptions(values.read)).scene : null
  const {
    files,
    refused,
    notes = [],
  } = await workOnImages(operation, options, given, QUIET, NODE_HOST.images, scene)
  for (const { name, bytes } of files) {
    const path = join(to, name)
    mkdirSync(dirname(path), { recursive: true })
    writeFileSync(path, bytes)
  }
  return {
    output: {
      operation: operation.id,
      files: files.map(({ name, bytes }) => ({ name, bytes: bytes.length })),
      refused,
      ...(notes.length ? { notes } : {}),
    },
    text: [
      ...files.map(({ name }) => name),
      ...notes,
      ...refused.map(({ file, why }) => `not done: ${file}: ${why}`),
    ].join('\n'),
    findings: [],
    status: refused.length ? 1 : 0,
  }
}
