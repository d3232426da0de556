import { findKind, pieces } from '../kinds'
import { nearestName, partsIn } from '../document'
import type { Part } from '../document'
import { expectations, orderExpectation, shortName } from '../machine'
import type { StateSpace } from '../linear'
import { inputSteps } from './inputSteps'
import type { InputStep } from './inputSteps'
import type { ModelCheck } from './report'

/** Share of the largest excursion that tells when a signal has answered. */
const answered = 0.1

/** Each expectation of a machine as a check against the steps of its linear form. */
export function expectationChecks(machine: Part, system: StateSpace, seconds: number): ModelCheck[] {
  const plain = (name: string) => shortName(name, machine)
  return Object.values(partsIn(machine.expectations)).map((part) => {
    const kind = findKind<(typeof expectations)[number]>(expectations, part)!
    const name = pieces(kind.says)
      .map((piece) => ('text' in piece ? piece.text : plain(String(part[piece.slot]))))
      .join('')
    const { holds, note, time } = outcome(part, system, seconds, plain)
    return { name, holds, value: time, unit: 's', note }
  })
}

interface Found {
  readonly holds: boolean
  readonly note: string
  /** s until the first signal has answered. */
  readonly time: number
}

function outcome(part: Part, system: StateSpace, seconds: number, plain: (name: string) => string): Found {
  const input = part.input as string
  const signals = [part.signal, ...(part.kind === orderExpectation.name ? [part.thenSignal] : [])] as string[]
  const stranger = [input, ...signals].find((name, i) => !(i === 0 ? system.inputs : system.outputs).includes(name))
  if (stranger !== undefined) {
    const near = nearestName(stranger, [...system.inputs, ...system.outputs])
    return {
      holds: false,
      note: `there is nothing named ${stranger}${near === undefined ? '' : `; did you mean ${near}?`}`,
      time: 0,
    }
  }
  const steps = inputSteps(system, input, signals, 1, seconds)
  const [first, second] = steps.map((step, i) =>
    answerOf(step, (until) => inputSteps(system, input, [signals[i]!], 1, until)[0]!),
  )
  const wanted = (way: unknown) => (way === 'raises' ? 1 : -1)
  if (first === undefined || first.sign === 0)
    return { holds: false, note: `${plain(input)} does not move ${plain(signals[0]!)} at all`, time: 0 }
  const turning = steps[0]!.wrongWay ? `, and ends the other way: it starts the wrong way` : ''
  if (first.sign !== wanted(part.way))
    return { holds: false, note: `it first ${first.sign > 0 ? 'raises' : 'lowers'} it${turning}`, time: first.time }
  if (second === undefined) return { holds: true, note: `within ${seconds3(first.time)}${turning}`, time: first.time }
  if (second.sign === 0) return { holds: false, note: `${plain(signals[1]!)} does not move at all`, time: first.time }
  if (second.sign !== wanted(part.thenWay))
    return { holds: false, note: `it ${second.sign > 0 ? 'raises' : 'lowers'} ${plain(signals[1]!)}`, time: first.time }
  const later = second.time > first.time
  const note = `${plain(signals[0]!)} after ${seconds3(first.time)}, ${plain(signals[1]!)} after ${seconds3(second.time)}`
  return { holds: later, note, time: first.time }
}

/** An answer is looked at again, nearer to its start, until it takes so many points to come. */
const clearPoints = 30
const mostLooks = 8

/**
 * The sign of the first noticeable excursion of a step, and when it has become a tenth of the largest. `look` gives the step over
 * so many seconds.
 */
function answerOf(whole: InputStep, look: (seconds: number) => InputStep): { sign: number; time: number } {
  const most = Math.max(...whole.y.map(Math.abs))
  const place = ({ y }: InputStep) => (most > 0 ? y.findIndex((value) => Math.abs(value) >= answered * most) : -1)
  let [step, at] = [whole, place(whole)]
  for (let looks = 0; looks < mostLooks && at > 0 && at < clearPoints; looks++) {
    const nearer = look(step.t[at]!)
    const there = place(nearer)
    if (there < 0) break
    ;[step, at] = [nearer, there]
  }
  const { t, y } = step
  // what goes straight through is there at once
  if (at <= 0) return { sign: most > 0 ? Math.sign(y[0]!) : 0, time: 0 }
  const [before, after] = [Math.abs(y[at - 1]!), Math.abs(y[at]!)]
  const share = (answered * most - before) / (after - before)
  const earliest = y.find((value) => Math.abs(value) > 1e-9 * most)! // an odd start counts before a tenth is reached
  const noticed = y.find((value) => Math.abs(value) > 0.02 * most) ?? earliest
  return { sign: Math.sign(noticed), time: t[at - 1]! + share * (t[at]! - t[at - 1]!) }
}

function seconds3(value: number): string {
  return `${Number(value.toPrecision(3))} s`
}
