/** What is wrong, where, and what would put it right. Shown to people as it is. */
export interface Problem {
  /** Path in the document: `machines.lamplighter.bodies.hull.mass`. */
  readonly where: string
  readonly what: string
  readonly remedy: string
}

export type Outcome<Value> = { readonly kind: 'done'; readonly value: Value } | Refused

export interface Refused {
  readonly kind: 'refused'
  readonly problems: readonly Problem[]
}

export function done<Value>(value: Value): Outcome<Value> {
  return { kind: 'done', value }
}

/** Problems that are told at once, and letters of what each says: nobody reads more, and what was given may be huge. */
const mostTold = 200
const longestWords = 600

export function refused(problems: readonly Problem[]): Refused {
  const told = problems.slice(0, mostTold).map(shortened)
  if (problems.length <= mostTold) return { kind: 'refused', problems: told }
  const what = `There are ${problems.length - mostTold} more problems like these.`
  return { kind: 'refused', problems: [...told, { where: '', what, remedy: 'Mend the first ones; the others are told then.' }] }
}

function shortened(problem: Problem): Problem {
  const { where, what, remedy } = problem
  if (where.length + what.length + remedy.length <= longestWords) return problem
  const cut = (text: string) =>
    text.length <= longestWords ? text : `${text.slice(0, longestWords / 2)} ... ${text.slice(-longestWords / 4)}`
  return { where: cut(where), what: cut(what), remedy: cut(remedy) }
}

export function refusedFor(where: string, what: string, remedy: string): Refused {
  return refused([{ where, what, remedy }])
}

/** For our own mistakes only: throws, and the edges report it. */
export function assert(condition: boolean, sentence: string): asserts condition {
  if (!condition) throw new Error(sentence)
}
