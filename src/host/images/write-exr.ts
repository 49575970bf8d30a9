import type { Pixels } from '../../core/image/pixels.ts'

/** Floats as an OpenEXR file of four channels, by three's exporter. */
export async function writeExr({ width, height, channels, values }: Pixels): Promise<Uint8Array> {
  const [{ EXRExporter, ZIP_COMPRESSION }, { DataTexture, FloatType, RGBAFormat }] = await Promise.all([
    import('three/addons/exporters/EXRExporter.js'),
    import('three'),
  ])
  const colors = channels === 2 || channels === 4 ? channels - 1 : channels
  const pixels = new Float32Array(width * height * 4)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      // the exporter has rows from the bottom
      const to = ((height - 1 - row) * width + column) * 4
      const from = (row * width + column) * channels
      for (let channel = 0; channel < 3; channel++)
        pixels[to + channel] = values[from + (colors === 1 ? 0 : channel)]!
      pixels[to + 3] = colors < channels ? values[from + colors]! : 1
    }
  const texture = new DataTexture(pixels, width, height, RGBAFormat, FloatType)
  const written = await new EXRExporter().parse(texture, { compression: ZIP_COMPRESSION, type: FloatType })
  return new Uint8Array(written)
}
