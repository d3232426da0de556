import type { Problem, Refused } from '@calm-hand/core/document'

/** What a command leaves: text for people, a value for programs, and an exit status. */
export interface Result {
  readonly text: string
  readonly value: unknown
  /** 0 done, 1 done but a check failed, 2 bad input */
  readonly status: 0 | 1 | 2
}

export function fine(value: unknown, text: string): Result {
  return { value, text, status: 0 }
}

export function bad(problems: readonly Problem[]): Result {
  const text = problems.map(({ where, what, remedy }) => `${where === '' ? '' : `${where}: `}${what}\n  ${remedy}`).join('\n')
  return { value: { problems }, text, status: 2 }
}

export function badFrom({ problems }: Refused): Result {
  return bad(problems)
}

export function badInput(where: string, what: string, remedy: string): Result {
  return bad([{ where, what, remedy }])
}
