import type { Problem } from './problem'

/** Objects and lists inside one another; what a document means stands at most a dozen deep. */
const deepestNesting = 60

/** Entries of one object, and objects and lists in all: what checks them goes through every one several times. */
const mostEntries = 10_000
const mostContainers = 120_000

/** A name that JSON can carry but that means something else to the language. */
const forbiddenName = '__proto__'

/** What of a value no reader of documents may meet: depth or number without end, and the one name that is no name. */
export function shapeProblem(value: unknown): Problem | undefined {
  const stack: { readonly node: unknown; readonly where: string; readonly depth: number }[] = [
    { node: value, where: '', depth: 1 },
  ]
  let containers = 0
  while (stack.length > 0) {
    const { node, where, depth } = stack.pop()!
    if (typeof node !== 'object' || node === null) continue
    if (depth > deepestNesting) {
      const what = `Objects stand more than ${deepestNesting} deep in one another.`
      return { where, what, remedy: 'Look whether one was put into itself.' }
    }
    const keys = Object.keys(node)
    if (keys.length > mostEntries || ++containers > mostContainers) {
      const what =
        keys.length > mostEntries
          ? `There are ${keys.length} entries; at most ${mostEntries} are read.`
          : `The document has more than ${mostContainers} parts and lists.`
      return { where, what, remedy: 'Keep meshes and records outside the document, and leave out what is not used.' }
    }
    for (const key of keys) {
      const inside = where === '' ? key : `${where}.${key}`
      if (key === forbiddenName)
        return { where: inside, what: `\`${forbiddenName}\` cannot be a name.`, remedy: 'Give it another name.' }
      stack.push({ node: (node as Record<string, unknown>)[key], where: inside, depth: depth + 1 })
    }
  }
  return undefined
}
