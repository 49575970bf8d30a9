/**
 * Random cases that a test goes through: some on every run, many in the long one (`./kelbo test --long`). `SEEDS` says
 * another number, as in `SEEDS=1000 npx vitest run --project core src/core/compare/match/returns.test.ts`.
 */
export const IN_THE_LONG_RUN = process.env.KELBO_LONG === '1'

export const howMany = (everyRun: number, longRun: number): number =>
  Number(process.env.SEEDS ?? (IN_THE_LONG_RUN ? longRun : everyRun))

/** Not one whose number of cases somebody said. */
export const IN_AN_ORDINARY_RUN = !IN_THE_LONG_RUN && process.env.SEEDS === undefined

/** Cases of a list that are alike in kind: those at some places on every run, all of them in the long one. */
export const someOf = <Case>(cases: readonly Case[], ...everyRun: readonly number[]): readonly Case[] =>
  IN_THE_LONG_RUN ? cases : everyRun.map((at) => cases[at]!)
