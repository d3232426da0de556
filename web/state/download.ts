import type { Document } from '@calm-hand/core/document'

/** Offers a file to the person. */
export function download(name: string, content: Blob | string, type = 'text/plain'): void {
  const url = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type }) : content)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

/** A name of a file from words that a person chose: letters and digits of any script stay. */
export function fileNameOf(words: string): string {
  return (
    words
      .replace(/[^\p{L}\p{N} _,.-]+/gu, ' ')
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, 80) || 'calm-hand'
  )
}

/** Offers a project as one file, under its own name. */
export function downloadDocument(document: Document): void {
  download(`${fileNameOf(document.title)}.json`, JSON.stringify(document, null, 2))
}
