/** The Khronos validator of glTF (npm gltf-validator 2.0.0-dev.3.10): what it finds wrong in a file, in its words. */
import { createRequire } from 'node:module'
import type { PackageFile } from '../src/core/formats/package/package-file.ts'

interface Validator {
  readonly validateBytes: (
    bytes: Uint8Array,
    options: {
      readonly maxIssues?: number
      readonly externalResourceFunction: (uri: string) => Promise<Uint8Array>
    },
  ) => Promise<{
    readonly issues: {
      readonly messages: readonly {
        readonly severity: number
        readonly code: string
        readonly pointer: string
        readonly message: string
      }[]
    }
  }>
}

/** Errors and warnings; @param files the model first, then what lies beside it. */
export async function validatorComplaints(files: readonly PackageFile[]): Promise<string[]> {
  const validator = createRequire(import.meta.url)('gltf-validator') as Validator
  const report = await validator.validateBytes(files[0]!.bytes, {
    externalResourceFunction: (uri) => {
      const file = files.find(({ name }) => name === decodeURIComponent(uri))
      return file ? Promise.resolve(file.bytes) : Promise.reject(new Error(`no ${uri}`))
    },
  })
  return report.issues.messages
    .filter(({ severity }) => severity < 2)
    .map(({ code, pointer, message }) => `${code} ${pointer} ${message}`)
}
