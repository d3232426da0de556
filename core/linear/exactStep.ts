import { along, complex, identity, magnitude, multiply } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { atan2, log } from '../expression'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { balanced } from './balanced'
import { sampledWithHold } from './discretize'
import { highest } from './goldenSection'
import { minimalRealization } from './reachable'
import { poles, steadyGain } from './stateSpace'
import type { StateSpace } from './stateSpace'
import type { StepFigures } from './stepFigures'

/** Without a final value of its own, 0, there is no travel: no rise and no overshoot. */
export type ExactStepFigures = Omit<StepFigures, 'overshoot'> & Partial<Pick<StepFigures, 'overshoot'>>

export interface StepRules {
  /** Share of the travel; of the peak where the response comes back to where it was. */
  readonly settlingBand?: number
  /** Shares of the travel between which it rises. */
  readonly rise?: readonly [number, number]
  /** s by which everything comes later */
  readonly delay?: number
}

/** Steps of time a radian of the fastest part that is still there, and e-foldings after which a part is gone, the slowest last. */
const stepsPerRadian = 24
const goneAfter = 34
const overAfter = 18
const mostSteps = 6_000_000
const halvings = 60

/**
 * Figures of the unit step of a stable system with one input and one output, from its exact response: time is walked in steps
 * that suit the fastest part still there until the slowest is over, and every crossing and the peak are found between steps.
 * What no input reaches and no output shows does not count. Without a final value of its own there is no rise and no overshoot.
 */
export function exactStepFigures(
  system: StateSpace,
  { settlingBand = 0.02, rise: [low, high] = [0.1, 0.9], delay = 0 }: StepRules = {},
): Outcome<ExactStepFigures> {
  const small = balanced(minimalRealization(system))
  const parts = (poles(small) ?? []).map((pole) => partOf(pole, small.dt)).sort((a, b) => b.decay - a.decay)
  const final = steadyGain(small)?.[0]?.[0]
  if (final === undefined || parts.some(({ decay }) => !(decay > 0)))
    return refusedFor('system', 'The step response does not come to rest.', 'Close the loop first, or ask for the step response.')
  const walk = new Walk(small)
  const legs = legsOf(parts, small.dt)
  if (legs.reduce((sum, { steps }) => sum + steps, 0) > mostSteps)
    return refusedFor(
      'system',
      'It swings too long to be followed to its end.',
      'Ask for the step response as far as you need it.',
    )
  const comesBack = Math.abs(final) <= 1e-12 * walk.size(legs)
  const travel = comesBack ? 1 : final
  const share = (value: number) => (comesBack ? Math.abs(value) : value / travel)
  const marks = walk.marks(
    legs,
    [low, high].map((level) => (value: number) => share(value) >= level),
    share,
  )
  const band = settlingBand * Math.abs(comesBack ? marks.peak.value : travel)
  const settled = walk.lastOutside(legs, (value) => Math.abs(value - final) > band)
  const [from, to] = marks.first
  return done({
    final: comesBack ? 0 : final,
    ...(comesBack || from === undefined || to === undefined ? {} : { rise: to - from }),
    peak: marks.peak.value,
    peakTime: marks.peak.t + delay,
    ...(comesBack ? {} : { overshoot: Math.max(0, share(marks.peak.value) - 1) }),
    settling: settled + delay,
  })
}

interface PartOfResponse {
  /** 1/s */
  readonly decay: number
  /** rad/s */
  readonly pace: number
}

/** A sampled pole at 0 is gone after as many samples as there are states; one sample each is counted here. */
function partOf(pole: Complex, dt: number | null): PartOfResponse {
  if (dt === null) return { decay: -pole.re, pace: magnitude(pole) }
  const size = Math.max(magnitude(pole), Number.MIN_VALUE)
  return { decay: -log(size) / dt, pace: magnitude(complex(log(size), atan2(pole.im, pole.re))) / dt }
}

interface Leg {
  /** s */
  readonly step: number
  readonly steps: number
}

/** One leg until each part is gone, fastest first. */
function legsOf(parts: readonly PartOfResponse[], dt: number | null): Leg[] {
  const legs: Leg[] = []
  let t = 0
  parts.forEach(({ decay }, i) => {
    const fastest = Math.max(...parts.slice(i).map(({ pace }) => pace))
    const own = 1 / (stepsPerRadian * fastest)
    const step = dt === null ? own : dt * Math.max(1, Math.floor(own / dt))
    const end = (i === parts.length - 1 ? overAfter : goneAfter) / decay + (dt ?? 0) * parts.length
    const steps = Math.ceil(Math.max(0, end - t) / step)
    if (steps > 0) legs.push({ step, steps })
    t += step * steps
  })
  return legs
}

/** Where a walk stands: the state, and what it shows. */
interface Place {
  readonly t: number
  readonly x: readonly number[]
  readonly value: number
}

class Walk {
  private readonly start: Place

  constructor(private readonly system: StateSpace) {
    this.start = this.place(
      0,
      system.a.map(() => 0),
    )
  }

  /** The largest value on the way. */
  size(legs: readonly Leg[]): number {
    let most = 0
    this.each(legs, (_, { value }) => (most = Math.max(most, Math.abs(value))))
    return most
  }

  /** When each condition first holds, and where the height is greatest. */
  marks(legs: readonly Leg[], reached: readonly ((value: number) => boolean)[], height: (value: number) => number) {
    const first: (number | undefined)[] = reached.map((holds) => (holds(this.start.value) ? 0 : undefined))
    let [top, beforeTop] = [this.start, this.start]
    this.each(legs, (from, to) => {
      reached.forEach((holds, i) => {
        if (first[i] === undefined && holds(to.value)) first[i] = this.turn(from, to, holds)
      })
      if (height(to.value) > height(top.value)) [beforeTop, top] = [from, to]
    })
    return { first, peak: this.peakAbout(beforeTop, top, height) }
  }

  /** When the condition held last; 0 where it never did. */
  lastOutside(legs: readonly Leg[], isOutside: (value: number) => boolean): number {
    let last: readonly [Place, Place] | undefined
    this.each(legs, (from, to) => {
      if (isOutside(from.value) && !isOutside(to.value)) last = [from, to]
    })
    return last === undefined ? 0 : this.turn(...last, (value) => !isOutside(value))
  }

  private each(legs: readonly Leg[], visit: (from: Place, to: Place) => void): void {
    let at = this.start
    for (const { step, steps } of legs) {
      const move = this.mover(step)
      for (let k = 0; k < steps; k++) {
        const next = move(at, step)
        visit(at, next)
        at = next
      }
    }
  }

  /** Between two places, when a condition that holds at the second begins to. */
  private turn(from: Place, to: Place, holds: (value: number) => boolean): number {
    const { dt } = this.system
    let [no, yes] = [from, to]
    for (let k = 0; k < halvings && yes.t - no.t > (dt ?? 1e-14 * yes.t) * 1.5; k++) {
      const half = 0.5 * (yes.t - no.t)
      const between = this.after(no, dt === null ? half : dt * Math.max(1, Math.round(half / dt)))
      if (holds(between.value)) yes = between
      else no = between
    }
    return yes.t
  }

  private peakAbout(before: Place, top: Place, height: (value: number) => number): Place {
    if (top === this.start) return top
    const { dt } = this.system
    const whole = (by: number) => (dt === null ? by : dt * Math.round(by / dt))
    const later = highest((by) => height(this.after(before, whole(by)).value), 0, 2 * (top.t - before.t), 40)
    const found = this.after(before, whole(later))
    return height(found.value) > height(top.value) ? found : top
  }

  private after(from: Place, by: number): Place {
    return by === 0 ? from : this.mover(by)(from, by)
  }

  private mover(step: number): (from: Place, by: number) => Place {
    const { a, b } =
      this.system.dt === null ? sampledWithHold(this.system, step) : several(this.system, Math.round(step / this.system.dt))
    const push = b.map((row) => row[0]!)
    return (from, by) =>
      this.place(
        from.t + by,
        push.map((value, i) => value + along(a[i]!, from.x)),
      )
  }

  private place(t: number, x: readonly number[]): Place {
    const { c, d } = this.system
    return { t, x, value: along(c[0]!, x) + d[0]![0]! }
  }
}

/** So many samples at once, the input held. */
function several(system: StateSpace, count: number): { a: Matrix; b: Matrix } {
  const [n, m] = [system.a.length, system.inputs.length]
  const rest = identity(m).map((row) => [...new Array<number>(n).fill(0), ...row])
  let power: Matrix = [...system.a.map((row, i) => [...row, ...system.b[i]!]), ...rest]
  let whole: Matrix = identity(n + m)
  for (let left = count; left > 0; left = Math.floor(left / 2)) {
    if (left % 2 === 1) whole = multiply(power, whole)
    power = multiply(power, power)
  }
  const top = whole.slice(0, n)
  return { a: top.map((row) => row.slice(0, n)), b: top.map((row) => row.slice(n)) }
}
