/** An SVG document drawn at a size. @throws Error where the browser can't draw it. */
export async function svgAsPng(svg: string, size: number): Promise<Blob> {
  const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
  try {
    const image = new Image(size, size)
    image.src = address
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = canvas.height = size
    canvas.getContext('2d')!.drawImage(image, 0, 0, size, size)
    return await new Promise((resolve, reject) =>
      canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('The picture is too large.')))),
    )
  } finally {
    URL.revokeObjectURL(address)
  }
}
