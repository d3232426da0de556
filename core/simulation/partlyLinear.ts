import { Graph, add, clamp, jacobianAt, mul, sub, sum, tapeOf } from '../expression'
import type { Scalar } from '../expression'
import { rememberedOf } from '../document'
import type { Part } from '../document'
import {
  askedNames,
  bodilessForm,
  bodilessMotion,
  designMechanism,
  inputLimits,
  isBodiless,
  mechanismForm,
  mechanismMotion,
  numbersOf,
  spread,
} from '../machine'
import type { AnyLayer, Looking, MechanismLayers, Read, ShownSignal } from '../machine'
import type { StartingRest } from './startingRest'

/**
 * What of a simulated machine moves as the prediction has it: layers that a linear form keeps, in that form, and the machine
 * itself by its slopes about rest. What else acts, acts in full.
 */
export interface AsPredicted {
  readonly machine: boolean
  readonly layers: ReadonlySet<AnyLayer>
}

type Motion = { readonly rates: readonly Scalar[]; readonly shown: readonly ShownSignal[] }

/** Over what a motion is worked out. */
export type Moment = [states: readonly Scalar[], inputs: readonly Scalar[], time: Scalar, looking?: Looking]

/** A machine's motion with some layers on. */
export type MotionWith = (layers: MechanismLayers, ...at: Moment) => Motion

/** What is moved: the machine at rest with the numbers of the trial, its chain rows, and its motion in the trial. */
export interface Moved {
  readonly machine: Part
  readonly keptRows: readonly number[]
  readonly rest: StartingRest
  readonly motion: MotionWith
  /** Numbers of the simulated machine at a time. */
  readonly truth: (time: Scalar) => Read
}

/** What a motion is and how it changes about rest, as numbers; a signal without a finite slope is not in it. */
interface Slopes {
  readonly rates: readonly Affine[]
  readonly shown: ReadonlyMap<string, Affine>
}

/** A value at rest, and its slopes by states, then by inputs. */
interface Affine {
  readonly value: number
  readonly slopes: readonly number[]
}

/** Where it rests: what is asked of its drives, and how that follows what is asked of its pushes. */
interface RestOfMachine {
  readonly states: readonly number[]
  readonly inputs: readonly number[]
  /** Rates of states that run on. */
  readonly runs: readonly number[]
}

/**
 * A motion of which some is linear. With F(T) the motion under layers T, L(T) its linear form about rest, N the layers that
 * are as predicted and S those in full: R + (L(N) - L(0)) + (F(S and N) - F(N)), where R is L(0) where the machine itself is
 * as predicted, else F(0). With everything as predicted this is the linear machine of the prediction, and with nothing so
 * it is the full motion. What is at rest is worked out at every moment, so that a weight that changes on the way does.
 */
export function partlyLinear(
  { machine, keptRows, rest, motion, truth }: Moved,
  { machine: isLinear, layers: asked }: AsPredicted,
  on: MechanismLayers,
): (...at: Moment) => Motion {
  const linear: MechanismLayers = new Set([...designMechanism].filter((layer) => asked.has(layer)))
  const all: MechanismLayers = new Set([...on, ...linear])
  const none: MechanismLayers = new Set()
  const at = restOfMachine(machine, rest)
  const [bare, kept] = [none, linear].map((layers) => slopesOf(machine, keptRows, at, layers)) as [Slopes, Slopes]
  return (states, asked, time, looking) => {
    const inputs = isLinear && on.has('driveLimits') ? withinLimits(machine, truth(time), asked) : asked
    const full = motion(all, states, inputs, time, looking)
    if (!isLinear && linear.size === 0) return full
    const from = all.size === linear.size ? full : motion(linear, states, inputs, time, looking)
    const still = at.states.map((value, i) => add(value, mul(at.runs[i]!, time)))
    const own = isLinear ? motion(none, still, at.inputs, time, looking) : motion(none, states, inputs, time, looking)
    const away = [...states.map((x, i) => sub(x, still[i]!)), ...inputs.map((u, i) => sub(u, at.inputs[i]!))]
    const along = ({ slopes }: Affine) => sum(slopes.map((slope, i) => mul(slope, away[i]!)))
    const joined = (own: Scalar, full: Scalar, from: Scalar, byBare: Affine, byKept: Affine) => {
      const followed = isLinear ? along(byKept) : sub(along(byKept), along(byBare))
      return add(add(add(own, byKept.value - byBare.value), followed), full === from ? 0 : sub(full, from))
    }
    const [ownShown, fromShown] = [own, from].map(({ shown }) => new Map(shown.map(({ name, value }) => [name, value])))
    return {
      rates: full.rates.map((rate, i) => joined(own.rates[i]!, rate, from.rates[i]!, bare.rates[i]!, kept.rates[i]!)),
      shown: full.shown.map((one) => {
        const [own, from] = [ownShown!.get(one.name), fromShown!.get(one.name)]
        const [byBare, byKept] = [bare.shown.get(one.name), kept.shown.get(one.name)]
        if (own === undefined || from === undefined || byBare === undefined || byKept === undefined) return one
        return { ...one, value: joined(own, one.value, from, byBare, byKept) }
      }),
    }
  }
}

/** What drives are asked, no more than they give: a linear machine is limited before it follows its slopes, not after. */
function withinLimits(machine: Part, read: Read, asked: readonly Scalar[]): readonly Scalar[] {
  if (isBodiless(machine)) return asked
  return mechanismForm(machine, numbersOf(machine)).inputs.map(({ name }, i) => {
    const limits = inputLimits(machine, name, read)
    return limits === undefined ? asked[i]! : clamp(asked[i]!, ...limits)
  })
}

/** What drives are asked for by what is asked of pushes, along the slopes at rest; nothing is spread where there is none. */
export function linearSpread(
  machine: Part,
  { pushes }: Pick<StartingRest, 'pushes'>,
  given: (push: string) => Scalar,
): ReadonlyMap<string, Scalar> {
  if (isBodiless(machine)) return new Map()
  const { names, drives, at, values } = spreadAtRest(machine, pushes)
  const slopes = jacobianAt(values, [...names.keys()], at)
  const away = names.map((name, i) => sub(given(name), at[i]!))
  const rests = tapeOf(values).values(at)
  return new Map(drives.map((drive, i) => [drive, add(rests[i]!, sum(away.map((by, k) => mul(slopes[i]![k]!, by))))]))
}

function spreadAtRest(machine: Part, pushes: Readonly<Record<string, number>>) {
  const graph = new Graph()
  const names = askedNames(machine)
  const slots = new Map(names.map((name, i) => [name, graph.slot(i)]))
  const over = spread(machine, numbersOf(machine), (push) => slots.get(push)!, false)
  return { names, drives: [...over.keys()], at: names.map((name) => pushes[name] ?? 0), values: [...over.values()] }
}

function restOfMachine(machine: Part, { states, pushes, runs }: StartingRest): RestOfMachine {
  const form = isBodiless(machine) ? bodilessForm(machine) : mechanismForm(machine, numbersOf(machine))
  const through = isBodiless(machine) ? new Map<string, Scalar>() : linearSpread(machine, { pushes }, (name) => pushes[name] ?? 0)
  return {
    states: form.states.map(({ name }) => states[name] ?? 0),
    inputs: form.inputs.map(({ name }) => (through.get(name) as number | undefined) ?? pushes[name] ?? 0),
    runs: form.states.map(({ name }) => runs[name] ?? 0),
  }
}

/** By machine, which nobody changes in place: many programs of one account ask for the same. */
const known = new WeakMap<Part, Map<string, Slopes>>()

function slopesOf(
  machine: Part,
  keptRows: readonly number[],
  { states, inputs }: RestOfMachine,
  layers: MechanismLayers,
): Slopes {
  const at = Float64Array.from([...states, ...inputs])
  return rememberedOf(known, machine, JSON.stringify([[...layers], keptRows, ...at]), () => {
    const graph = new Graph()
    const slots = [...at].map((_, i) => graph.slot(i))
    const [x, u] = [slots.slice(0, states.length), slots.slice(states.length)]
    const read = numbersOf(machine)
    const { rates, shown } = isBodiless(machine)
      ? bodilessShown(machine, bodilessMotion(machine, read, layers, x, u))
      : shownOf(mechanismMotion(machine, read, layers, mechanismForm(machine, read), x, u, keptRows))
    const values = [...rates, ...shown.map(({ value }) => value)]
    const [here, slopes] = [tapeOf(values).values(at), jacobianAt(values, [...at.keys()], at)]
    const affine = here.map((value, i) => ({ value, slopes: slopes[i]! }))
    const named = shown.map(({ name }, i) => [name, affine[rates.length + i]!] as const)
    const isSmooth = ({ value, slopes }: Affine) => Number.isFinite(value) && slopes.every(Number.isFinite)
    return { rates: affine.slice(0, rates.length), shown: new Map(named.filter(([, one]) => isSmooth(one))) }
  })
}

function shownOf({ rates, signals }: ReturnType<typeof mechanismMotion>): Motion {
  return { rates, shown: signals }
}

/** A motion of a machine without bodies, with what it shows. */
export function bodilessShown(machine: Part, { rates, outputs }: ReturnType<typeof bodilessMotion>): Motion {
  const form = bodilessForm(machine)
  return { rates, shown: form.outputs.map((output, i) => ({ ...output, label: output.name, value: outputs[i]! })) }
}

/** Whether a machine has a form about rest that does not change as its motion goes on: an attitude that runs on has none in its quaternion. */
export function hasLinearMotion(machine: Part, { runs }: Pick<StartingRest, 'runs'>): boolean {
  if (isBodiless(machine)) return true
  const { positions } = mechanismForm(machine, numbersOf(machine)).assembly
  return !positions.some(({ name, unit }) => unit === '' && (runs[name] ?? 0) !== 0)
}
