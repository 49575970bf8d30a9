import { tryProblems } from '../../../../tests/checks.ts'
import { png, mapped } from '../../../../tests/check-shapes.ts'

tryProblems('map-sizes', {
  odd: {
    bad: mapped(['color.png', png(4, 3)]),
    count: 1,
    near: mapped(['color.png', png(4, 2)]),
  },
  uneven: {
    bad: mapped(['color.png', png(4, 4)], ['rough.png', png(2, 2)]),
    count: 2,
    near: mapped(['color.png', png(4, 4)], ['rough.png', png(4, 4)]),
  },
  shape: {
    bad: mapped(['color.png', png(8, 8)], ['rough.png', png(8, 4)]),
    count: 1,
    // smaller, of the same shape
    near: mapped(['color.png', png(8, 4)], ['rough.png', png(4, 2)]),
  },
  small: {
    bad: mapped(['color.png', png(4, 4)]),
    count: 1,
    near: mapped(['color.png', png(8, 4)]),
    settings: { leastMapSize: 8 },
  },
})
