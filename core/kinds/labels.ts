import type { Part } from '../document'
import { partName } from './partName'

/** An identifier as words: `leftFrontHip2` is "left front hip 2". */
export function wordsOf(identifier: string): string {
  return identifier
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/([A-Za-z])(\d)/g, '$1 $2')
    .replace(/(\d)([A-Za-z])/g, '$1 $2')
    .toLowerCase()
}

/** What people call a part: its own words, or else those of its identifier. */
export function labelOf(part: Part | undefined, identifier: string): string {
  const given = part?.label
  return typeof given === 'string' && given.trim() !== '' ? given : wordsOf(identifier)
}

/** Letters that do not come apart into one without a mark, as they are written without it. */
const written: Readonly<Record<string, string>> = { ß: 'ss', æ: 'ae', œ: 'oe', ø: 'o', đ: 'd', ł: 'l', þ: 'th', ð: 'd', ı: 'i' }
const longest = 40

/** Words of any letters in those of an address: without marks, and what does not come apart as it is written without. */
export function plainLetters(words: string): string {
  return words
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[ßæœøđłþðı]/gi, (letter) => written[letter.toLowerCase()]!)
}

/** An identifier made from words in any letters, which none of `taken` has: "Größe 2" is `grosse2`. */
export function identifierFrom(words: string, taken: readonly string[], otherwise = 'part'): string {
  const pieces = plainLetters(words)
    .split(/[^A-Za-z0-9]+/)
    .filter((piece) => piece !== '')
  const joined = pieces
    .map((piece, i) => (i === 0 ? piece.replace(/^[A-Z]+(?![a-z])|^[A-Z]/, (start) => start.toLowerCase()) : capital(piece)))
    .join('')
  const sound = partName.test(joined.slice(0, longest))
    ? joined.slice(0, longest)
    : `${otherwise}${capital(joined)}`.slice(0, longest)
  for (let i = 1; ; i++) {
    const ending = i === 1 ? '' : String(i)
    const name = `${sound.slice(0, longest - ending.length)}${ending}`
    if (!taken.includes(name)) return name
  }
}

function capital(piece: string): string {
  return piece.charAt(0).toUpperCase() + piece.slice(1)
}
