/** The arguments can't be used. */
export class UsageError extends Error {
  /** The arguments don't fit the command at all, so that its usage helps; else the sentence alone says what is wrong. */
  readonly showsUsage: boolean
  constructor(message: string, showsUsage = false) {
    super(message)
    this.showsUsage = showsUsage
  }
}
