import type { Outcome } from '../document'

/** What came of it; a refusal fails the test with its words. */
export function valueOf<Value>(outcome: Outcome<Value>): Value {
  if (outcome.kind === 'refused') throw new Error(outcome.problems.map(({ what }) => what).join(' '))
  return outcome.value
}
