import { tryProblems } from '../../../../tests/checks.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { png, mapped } from '../../../../tests/check-shapes.ts'

tryProblems('missing-maps', {
  missing: {
    bad: mapped(['color.png', null]),
    count: 1,
    near: mapped(['color.png', png(4, 4)]),
  },
  unreadable: {
    bad: mapped(['color.png', encodeUtf8('<!doctype html> not found')]),
    count: 1,
    near: mapped(['color.png', png(4, 4)]),
  },
})
