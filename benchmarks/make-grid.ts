/** Makes a large OBJ of quads with UVs, normals, groups and materials, streamed to a file. */
import { closeSync, openSync, writeSync } from 'node:fs'

/** @param side quads along one side; the file has side x side quads. */
export function writeGridObj(path: string, side: number): void {
  const file = openSync(path, 'w')
  let pieces: string[] = []
  const push = (text: string): void => {
    pieces.push(text)
    if (pieces.length > 20000) flush()
  }
  const flush = (): void => {
    writeSync(file, pieces.join(''))
    pieces = []
  }
  push('mtllib grid.mtl\no grid\n')
  const points = side + 1
  const height = (i: number, j: number): number => Math.sin(i * 0.013) * Math.cos(j * 0.017) * 5
  for (let j = 0; j < points; j++)
    for (let i = 0; i < points; i++)
      push(`v ${(i * 0.1).toFixed(6)} ${height(i, j).toFixed(6)} ${(j * 0.1).toFixed(6)}\n`)
  for (let j = 0; j < points; j++)
    for (let i = 0; i < points; i++) push(`vt ${(i / side).toFixed(6)} ${(j / side).toFixed(6)}\n`)
  for (let j = 0; j < points; j++)
    for (let i = 0; i < points; i++) {
      const dx = (height(i + 1, j) - height(i - 1, j)) * 5
      const dz = (height(i, j + 1) - height(i, j - 1)) * 5
      const length = Math.hypot(dx, 1, dz)
      push(`vn ${(-dx / length).toFixed(6)} ${(1 / length).toFixed(6)} ${(-dz / length).toFixed(6)}\n`)
    }
  for (let j = 0; j < side; j++) {
    if (j % Math.ceil(side / 10) === 0) {
      const band = Math.floor(j / Math.ceil(side / 10))
      push(`g band_${band}\nusemtl cloth_${band % 3}\ns ${band + 1}\n`)
    }
    for (let i = 0; i < side; i++) {
      const a = j * points + i + 1
      const b = a + 1
      const c = b + points
      const d = a + points
      push(`f ${a}/${a}/${a} ${d}/${d}/${d} ${c}/${c}/${c} ${b}/${b}/${b}\n`)
    }
  }
  flush()
  closeSync(file)
}
