import { linearMachine } from '../control'
import type { OperatingPoint } from '../control'
import { done, partsIn } from '../document'
import type { Document, Outcome } from '../document'
import { designLayers, fullMechanism, isBodiless, mechanismForm, mechanismMotion, numbersOf } from '../machine'

export interface StartingRest extends Pick<OperatingPoint, 'states' | 'pushes' | 'held' | 'runs'> {
  /** Whether it would stay there. */
  readonly balances: boolean
}

/**
 * Where a machine starts in its trials: at its operating point. One that nothing balances, and that no loop was designed to
 * hold, is let go as its document has it; closed chains find no pose without balance.
 */
export function startingRest(document: Document, name: string): Outcome<StartingRest> {
  const machine = document.machines[name]!
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'done') return done({ ...linear.value.operatingPoint, balances: true })
  const isHeld = Object.values(document.loops).some((loop) => loop.machine === name)
  if (isHeld || isBodiless(machine) || Object.keys(partsIn(machine.chains)).length > 0) return linear
  const form = mechanismForm(machine, numbersOf(machine))
  const states = form.states.map(({ atRest }) => atRest)
  const inputs = form.inputs.map(() => 0)
  const { signals } = mechanismMotion(machine, numbersOf(machine), fullMechanism, form, states, inputs, [])
  const named = form.states.map((state, i) => [state.name, states[i]!] as const)
  const seen = signals.map((signal) => [signal.name, signal.value as number] as const)
  return done({
    states: Object.fromEntries(named),
    pushes: {},
    runs: {},
    held: Object.fromEntries([...named, ...seen]),
    balances: false,
  })
}
