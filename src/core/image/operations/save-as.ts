import { FILE_KINDS, type FileKind } from '../file-kinds.ts'
import type { ImageOperation } from './operation.ts'

export const saveAs: ImageOperation = {
  id: 'save-as',
  title: 'Another kind of file',
  description:
    'PNG and TIFF keep 16 bits, EXR and HDR floats: in all others what is brighter than white is cut off. JPEG, WebP and TGA have 8 bits, JPEG and HDR no opacity; pixels of JPEG and WebP are nearly the same. In EXR and HDR colours that say sRGB stand as light.',
  takes: 'each',
  keepsSpace: true,
  options: [
    { id: 'kind', title: 'Kind', kind: 'choice', default: 'png', choices: FILE_KINDS },
    {
      id: 'quality',
      title: 'Quality',
      kind: 'number',
      default: 95,
      min: 1,
      max: 100,
      whole: true,
      when: [{ option: 'kind', is: ['jpeg', 'webp'] }],
    },
  ],
  run: (given, { kind, quality }) =>
    given.map((one) => ({ ...one, as: { kind: kind as FileKind, quality: quality as number } })),
}
