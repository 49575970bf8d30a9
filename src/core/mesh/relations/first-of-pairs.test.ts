import { expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { firstOfPairs } from './first-of-pairs.ts'

test('the same as looking for each among all before it, with few and with very many of one number', () => {
  for (let seed = 0; seed < 300; seed++) {
    const chance = chanceOf(seed)
    const count = Math.floor(chance() * 200)
    const most = 1 + Math.floor(chance() * (seed % 3 === 0 ? 2 : 40))
    const number = (): number => Math.floor(chance() * most)
    const lows = Uint32Array.from({ length: count }, number)
    const highs = Uint32Array.from({ length: count }, number)
    const wanted = Array.from(lows, (low, at) =>
      lows.findIndex((one, other) => one === low && highs[other] === highs[at]),
    )
    expect([seed, ...firstOfPairs(lows, highs, most)]).toEqual([seed, ...wanted])
  }
})
