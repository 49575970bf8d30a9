import { findTinyCuts } from '../../uv/find-tiny-cuts.ts'
import { edgesWithPoints } from '../../uv/seams/given-seams.ts'
import type { StepDescriptor } from '../step.ts'
import { UV_SET } from '../shared/place-on-tiles.ts'
import { sewAlong } from '../shared/sew-along.ts'

const MOST_ROUNDS = 30

export const sewTinyCuts: StepDescriptor = {
  id: 'sew-tiny-cuts',
  area: 'uvs',
  title: 'Sew tiny cuts',
  description:
    'Closes nicks of an edge or two, takes slivers of a polygon or two back in, and joins islands that are parted by an edge or two only.',
  changes: ['uvs'],
  parameters: [UV_SET],
  run: (context) =>
    sewAlong(
      context,
      (_mesh, facts, set) => {
        const { nicks, slivers, parted } = findTinyCuts(facts, set)
        const pairs = [...nicks, ...slivers, ...parted].flat()
        return pairs.length ? edgesWithPoints(facts, pairs) : null
      },
      MOST_ROUNDS,
    ),
}
