import { add, cos, mul, neg, sin, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import type { Part } from '../document'
import {
  askedNames,
  bodilessForm,
  bodilessMotion,
  closeChains,
  isBodiless,
  mechanismForm,
  mechanismMotion,
  readingParts,
  spread,
} from '../machine'
import type { MechanismLayers, Read } from '../machine'
import type { Motion } from './feedforwards'
import { byAngles } from './freeBodies'
import type { OperatingPoint } from './operatingPoint'

/** What of a machine is turned round: everything that takes effort. Lags, limits and give are what an inverse cannot undo. */
export interface InverseEquations {
  readonly states: readonly string[]
  readonly inputs: readonly string[]
  readonly rates: (states: readonly Scalar[], inputs: readonly Scalar[]) => readonly Scalar[]
  /** How many of the first states move bodies; after them come those of drives, which follow at once here. */
  readonly bodies: number
  /** Its states at an operating point. */
  readonly at: (rest: OperatingPoint) => readonly number[]
  /** States of a mechanism from these, and back; of other machines they are the same. */
  readonly toForm: (states: readonly Scalar[]) => readonly Scalar[]
  readonly fromForm: (states: readonly Scalar[]) => readonly Scalar[]
}

const asTheyAre: Pick<InverseEquations, 'toForm' | 'fromForm'> = { toForm: (x) => x, fromForm: (x) => x }

const withoutFriction: MechanismLayers = new Set(['inflow', 'groundEffect', 'air', 'contact'])
const withFriction: MechanismLayers = new Set(['viscous', 'friction', ...withoutFriction])

export type FrictionChoice = 'withFriction' | 'withoutFriction'

/** Chains are kept closed by their own forces: the states must lie on them. */
export function inverseEquations(machine: Part, read: Read, friction: FrictionChoice = 'withFriction'): InverseEquations {
  const layers = { withFriction, withoutFriction }[friction]
  const atNames = (names: readonly string[]) => (rest: OperatingPoint) => names.map((name) => rest.states[name] ?? 0)
  if (isBodiless(machine)) {
    const form = bodilessForm(machine)
    const states = form.states.map(({ name }) => name)
    const inputs = form.inputs.map(({ name }) => name)
    const rates: InverseEquations['rates'] = (x, u) => bodilessMotion(machine, read, layers, x, u).rates
    return { states, inputs, rates, bodies: states.length, at: atNames(states), ...asTheyAre }
  }
  const form = mechanismForm(machine, read)
  const closure = closeChains(machine)
  const kept = closure.kind === 'closed' ? closure.kept : []
  const { names, toForm, fromForm, rates } = byAngles(machine, read, form)
  const native = form.states.map(({ name }) => name)
  const asked = askedNames(machine)
  return {
    states: names,
    inputs: asked,
    toForm,
    fromForm,
    bodies: names.length - (native.length - form.assembly.positions.length - form.assembly.speeds.length),
    at: (rest) => fromForm(atNames(native)(rest)) as number[],
    rates: (x, u) => {
      const value = (push: string) => u[asked.indexOf(push)]!
      const given = spread(machine, read, value, false)
      const inputs = form.inputs.map(({ name }) => given.get(name) ?? value(name))
      return rates(x, mechanismMotion(machine, read, layers, form, toForm(x), inputs, kept).rates)
    },
  }
}

/** Angles of a body in the order of its rates. */
const angles = ['roll', 'pitch', 'heading'] as const

/** The angles of a body, and what stands in for one that nobody asks for. */
export interface AskedAngles {
  readonly names: readonly string[]
  readonly rest: readonly number[]
}

/** The angles of all free bodies of a machine that loops can hold. */
export function anglesOf(machine: Part, rest: OperatingPoint): readonly AskedAngles[] {
  return readingParts(machine)
    .filter(({ part }) => part.kind === 'attitudeReading')
    .map(({ path }) => {
      const names = angles.map((angle) => `${path}.${angle}`)
      return { names, rest: names.map((name) => rest.held[name] ?? 0) }
    })
}

/**
 * What the angles of a body ask of its own axes: the motions of roll, pitch and heading, by name, with the rates and
 * accelerations about x, y and z in their places. Angles that nobody asks for stand still where they rest.
 */
export function inBodyAxes(asked: ReadonlyMap<string, Motion>, { names, rest }: AskedAngles): ReadonlyMap<string, Motion> {
  const [[roll, roll1, roll2], [pitch, pitch1, pitch2], [heading, turn1, turn2]] = names.map(
    (name, i) => asked.get(name) ?? ([rest[i]!, 0, 0] as const),
  ) as [Motion, Motion, Motion]
  const [sr, cr, sp, cp] = [sin(roll), cos(roll), sin(pitch), cos(pitch)]
  const [across, along] = [mul(sr, cp), mul(cr, cp)]
  // how fast these shares of a turn change
  const acrossRate = sub(mul(roll1, along), mul(pitch1, mul(sr, sp)))
  const alongRate = neg(add(mul(roll1, across), mul(pitch1, mul(cr, sp))))
  const rates = [sub(roll1, mul(turn1, sp)), add(mul(pitch1, cr), mul(turn1, across)), sub(mul(turn1, along), mul(pitch1, sr))]
  const accelerations = [
    sub(roll2, sum([mul(turn2, sp), mul(mul(turn1, pitch1), cp)])),
    sum([mul(pitch2, cr), neg(mul(mul(pitch1, roll1), sr)), mul(turn2, across), mul(turn1, acrossRate)]),
    sum([mul(turn2, along), mul(turn1, alongRate), neg(mul(pitch2, sr)), neg(mul(mul(pitch1, roll1), cr))]),
  ]
  return new Map([roll, pitch, heading].map((value, i) => [names[i]!, [value, rates[i]!, accelerations[i]!] as const]))
}
