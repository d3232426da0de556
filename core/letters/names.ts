/** A name of the document as LaTeX: one letter as it stands, longer ones upright as words. */
export function nameToLatex(name: string): string {
  return /^[A-Za-z]$/.test(name) ? name : upright(name)
}

/** Names upright and as words, as nobody says `innerLeaf`. */
export function upright(name: string): string {
  const words = name.replace(/([a-z0-9])([A-Z])/g, (_, end: string, start: string) => `${end} ${start.toLowerCase()}`)
  return `\\mathrm{${words.replaceAll(' ', '\\ ')}}`
}

/** A coordinate: theta for an angle, s for a travel, with its body as index. */
export function coordinateToLatex(name: string, unit: string): string {
  const [body, coordinate] = name.split('.') as [string, string?]
  const letter = unit === 'm' ? 's' : '\\theta'
  const which = coordinate === undefined || coordinate === 'angle' || coordinate === 'travel' ? '' : `,${coordinate}`
  return `${letter}_{${upright(`${body}${which}`)}}`
}

export function dotted(latex: string, dots: 1 | 2): string {
  const mark = dots === 1 ? '\\dot' : '\\ddot'
  if (latex.startsWith('\\mathrm')) return `${mark}{${latex}}`
  const [, letter, index] = /^(\\?[A-Za-z]+)(.*)$/.exec(latex)!
  return `${mark}{${letter}}${index}`
}
