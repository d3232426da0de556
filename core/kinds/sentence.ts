import type { AnyKind } from './slot'

/** A sentence in pieces: plain words, and slots that can be set. */
export type Piece = { readonly text: string } | { readonly slot: string; readonly shows: 'withUnit' | 'bare' }

/** Cuts 'Hold {holds} {rate#} times a second.' at its braces. With # the words around say the unit. */
export function pieces(says: string): Piece[] {
  return says
    .split(/(\{[^}]+\})/)
    .filter((text) => text !== '')
    .map((text) => (text.startsWith('{') ? slotPiece(text.slice(1, -1)) : { text }))
}

function slotPiece(text: string): Piece {
  return text.endsWith('#') ? { slot: text.slice(0, -1), shows: 'bare' } : { slot: text, shows: 'withUnit' }
}

/** The name of a slot as a C identifier: `height_law_kp`. */
export function cName(path: string): string {
  return path.replace(/[^A-Za-z0-9]+/g, '_')
}

/** The reference page of a list of kinds, as Markdown. */
export function referencePage(title: string, kinds: readonly AnyKind[]): string {
  return [`## ${title}`, ...kinds.map(referenceEntry)].join('\n\n')
}

function referenceEntry(kind: AnyKind): string {
  const rows = Object.entries(kind.slots).map(([name, slot]) => {
    const unit = slot.type === 'number' || slot.type === 'vector' || slot.type === 'formula' ? slot.unit || '1' : slot.type
    return `| \`${name}\` | ${slot.label} | ${unit} | ${slot.note ?? ''} |`
  })
  const table = rows.length === 0 ? [] : ['', '| field | meaning | unit | note |', '|---|---|---|---|', ...rows]
  return [`### \`${kind.name}\``, '', `> ${kind.says.replaceAll('#}', '}')}`, '', kind.about, ...table].join('\n')
}

/** The name of a kind in words: rangeFinder is a range finder. */
export function nameInWords(kind: string): string {
  return kind.replaceAll(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
}
