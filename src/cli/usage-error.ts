/** The arguments can't be used. */
export class UsageError extends Error {}
