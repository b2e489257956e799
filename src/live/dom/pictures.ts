/**
 * A drawing as PNG, twice as sharp.
 *
 * @throws Error where the browser cannot draw it, or the page's policy allows no pictures of data.
 */
export async function drawPng(svg: string, document: Document): Promise<Uint8Array> {
  const image = document.createElement('img')
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.naturalWidth * 2
  canvas.height = image.naturalHeight * 2
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  return new Uint8Array(await (blob ?? new Blob()).arrayBuffer())
}
