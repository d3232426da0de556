import type { StoredProject } from '../../state/server'

export type YardOrder = 'name' | 'latest'

/** Addresses of projects are at most so long. */
const longestAddress = 40

/** An address that no project has yet. */
export function freeAddress(taken: readonly string[], wanted: string): string {
  for (let i = 1; ; i++) {
    const ending = i === 1 ? '' : `-${i}`
    const address = `${wanted.slice(0, longestAddress - ending.length)}${ending}`
    if (!taken.includes(address)) return address
  }
}

/** "Winch, copy", and numbered where there is one already. */
export function copyTitle(all: readonly StoredProject[], title: string): string {
  const taken = new Set(all.map(({ document }) => document.title))
  for (let i = 1; ; i++) {
    const copy = `${title}, copy${i === 1 ? '' : ` ${i}`}`
    if (!taken.has(copy)) return copy
  }
}

/** Projects in which every word is found, in the order asked for. */
export function shownProjects(all: readonly StoredProject[], search: string, order: YardOrder): readonly StoredProject[] {
  const words = search.toLowerCase().split(/\s+/)
  const textOf = ({ id, document: { title, about, note } }: StoredProject) => `${title} ${about} ${note} ${id}`.toLowerCase()
  const found = all.filter((project) => words.every((word) => textOf(project).includes(word)))
  return [...found].sort((a, b) =>
    order === 'latest' ? b.savedAt.localeCompare(a.savedAt) : a.document.title.localeCompare(b.document.title),
  )
}
