/** Gives text to whoever is at the page as a file. */
export function saveText(name: string, text: string, type: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type }))
  link.download = name
  link.click()
  // some browsers fetch it only after the click
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
