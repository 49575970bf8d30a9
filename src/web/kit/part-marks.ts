import type { PartLabel, PartMark, PartRole } from '../../contract/recipes.ts'

/** What becomes of a part when the model leaves, in words. */
export const ROLE_WORDS: Readonly<Record<PartRole, string>> = {
  travels: 'travels',
  reference: 'reference only',
  home: 'stays home',
}

/** An artist's labels; they mean what the artist wants them to. */
export const LABEL_COLORS: Readonly<Record<PartLabel, string>> = {
  none: 'transparent',
  rose: '#b5546a',
  ochre: '#b98a2c',
  moss: '#6d8a3c',
  teal: '#2f8f8a',
  slate: '#5f7793',
  plum: '#86598f',
}

export const DEFAULT_MARK: PartMark = { role: 'travels', label: 'none' }
