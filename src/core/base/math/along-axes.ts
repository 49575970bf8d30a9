const ORDERS: readonly (readonly number[])[] = [[0, 1, 2], [0, 2, 1], [1, 0, 2], [1, 2, 0], [2, 0, 1], [2, 1, 0]] // prettier-ignore

/** The 48 ways to lie along the axes, 24 turns and 24 mirrored ones; each 3x3, row-major; the first leaves all as it is. */
export const ALONG_AXES: readonly (readonly number[])[] = ORDERS.flatMap((order) =>
  Array.from({ length: 8 }, (_entry, signs) => {
    const m = new Array<number>(9).fill(0)
    order.forEach((column, row) => (m[3 * row + column] = signs & (1 << row) ? -1 : 1))
    return m
  }),
)
