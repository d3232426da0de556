import {
  add,
  and,
  assign,
  call,
  div,
  equal,
  floor,
  less,
  min,
  mul,
  not,
  repeatWhile,
  select,
  set,
  sub,
  when,
} from '../expression'
import type { Assignment, Flag, NumberNode, Procedure, Scalar, Statement } from '../expression'
import type { ControlledSlots, ControlledSteps } from './controlled'
import { adaptiveSteps } from './dormandPrince'
import { fadesOf, noFades } from './fades'
import { each, rungeKutta4 } from './integrate'
import type { Equation } from './integrate'
import { slotOf } from './layout'
import type { Layout } from './layout'
import { implicitSteps, slopesOf } from './rosenbrock'

/** How a machine goes from tick to tick: what a trial may say, and sample by sample. */
export type Method = Stepped | 'sampled'
type Stepped = 'fixed' | 'adaptive' | 'implicit'
/** What a trial says. */
export type Said = Stepped | 'chosen'

/** Tolerances of steps that measure their error: relative, and absolute in each state's unit. */
const tolerances = {
  adaptive: { relative: 1e-8, absolute: 1e-10 },
  implicit: { relative: 1e-7, absolute: 1e-9 },
} as const

/** How much coarser the other run is that the error of a run is told by; fixed steps are halved instead. */
const coarser = 100

/**
 * Modes that turn or fade by so many radians a tick are left to implicit steps: explicit ones are no longer than about 3
 * radians, each a twentieth of the work.
 */
const stiffRadians = 60

/** Modes that turn or fade by less a tick: a classic step of a tick errs by (0.15)^5/120, below 1e-6, of what they do in it. */
const slowRadians = 0.15

/** Between ticks of a run; its numbers are set before it starts. */
export interface Integration {
  readonly method: Method
  /** To be printed as `jacobian` beside the derivative; empty where none is asked for. */
  readonly slopes: readonly Assignment[]
  readonly procedures: readonly Procedure[]
  /** To be computed before a run, once its numbers are set. */
  readonly first: readonly Statement[]
  /** From this tick to the next. */
  readonly toNext: readonly Statement[]
  readonly slots: IntegrationSlots
}

export interface IntegrationSlots {
  /** Steps of fixed length in a tick, and how many were asked for. */
  readonly fixed?: { readonly perTick: NumberNode; readonly asked: number }
  readonly controlled?: ControlledSlots & {
    readonly relative: NumberNode
    readonly absolute: NumberNode
    readonly asked: { readonly relative: number; readonly absolute: number }
  }
}

export interface Between {
  readonly tick: NumberNode
  readonly diverged: NumberNode
  /** s */
  readonly tickLength: number
  readonly time: Scalar
  /** Where what acts on the machine jumps within a tick: steps end there. */
  readonly bends?: Bends
}

export interface Bends {
  /** s: the first of them after a time at which steps have arrived. */
  readonly after: (t: Scalar) => Scalar
  /** s: the last instant before a step may meet one. */
  readonly last: NumberNode
  /** What is to be done before steps go on from a time, s. */
  readonly arrive: (t: Scalar) => readonly Statement[]
}

/** Steps from tick to tick of a trial. */
const mostSteps = 50_000

/** An instant before a time, by its last digits: what begins at that time has not begun. */
const justBefore = 1 - 2 ** -42

/**
 * What steps a trial takes: those it says, or those that its fastest mode, rad/s, asks for. Where that is slow and nothing
 * is sudden, a tick is one step, which needs no measure of its error.
 */
export function methodFor(said: Said, fastest: () => number, tickLength: number, isSudden: boolean): Stepped {
  if (said !== 'chosen') return said
  const rate = fastest()
  return !isSudden && rate * tickLength < slowRadians ? 'fixed' : measuredFor(rate, tickLength)
}

function measuredFor(fastest: number, seconds: number): 'adaptive' | 'implicit' {
  return fastest * seconds > stiffRadians ? 'implicit' : 'adaptive'
}

/**
 * Steps with a method from tick to tick, none longer than `longest`, s. `rates` are those of the procedure `derivative`.
 * Steps of fixed length take states that fade by themselves exactly where it is told which slots are constant.
 */
export function integration(
  layout: Layout,
  equation: Equation,
  method: Stepped,
  longest: number,
  rates: readonly Scalar[],
  between: Between,
  isConstant?: (slot: number) => boolean,
): Integration {
  if (method === 'fixed') return fixedSteps(layout, equation, longest, rates, between, isConstant)
  const { tick, tickLength, time, diverged } = between
  const made = measuredSteps(layout, equation, method, longest, rates, mostSteps)
  const next = mul(add(tick, 1), tickLength)
  const steps = throughBends(layout, equation, between, (aim) => advanced(made, aim, diverged))
  return { ...made, toNext: [set(slotOf(equation.t), time), ...(steps ?? advanced(made, next, diverged))] }
}

/** From bend to bend up to the next tick; nothing where there are none. */
function throughBends(
  layout: Layout,
  { t }: Equation,
  { tick, tickLength, bends, time }: Between,
  to: (aim: NumberNode, isWholeTick: Flag) => readonly Statement[],
): readonly Statement[] | undefined {
  if (bends === undefined) return undefined
  const [end, aim] = layout.many(2) as [NumberNode, NumberNode]
  return [
    set(slotOf(end), mul(add(tick, 1), tickLength)),
    repeatWhile(less(t, end), [
      ...bends.arrive(t),
      set(slotOf(aim), min(end, bends.after(t))),
      set(slotOf(bends.last), mul(aim, justBefore)),
      ...to(aim, and(equal(aim, end), equal(t, time))),
      set(slotOf(t), aim),
    ]),
  ]
}

function fixedSteps(
  layout: Layout,
  equation: Equation,
  longest: number,
  rates: readonly Scalar[],
  between: Between,
  isConstant?: (slot: number) => boolean,
): Integration {
  const { tickLength, time } = between
  const [perTick, step, h, next] = layout.many(4) as [NumberNode, NumberNode, NumberNode, NumberNode]
  const { fades, first } = isConstant === undefined ? noFades : fadesOf(layout, equation, rates, h, isConstant)
  const all = [set(slotOf(step), 0), repeatWhile(less(step, perTick), [call('rk4'), set(slotOf(step), add(step, 1))])]
  const steps = throughBends(layout, equation, between, (aim, isWholeTick) => [
    set(slotOf(next), div(select(isWholeTick, tickLength, sub(aim, equation.t)), perTick)),
    when(not(equal(next, h)), [set(slotOf(h), next), assign(first)]),
    ...all,
  ])
  return {
    method: 'fixed',
    slopes: [],
    procedures: [rungeKutta4(layout, equation, h, fades)],
    first: [set(slotOf(h), div(tickLength, perTick)), assign(first)],
    toNext: [set(slotOf(equation.t), time), ...(steps ?? all)],
    slots: { fixed: { perTick, asked: Math.max(1, Math.ceil(tickLength / longest - 1e-9)) } },
  }
}

type Controlled = Omit<Integration, 'toNext'> & { readonly slots: { readonly controlled: ControlledSlots } }

function measuredSteps(
  layout: Layout,
  equation: Equation,
  method: 'adaptive' | 'implicit',
  longest: Scalar,
  rates: readonly Scalar[],
  mostSteps?: number,
): Controlled {
  const [relative, absolute] = layout.many(2) as [NumberNode, NumberNode]
  const control = {
    relativeTolerance: relative,
    absoluteTolerance: absolute,
    longest,
    ...(mostSteps === undefined ? {} : { mostSteps }),
  }
  const slopes = method === 'implicit' ? slopesOf(layout, equation, rates) : undefined
  const steps: ControlledSteps =
    slopes === undefined ? adaptiveSteps(layout, equation, control, 'onTarget') : implicitSteps(layout, equation, slopes, control)
  return {
    method,
    slopes: slopes?.values ?? [],
    first: [],
    procedures: steps.procedures,
    slots: { controlled: { ...steps.slots, relative, absolute, asked: tolerances[method] } },
  }
}

function advanced({ slots }: Controlled, target: Scalar, diverged: NumberNode): Statement[] {
  const { target: aim, stuck } = slots.controlled
  return [set(slotOf(aim), target), call('advance'), when(less(0, stuck), [set(slotOf(diverged), stuck)])]
}

/** s: free motion is looked at so often, where it decides whether a machine is stiff. */
const freeLook = 1e-3

/** Steps of a machine alone, from wherever it is to `step` s later. */
export function freeSteps(
  layout: Layout,
  equation: Equation,
  fastest: number,
  step: NumberNode,
  rates: readonly Scalar[],
  diverged: NumberNode,
): Integration {
  const made = measuredSteps(layout, equation, measuredFor(fastest, freeLook), step, rates)
  return { ...made, toNext: advanced(made, add(equation.t, step), diverged) }
}

/** A sampled machine moves on at its own samples alone. */
export function sampleBySample(
  { stage, stageTime, x, slope }: Equation,
  sampleTime: number,
  { tick, tickLength, time }: Between,
): Integration {
  const copied = (to: readonly NumberNode[], from: readonly Scalar[]) => assign(each(to, (i) => from[i]!))
  const next = [copied([...stage, stageTime], [...x, time]), call('derivative'), copied(x, slope)]
  return {
    method: 'sampled',
    slopes: [],
    first: [],
    procedures: [],
    toNext: [when(due(tick, Math.round(sampleTime / tickLength)), next)],
    slots: {},
  }
}

/** How finely a run goes: as its trial asks, or the other way that tells its error. */
export type Fineness = 'asked' | 'other'

/** Sets the numbers of an integration before a run. */
export function setFineness(
  memory: Float64Array,
  { fixed, controlled }: IntegrationSlots,
  fineness: Fineness,
  tick: number,
): void {
  if (fixed !== undefined) memory[slotOf(fixed.perTick)] = fineness === 'asked' ? fixed.asked : 2 * fixed.asked
  if (controlled === undefined) return
  const factor = fineness === 'asked' ? 1 : coarser
  memory[slotOf(controlled.relative)] = factor * controlled.asked.relative
  memory[slotOf(controlled.absolute)] = factor * controlled.asked.absolute
  memory[slotOf(controlled.next)] = tick
  memory[slotOf(controlled.stuck)] = 0
}

/** Every so many ticks, starting with the first. */
export function due(tick: Scalar, every: number): Flag {
  return every === 1 ? true : equal(sub(tick, mul(every, floor(mul(tick, 1 / every)))), 0)
}
