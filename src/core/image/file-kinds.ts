/** Kinds of files that images are written as. */
export const FILE_KINDS = [
  { value: 'png', title: 'PNG' },
  { value: 'tiff', title: 'TIFF' },
  { value: 'jpeg', title: 'JPEG' },
  { value: 'webp', title: 'WebP' },
  { value: 'exr', title: 'OpenEXR, floats' },
  { value: 'hdr', title: 'Radiance HDR' },
  { value: 'tga', title: 'TGA' },
] as const
export type FileKind = (typeof FILE_KINDS)[number]['value']
