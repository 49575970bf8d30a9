import type { Finding, MessageCode, MessageParameters } from './catalogue.ts'

/** An operation is impossible; `code` says why and is turned into words and an HTTP status at the edge. */
export class KelboError extends Error {
  readonly code: MessageCode
  readonly parameters: MessageParameters
  readonly file: string | null
  constructor(code: MessageCode, parameters: MessageParameters = {}, file: string | null = null) {
    super(`${code} ${JSON.stringify(parameters)}`)
    this.name = 'KelboError'
    this.code = code
    this.parameters = parameters
    this.file = file
  }
}

/** How many findings of one code are listed one by one; all are counted. */
export const FINDINGS_PER_CODE = 20

export interface MessageCollector {
  /** Adds a finding; past the cap of its code it is only counted. */
  add(code: MessageCode, parameters?: MessageParameters, line?: number | null, byte?: number | null): void
  /** Counts findings of a code that are not listed one by one. */
  count(code: MessageCode, more: number): void
  /** Findings in the order they came, each with the total of its code. */
  list(): Finding[]
}

/** A collector for one file. */
export function collectMessages(file: string | null): MessageCollector {
  const totals = new Map<MessageCode, number>()
  const findings: Omit<Finding, 'total'>[] = []
  return {
    add(code, parameters = {}, line = null, byte = null) {
      const total = (totals.get(code) ?? 0) + 1
      totals.set(code, total)
      if (total <= FINDINGS_PER_CODE) findings.push({ code, parameters, file, line, byte })
    },
    count(code, more) {
      if (more > 0) totals.set(code, (totals.get(code) ?? 0) + more)
    },
    list: () => findings.map((finding) => ({ ...finding, total: totals.get(finding.code) ?? 1 })),
  }
}

/** Findings without those that say the same as one before, of whichever file. */
export function distinctFindings(findings: readonly Finding[]): Finding[] {
  const seen = new Set<string>()
  return findings.filter(({ code, parameters }) => {
    const key = JSON.stringify([code, parameters])
    if (seen.has(key)) return false
    seen.add(key)
    return true
  })
}
