import { add, cos, div, mul, neg, sin, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import { quaternionOf } from '../algebra'
import type { Attitude } from '../algebra'
import type { Part } from '../document'
import {
  allocate,
  axes,
  bodilessForm,
  bodilessMotion,
  closeChains,
  floatingBody,
  isBodiless,
  mechanismForm,
  mechanismMotion,
  motion,
} from '../machine'
import type { MechanismLayers, Read } from '../machine'
import type { Motion } from './feedforwards'

/** What of a machine is turned round: everything that takes effort. Lags, limits and give are what an inverse cannot undo. */
export interface Equations {
  readonly states: readonly string[]
  readonly inputs: readonly string[]
  readonly rates: (states: readonly Scalar[], inputs: readonly Scalar[]) => readonly Scalar[]
}

const withoutFriction: MechanismLayers = new Set(['inflow', 'groundEffect', 'air', 'contact'])
const withFriction: MechanismLayers = new Set(['viscous', 'friction', ...withoutFriction])

export type FrictionChoice = 'withFriction' | 'withoutFriction'

/** Chains are kept closed by their own forces: the states must lie on them. */
export function equationsOf(machine: Part, read: Read, friction: FrictionChoice = 'withFriction'): Equations {
  const layers = { withFriction, withoutFriction }[friction]
  if (machine.kind === floatingBody.name) return lifterEquations(machine, read)
  const names = (form: {
    readonly states: readonly { readonly name: string }[]
    readonly inputs: readonly { readonly name: string }[]
  }) => ({
    states: form.states.map(({ name }) => name),
    inputs: form.inputs.map(({ name }) => name),
  })
  if (isBodiless(machine))
    return { ...names(bodilessForm(machine)), rates: (x, u) => bodilessMotion(machine, read, layers, x, u).rates }
  const form = mechanismForm(machine, read)
  const closure = closeChains(machine)
  const kept = closure.kind === 'closed' ? closure.kept : []
  return { ...names(form), rates: (x, u) => mechanismMotion(machine, read, layers, form, x, u, kept).rates }
}

/** Angles of a lifter in the order of its body rates. */
const angles = ['roll', 'pitch', 'heading'] as const
const rateNames = ['rollRate', 'pitchRate', 'yawRate'] as const

/** A lifter by its angles, which loops hold, instead of its quaternion. Rotors give what they are asked at once. */
function lifterEquations(machine: Part, read: Read): Equations {
  return {
    states: ['east', 'north', 'height', ...angles, 'eastRate', 'northRate', 'climbRate', ...rateNames],
    inputs: axes.map(({ name }) => name),
    rates: (x, u) => {
      const [roll, pitch, heading] = x.slice(3, 6) as [Scalar, Scalar, Scalar]
      const rigid = [...x.slice(0, 3), ...quaternionOf({ roll, pitch, heading }), ...x.slice(6)]
      const { rates } = motion(machine, read, new Set(['drag']), rigid, allocate(machine, read, u))
      return [...rates.slice(0, 3), ...angleRates({ roll, pitch }, x.slice(9)), ...rates.slice(7)]
    },
  }
}

/** Rates of roll, pitch and heading from the rates about the body's own axes. */
function angleRates({ roll, pitch }: Pick<Attitude, 'roll' | 'pitch'>, [p, q, r]: readonly Scalar[]): readonly Scalar[] {
  const turning = div(add(mul(q!, sin(roll)), mul(r!, cos(roll))), cos(pitch))
  return [add(p!, mul(turning, sin(pitch))), sub(mul(q!, cos(roll)), mul(r!, sin(roll))), turning]
}

/**
 * What a lifter's angles ask of its body axes: the motions of roll, pitch and heading, by name, with the rates and
 * accelerations about x, y and z in their places. Angles that nobody asks for stand still at 0.
 */
export function inBodyAxes(asked: ReadonlyMap<string, Motion>): ReadonlyMap<string, Motion> {
  const [[roll, roll1, roll2], [pitch, pitch1, pitch2], [heading, turn1, turn2]] = angles.map(
    (name) => asked.get(name) ?? ([0, 0, 0] as const),
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
  return new Map([roll, pitch, heading].map((value, i) => [angles[i]!, [value, rates[i]!, accelerations[i]!] as const]))
}
