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

export function refused(problems: readonly Problem[]): Refused {
  return { kind: 'refused', problems }
}

export function refusedFor(where: string, what: string, remedy: string): Refused {
  return refused([{ where, what, remedy }])
}

/** For our own mistakes only: throws, and the edges report it. */
export function assert(condition: boolean, sentence: string): asserts condition {
  if (!condition) throw new Error(sentence)
}
