import type { Document } from '@calm-hand/core/document'

const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'

/** The first letter that pins nothing yet; when all are taken, the last is used again. */
export function freeLetter(tray: Document['tray']): string {
  return [...letters].find((letter) => tray[letter] === undefined) ?? 'Z'
}
