/** tinyusdz 0.9.0-rc10 as a second reader of USD: its build is for pages, so that Node has to look like one while it loads. */
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'

interface Loader {
  loadAsLayerFromBinary(bytes: Uint8Array, name: string): boolean
  layerToString(): string
  error(): string
}
type Make = (options: object) => Promise<{ readonly TinyUSDZLoaderNative: new () => Loader }>

/** Text of what a file says, as tinyusdz prints it. @throws Error with its words where it can't read the file. */
export async function loadTinyUsdz(): Promise<(bytes: Uint8Array, name: string) => string> {
  const folder = join(createRequire(import.meta.url).resolve('tinyusdz/package.json'), '..')
  const page = globalThis as unknown as { window?: unknown; document?: unknown }
  const held = [page.window, page.document, (process as unknown as { type?: string }).type] as const
  page.window ??= globalThis
  page.document ??= { currentScript: null, baseURI: 'about:blank' }
  ;(process as unknown as { type?: string }).type = 'renderer'
  try {
    const { default: make } = (await import(join(folder, 'tinyusdz.js'))) as { default: Make }
    const module = await make({ wasmBinary: readFileSync(join(folder, 'tinyusdz.wasm')) })
    return (bytes, name) => {
      const loader = new module.TinyUSDZLoaderNative()
      if (!loader.loadAsLayerFromBinary(bytes, name)) throw new Error(loader.error())
      return loader.layerToString()
    }
  } finally {
    ;[page.window, page.document] = held
    ;(process as unknown as { type?: string }).type = held[2] as never
    if (held[0] === undefined) delete page.window
    if (held[1] === undefined) delete page.document
  }
}
