/** A mesh as the document has it, and the extensions that it is said with. */
export interface WrittenMesh {
  readonly json: Record<string, unknown>
  readonly extensions: readonly string[]
}
