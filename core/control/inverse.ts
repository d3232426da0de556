import { leastChange, norm } from '../algebra'
import { Graph, add, div, mul, sub, sum, tapeOf } from '../expression'
import type { Scalar, Tape } from '../expression'
import { partHash, remembered, rememberedOf } from '../document'
import type { Part } from '../document'
import { findHeld, heldQuantities, mechanismForm, numbersOf } from '../machine'
import type { Read } from '../machine'
import { anglesOf, inverseEquations, inBodyAxes } from './inverseEquations'
import type { AskedAngles, InverseEquations, FrictionChoice } from './inverseEquations'
import { closedFurther, closedSpeeds, linkageOf } from './linkage'
import type { Linkage, Stuck } from './linkage'
import type { Motion } from './feedforwards'
import type { OperatingPoint } from './operatingPoint'

/** What one loop asks of the machine: its push, what it holds, and how that shall move. */
export interface AskedOfLoop {
  readonly push: string
  readonly holds: string
  /** As it is, not about rest. */
  readonly motion: Motion
}

/** The two ends of a loop at its machine. */
type LoopSide = Pick<AskedOfLoop, 'push' | 'holds'>

/** Relative: how far from proportional a push may be. */
const proportional = 1e-9
/** A share of what a push moves most. */
const rounding = 1e-12

/**
 * The pushes with which a machine moves as its loops are asked, by its own equations x' = f(x) + B(x) u: the rows of what
 * is held, solved for u. Everything else stays where it rests, or follows what is held to first order; joints of closed
 * chains stand at `dependents` and move with them. `read` gives the machine's numbers; the order of the answer is that of
 * `asked`. Refused by `inverseProblem`.
 */
export function inversePushes(
  machine: Part,
  read: Read,
  rest: OperatingPoint,
  asked: readonly AskedOfLoop[],
  friction: FrictionChoice = 'withFriction',
  dependents?: readonly Scalar[],
): readonly Scalar[] {
  const { matrix, wanted } = rowsOf(machine, read, rest, asked, friction, dependents)
  return eliminated(matrix, wanted)
}

/** Joints of closed chains that follow the references, from sample to sample. */
export interface FollowingJoints {
  /** Where they stand at rest. */
  readonly start: readonly number[]
  /** Where they stand now, from where they stood a sample ago. */
  readonly next: (read: Read, asked: readonly AskedOfLoop[], before: readonly Scalar[]) => readonly Scalar[]
}

/** Nothing where the machine has no closed chains. Meant for machines of which `inverseProblem` says nothing. */
export function followingJoints(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): FollowingJoints | undefined {
  const linkage = linkageFor(machine, rest, asked)
  if (linkage === undefined || 'what' in linkage) return undefined
  return {
    start: linkage.dependents.map(({ name }) => rest.states[name] ?? 0),
    next: (read, moving, before) => {
      const equations = inverseEquations(machine, numbersOf(machine))
      const x = [...equations.toForm(placed(machine, equations, rest, moving, ordersOf(machine, rest, moving)))]
      standOn(x, linkage, before)
      return closedFurther(machine, read, linkage, x.slice(0, mechanismForm(machine, read).assembly.positions.length))
    },
  }
}

function linkageFor(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): Linkage | Stuck | undefined {
  const held = asked.map(({ holds }) => holds)
  // what is held by its rate stands still all the same
  const stands = held.map((holds) => heldQuantities(machine).find(({ rate }) => rate === holds)?.name ?? holds)
  return linkageOf(machine, rest.states, stands)
}

/** The rows of what is held: matrix u = wanted. */
function rowsOf(
  machine: Part,
  read: Read,
  rest: OperatingPoint,
  loops: readonly AskedOfLoop[],
  friction: FrictionChoice,
  dependents: readonly Scalar[] | undefined,
) {
  const equations = inverseEquations(machine, read, friction)
  const { states, inputs } = equations
  const orders = ordersOf(machine, rest, loops)
  const asked = aboutBody(loops, anglesOf(machine, rest))
  const x = onChains(machine, read, rest, loops, dependents, equations, placed(machine, equations, rest, asked, orders))
  const rowAt = asked.map(({ holds }, i) => states.indexOf(orders[i] === 2 ? findHeld(machine, holds)!.rate! : holds))
  const resting = inputs.map((name) => (asked.some(({ push }) => push === name) ? 0 : (rest.pushes[name] ?? 0)))
  const isTold = read === numbersOf(machine) && x.every((value) => typeof value === 'number')
  const ratesWith = (given: readonly number[]) =>
    isTold ? ratesAt(machine, friction, x as readonly number[], given) : equations.rates(x, given)
  const free = ratesWith(resting)
  const columns = asked.map(({ push }) => ratesWith(inputs.map((name, i) => (name === push ? 1 : resting[i]!))))
  return {
    matrix: rowAt.map((row) => columns.map((column) => sub(column[row]!, free[row]!))),
    wanted: rowAt.map((row, i) => sub(asked[i]!.motion[orders[i]!]!, free[row]!)),
  }
}

/** The same with the joints of closed chains where they stand and as fast as they go. */
function onChains(
  machine: Part,
  read: Read,
  rest: OperatingPoint,
  loops: readonly AskedOfLoop[],
  dependents: readonly Scalar[] | undefined,
  { toForm, fromForm }: InverseEquations,
  x: readonly Scalar[],
): readonly Scalar[] {
  const linkage = linkageFor(machine, rest, loops)
  if (linkage === undefined || 'what' in linkage) return x
  const states = [...toForm(x)]
  if (dependents !== undefined) standOn(states, linkage, dependents)
  const { positions, speeds } = mechanismForm(machine, read).assembly
  const [q, v] = [states.slice(0, positions.length), states.slice(positions.length, positions.length + speeds.length)]
  const moved = closedSpeeds(machine, read, linkage, q, v)
  linkage.dependents.forEach(({ speed }, i) => (states[positions.length + speed] = moved[i]!))
  return fromForm(states)
}

/** Where a machine stands and how fast it goes when its loops have what they ask for, its chains still as they rest. */
function placed(
  machine: Part,
  { states, at: statesAt }: InverseEquations,
  rest: OperatingPoint,
  asked: readonly AskedOfLoop[],
  orders: readonly (0 | 1 | 2)[],
): Scalar[] {
  const still = statesAt(rest)
  const x: Scalar[] = [...still]
  const put = (name: string | undefined, value: (now: Scalar) => Scalar) => {
    const at = states.indexOf(name ?? '')
    if (at >= 0) x[at] = value(x[at]!)
  }
  const shares = followers(machine, rest, asked)
  asked.forEach(({ holds, motion }, i) => {
    const gone = sub(motion[0], still[states.indexOf(holds)] ?? 0)
    for (const { state, share } of shares[i]!) {
      put(state, (now) => add(now, mul(share, gone)))
      if (orders[i] === 2) put(findHeld(machine, state)?.rate, (now) => add(now, mul(share, motion[1])))
    }
  })
  asked.forEach(({ holds, motion }, i) => {
    put(holds, () => motion[0])
    if (orders[i] === 2) put(findHeld(machine, holds)!.rate, () => motion[1])
  })
  return x
}

function standOn(x: Scalar[], linkage: Linkage, dependents: readonly Scalar[]): void {
  linkage.dependents.forEach(({ position }, i) => (x[position] = dependents[i]!))
}

/** Loops on the angles of bodies, as the bodies' own axes are asked. */
function aboutBody(asked: readonly AskedOfLoop[], bodies: readonly AskedAngles[]): readonly AskedOfLoop[] {
  const given = new Map(asked.map(({ holds, motion }) => [holds, motion]))
  const held = bodies.filter(({ names }) => names.some((name) => given.has(name)))
  const motions = new Map(held.flatMap((body) => [...inBodyAxes(given, body)]))
  return asked.map((one) => ({ ...one, motion: motions.get(one.holds) ?? one.motion }))
}

interface Follower {
  readonly state: string
  /** How far it goes for a unit of what is held. */
  readonly share: number
}

/** A share below this is rounding. */
const noShare = 1e-9

/** What no loop holds and yet follows each held quantity, at rest again, to first order: a rope stays upright as its boom rises. */
function followers(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): readonly (readonly Follower[])[] {
  const { states, inputs, at: statesAt } = inverseEquations(machine, numbersOf(machine), 'withoutFriction')
  const at = [...statesAt(rest), ...inputs.map((name) => rest.pushes[name] ?? 0)]
  const jacobian = tapeFor(machine, 'withoutFriction').jacobian(
    at.map((_, i) => i),
    at,
  )
  const held = asked.map(({ holds }) => states.indexOf(holds))
  const free = [
    ...states.map((_, i) => i).filter((i) => !held.includes(i)),
    ...asked.map(({ push }) => states.length + inputs.indexOf(push)),
  ]
  const columns = jacobian.map((row) => free.map((i) => row[i]!))
  // a push of a newton moves little where a turn of a radian moves much: each in its own size
  const units = free.map((_, k) => 1 / (norm(columns.map((row) => row[k]!)) || 1))
  return held.map((one) => {
    const moved = leastChange(
      columns,
      jacobian.map((row) => -(row[one] ?? 0)),
      units,
    )
    return free.flatMap((i, k) => {
      const share = moved?.[k] ?? 0
      return i < states.length && Math.abs(share) > noShare ? [{ state: states[i]!, share }] : []
    })
  })
}

/** By machine, which nobody changes in place. */
const tapes = new WeakMap<Part, Map<string, Tape>>()

/** The rates of a machine with its own numbers, by its states and then its inputs: written once, worked out at many points. */
function tapeFor(machine: Part, friction: FrictionChoice): Tape {
  return rememberedOf(tapes, machine, friction, () => {
    const graph = new Graph()
    const { states, inputs, rates } = inverseEquations(machine, numbersOf(machine), friction)
    const slots = [...states, ...inputs].map((_, i) => graph.slot(i))
    return tapeOf(rates(slots.slice(0, states.length), slots.slice(states.length)))
  })
}

function ratesAt(machine: Part, friction: FrictionChoice, x: readonly number[], u: readonly number[]): readonly number[] {
  return tapeFor(machine, friction).values([...x, ...u])
}

/** Whether a push moves the rate of what is held, or the rate of that: 1 or 2; 0 where neither. */
function ordersOf(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): readonly (0 | 1 | 2)[] {
  const { states, inputs, at } = inverseEquations(machine, numbersOf(machine))
  const x = at(rest)
  const u = inputs.map((name) => rest.pushes[name] ?? 0)
  const here = ratesAt(machine, 'withFriction', x, u)
  return asked.map(({ push, holds }) => {
    const there = ratesAt(machine, 'withFriction', x, stepped(u, inputs.indexOf(push), 1))
    const moves = (name: string | undefined) => {
      const at = states.indexOf(name ?? '')
      return at >= 0 && there[at] !== here[at]
    }
    const { rate } = findHeld(machine, holds)!
    return moves(holds) ? 1 : moves(rate) ? 2 : 0
  })
}

interface InverseProblem {
  readonly what: string
  readonly remedy: string
}

/** Answers about machines seen lately: every edit checks its document anew. */
const mostKept = 50
const problems = new Map<string, InverseProblem | undefined>()

/** What keeps a machine's equations from being turned round for these loops, or nothing. `rest` is its operating point. */
export function inverseProblem(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): InverseProblem | undefined {
  const key = `${partHash(machine)} ${JSON.stringify(asked)}`
  return remembered(problems, mostKept, key, () => foundProblem(machine, rest, asked))
}

function foundProblem(machine: Part, rest: OperatingPoint, asked: readonly LoopSide[]): InverseProblem | undefined {
  const gainsInstead = 'Use gains on the reference and its derivatives.'
  const vector = asked.find(({ holds }) => findHeld(machine, holds)?.vector !== undefined)
  if (vector !== undefined)
    return { what: `${vector.holds} is a part of a vector, which the equations do not know.`, remedy: 'Hold roll and pitch.' }
  const linkage = linkageFor(machine, rest, asked)
  if (linkage !== undefined && 'what' in linkage) return { what: linkage.what, remedy: gainsInstead }
  if (machine.sampleTime !== undefined) return { what: 'The machine is a sampled one.', remedy: gainsInstead }
  const orders = ordersOf(machine, rest, asked)
  const lost = orders.indexOf(0)
  if (lost >= 0)
    return {
      what: `${asked[lost]!.push} moves neither the rate of ${asked[lost]!.holds} nor the rate of that directly.`,
      remedy: gainsInstead,
    }
  const { states, inputs, bodies, at: statesAt } = inverseEquations(machine, numbersOf(machine))
  const x = statesAt(rest)
  const u = inputs.map((name) => rest.pushes[name] ?? 0)
  for (const { push } of asked) {
    const at = inputs.indexOf(push)
    const [none, one, two] = [0, 1, 2].map((value) => ratesAt(machine, 'withFriction', x, stepped(u, at, value - u[at]!)))
    const changes = none!.slice(0, bodies).map((value, i) => [one![i]! - value, two![i]! - value] as const)
    // what the push hardly moves beside the rest is rounding
    const most = Math.max(...changes.map(([first]) => Math.abs(first)))
    const bent = changes.findIndex(
      ([first, second]) => Math.abs(second - 2 * first) > proportional * (Math.abs(second) + Math.abs(first)) + rounding * most,
    )
    if (bent >= 0)
      return {
        what: `${push} does not act in proportion: it bends ${states[bent]}.`,
        remedy: 'Carry what holds it at rest, or use gains.',
      }
  }
  const still = asked.map(({ push, holds }): AskedOfLoop => ({ push, holds, motion: [rest.held[holds] ?? 0, 0, 0] }))
  const pushes = inversePushes(machine, numbersOf(machine), rest, still)
  if (pushes.some((push) => !Number.isFinite(push as number)))
    return {
      what: 'The pushes of its loops move what they hold in the same way, so they cannot be told apart.',
      remedy: gainsInstead,
    }
  return undefined
}

function stepped(values: readonly number[], at: number, by: number): number[] {
  return values.map((value, i) => (i === at ? value + by : value))
}

/** Gauss without exchange of rows: held quantities and their own pushes come in the same order, so pivots are the strong ones. */
function eliminated(matrix: readonly (readonly Scalar[])[], right: readonly Scalar[]): Scalar[] {
  const rows = matrix.map((row, i) => [...row, right[i]!])
  const n = rows.length
  for (let k = 0; k < n; k++)
    for (let i = k + 1; i < n; i++) {
      const factor = div(rows[i]![k]!, rows[k]![k]!)
      rows[i] = rows[i]!.map((value, j) => (j <= k ? 0 : sub(value, mul(factor, rows[k]![j]!))))
    }
  const found = new Array<Scalar>(n).fill(0)
  for (let i = n - 1; i >= 0; i--) {
    const known = sum(found.slice(i + 1).map((value, j) => mul(rows[i]![i + 1 + j]!, value)))
    found[i] = div(sub(rows[i]![n]!, known), rows[i]![i]!)
  }
  return found
}
