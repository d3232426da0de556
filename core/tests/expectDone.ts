import type { Outcome } from '../document'

export function expectDone<Value>(outcome: Outcome<Value>): Value {
  if (outcome.kind === 'refused') throw new Error(`Refused: ${JSON.stringify(outcome.problems)}`)
  return outcome.value
}
