/** Gives the browser a file to save. */
export function download(name: string, type: string, content: BlobPart): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([content], { type }))
  link.download = name
  link.click()
  // Not at once: some browsers start to read it after the click.
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
