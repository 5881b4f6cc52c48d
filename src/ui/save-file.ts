/** Gives the user a file made on the page. */
export function saveFile(name: string, text: string, type: string): void {
  saveBlob(name, new Blob([text], { type }))
}

export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  // the browser has taken hold of it by then
  setTimeout(() => URL.revokeObjectURL(url), 1_000)
}
