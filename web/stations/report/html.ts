import { escaped } from '../../chart'

/** A piece of a report: words, a list, a table, a drawing or a picture. */
export type Block =
  | { readonly kind: 'words'; readonly words: string }
  | { readonly kind: 'note'; readonly words: string }
  | { readonly kind: 'list'; readonly title?: string; readonly items: readonly string[] }
  | {
      readonly kind: 'table'
      readonly title?: string
      readonly head?: readonly string[]
      /** Numbers stand to the right: all columns but the first. */
      readonly rows: readonly (readonly string[])[]
    }
  /** An SVG of its own, as it is. */
  | { readonly kind: 'drawing'; readonly svg: string; readonly caption: string }
  /** A data address. */
  | { readonly kind: 'picture'; readonly address: string; readonly caption: string }

export interface Chapter {
  readonly title: string
  readonly blocks: readonly Block[]
  /** Sections of it, such as each trial. */
  readonly sections?: readonly Omit<Chapter, 'sections'>[]
}

export interface Report {
  readonly title: string
  /** A paragraph each. */
  readonly about: readonly string[]
  readonly made: string
  readonly chapters: readonly Chapter[]
}

/** A report as one HTML file that prints well: nothing in it is fetched from elsewhere, and it holds no links and no code. */
export function reportHtml({ title, about, made, chapters }: Report): string {
  return [
    '<!doctype html>',
    '<html lang="en">',
    `<head><meta charset="utf-8"><title>${escaped(title)}</title><style>${style}</style></head>`,
    '<body>',
    `<header><h1>${escaped(title)}</h1>${about.map((words) => `<p>${escaped(words)}</p>`).join('')}<p class="note">${escaped(made)}</p></header>`,
    ...chapters.map(chapterHtml),
    '</body>',
    '</html>',
    '',
  ].join('\n')
}

function chapterHtml({ title, blocks, sections = [] }: Chapter): string {
  const inner = sections.map(
    (one) => `<section><h3>${escaped(one.title)}</h3>\n${one.blocks.map(blockHtml).join('\n')}</section>`,
  )
  return `<section class="chapter"><h2>${escaped(title)}</h2>\n${[...blocks.map(blockHtml), ...inner].join('\n')}</section>`
}

function blockHtml(block: Block): string {
  switch (block.kind) {
    case 'words':
      return `<p>${escaped(block.words)}</p>`
    case 'note':
      return `<p class="note">${escaped(block.words)}</p>`
    case 'list':
      return `${titled(block.title)}<ul>${block.items.map((item) => `<li>${escaped(item)}</li>`).join('')}</ul>`
    case 'table': {
      const row = (cells: readonly string[], cell: 'td' | 'th') =>
        `<tr>${cells.map((words) => `<${cell}>${escaped(words)}</${cell}>`).join('')}</tr>`
      const head = block.head === undefined ? '' : `<thead>${row(block.head, 'th')}</thead>`
      return `${titled(block.title)}<table>${head}<tbody>${block.rows.map((cells) => row(cells, 'td')).join('')}</tbody></table>`
    }
    case 'drawing':
      return `<figure>${unique(block.svg)}<figcaption>${escaped(block.caption)}</figcaption></figure>`
    case 'picture':
      return `<figure><img src="${escaped(block.address)}" alt="${escaped(block.caption)}"><figcaption>${escaped(block.caption)}</figcaption></figure>`
    default:
      return block satisfies never
  }
}

function titled(title: string | undefined): string {
  return title === undefined ? '' : `<h4>${escaped(title)}</h4>`
}

let drawings = 0

/** Names inside a drawing become its own: several of them stand in one file. */
function unique(svg: string): string {
  const own = `d${++drawings}`
  return svg.replaceAll(/(id="|url\(#)plot/g, `$1${own}plot`)
}

const style = `
@page { size: A4; margin: 18mm 16mm; }
body { font: 10.5pt/1.45 "Instrument Sans Variable", "Instrument Sans", Helvetica, Arial, sans-serif; color: #17242a; background: #fff; max-width: 178mm; margin: 0 auto; padding: 8mm; }
@media print { body { padding: 0; } .chapter { break-before: page; } header + .chapter { break-before: auto; } }
h1 { font-size: 20pt; margin: 0 0 2mm; }
h2 { font-size: 14pt; margin: 8mm 0 2mm; border-bottom: 0.3mm solid #b4c2bd; padding-bottom: 1mm; }
h3 { font-size: 11.5pt; margin: 6mm 0 1mm; }
h4 { font-size: 10.5pt; margin: 3mm 0 0.5mm; }
h2, h3, h4 { break-after: avoid; }
p { margin: 1mm 0; }
.note { color: #5b6b6f; font-size: 9.5pt; }
ul { margin: 1mm 0; padding-left: 5mm; }
table { border-collapse: collapse; width: 100%; font-size: 9.5pt; margin: 1mm 0 3mm; font-variant-numeric: tabular-nums; }
th { text-align: left; font-weight: 600; }
td, th { padding: 0.6mm 2mm 0.6mm 0; border-bottom: 0.2mm solid #d3dcd8; vertical-align: top; }
td:not(:first-child), th:not(:first-child) { text-align: right; }
tr, figure { break-inside: avoid; }
figure { margin: 3mm 0; }
figure svg, figure img { max-width: 100%; height: auto; }
figcaption { color: #5b6b6f; font-size: 9pt; }
`
