import { tryProblems } from '../../../../tests/checks.ts'
import { one, cutGrid, islandInGrid, twoSheets } from '../../../../tests/check-shapes.ts'

tryProblems('tiny-cuts', {
  nicks: {
    bad: one(
      cutGrid([
        [11, 12],
        [12, 13],
      ]),
    ),
    count: 1,
    near: one(
      cutGrid([
        [10, 11],
        [11, 12],
        [12, 13],
        [13, 14],
      ]),
    ),
  },
  parted: { bad: one(twoSheets(1)), count: 1, near: one(twoSheets(3)) },
  slivers: { bad: one(islandInGrid([5])), count: 1, near: one(islandInGrid([5, 6, 9])) },
})
