export type Severity = 'error' | 'warning' | 'info'

export interface CatalogueEntry {
  readonly severity: Severity
  readonly text: string
  /** What the artist can do about it. */
  readonly advice: string
}

/** One sentence that Kelbo says about files, with `{name}` for parameters, and what to do about it. */
export const entry = (severity: Severity, text: string, advice: string): CatalogueEntry => ({
  severity,
  text,
  advice,
})
