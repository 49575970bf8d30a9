/** Colours of what the views mark; each is told apart by shape as well (line, fill, stripes, dots). */
export const VIEW_COLORS = {
  ground: 0x8d8d8d,
  edge: 0x24262b,
  selected: 0x0e6d78,
  mark: 0xd9480f,
  face: 0xf2c14e,
  chosen: 0x1b6fb3,
  ruler: 0x1d1f24,
  frame: 0xf7f4ed,
} as const
