import { done, partsIn, refused, refusedFor } from '../document'
import type { Document, LoopPart, Outcome, Part, Problem } from '../document'
import {
  commandedLoop,
  feedforwards,
  innerLoops,
  lawOf,
  linearEyes,
  linearMachine,
  measuredDisturbance,
  outerFirst,
  plantOf,
  pushOf,
  whereItTurns,
} from '../control'
import type { LinearEstimator, LinearMachine, LoopLaw } from '../control'
import { complex } from '../algebra'
import { findKind, valuesOf } from '../kinds'
import { answersAtOnce, movedOutputs, responseAt, short } from '../linear'
import type { StateSpace } from '../linear'
import { atPoint, designLayers, designMechanism, findHeld, layersOfMachine, pushesOf, shortName } from '../machine'
import type { AnyLayer } from '../machine'
import { integralIsHidden, nearRest } from './atRest'
import { cascadedPlant } from './cascade'
import type { ClosedLoop } from './ticker'
import { designForward } from './forward'
import type { ForwardDesign } from './forward'
import { loop } from './loop'
import type { LoopValues } from './loop'
import { loopModel } from './loopModel'
import type { Gains, LoopModel, ShownBy } from './loopModel'
import { estimatesOf, eyesRead, readerOf } from './sight'
import type { Reader } from './sight'
import { noGains, outOfReach } from './tune'
import type { OutOfReach } from './tune'
import { suitsLaw, tunings, typedGains } from './tunings'
import type { Tuning } from './tunings'

/** A loop of a document with its model, its gains and what its feedforward leaves. */
export interface LoopDesign {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
  /** Push at the operating point, in units of the push: the weight for lift, what the commanded loop holds there. */
  readonly nominalPush: number
  /** The held quantity at the operating point. */
  readonly nominalHeld: number
  /** What it carries beforehand. */
  readonly forward: ForwardDesign
}

/** The model of a loop whose gains are yet to be found. */
export function modelOfLoop(document: Document, name: string): Outcome<LoopWithModel> {
  return modelWith(document, name, document.loops[name]?.others as Others | undefined)
}

interface LoopWithModel {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly machine: Part
}

/** What the other loops do while one is designed. */
type Others = LoopValues['others']

function modelWith(document: Document, name: string, others: Others | undefined): Outcome<LoopWithModel> {
  const found = loopNamed(document, name)
  if (found.kind === 'refused') return found
  const { part, values, owner } = found.value
  const machine = atPoint(owner, values.point)
  const law = lawOf(part)
  const closed = loopsClosed(document, name, others)
  if (closed.kind === 'refused') return closed
  const curved = curvedLoop(name, closed.value)
  if (curved !== undefined) return refused([curved])
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'refused') return linear
  const eyes = linearEyes(document, values.machine, true, machine)
  const reader = { holds: values.holds, reads: values.reads, signals: law.signals }
  const designed: Designed = {
    name,
    values,
    machine,
    law,
    eyes,
    reader,
    pushed: pushOf(document, part)?.label ?? values.pushes,
  }
  const untold = withoutSlope(designed, linear.value) ?? answeringAtOnce(designed, linear.value.system)
  if (untold !== undefined) return refused([untold])
  const seen = (which: ReadonlySet<AnyLayer>) => plantSeen(machine, which, values, law.signals, closed.value, eyes)
  const plant = seen(designLayers.all)
  if (plant.kind === 'refused') return plant
  const unmoved = notMoved(designed, plant.value) ?? otherRate(designed, plant.value)
  if (unmoved !== undefined) return refused([unmoved])
  // a loop counts from where its machine works, wherever it was designed
  const works = machine === owner ? linear : linearMachine(owner, designLayers.all)
  if (works.kind === 'refused') return works
  const isSensed = eyesRead(machine, [reader], eyes).length > 0
  const shown = shownBy(designed, plant.value, works.value.operatingPoint.held, isSensed)
  const { pushes, rate } = values
  const cascade = { machine, system: linear.value.system, closed: closed.value, eyes, ...reader, pushes, rate }
  const reading = isSensed ? cascadedPlant(cascade) : undefined
  let bare: StateSpace | undefined
  const machineOnly = () => {
    if (bare !== undefined) return bare
    const without = seen(designLayers.withoutLag)
    return (bare = without.kind === 'done' ? without.value : plant.value)
  }
  return done({ values, machine, model: loopModel(law, plant.value, machineOnly, rate, values.delay, shown, reading) })
}

/** A loop that is under design, and what was found of it so far. */
interface Designed {
  readonly name: string
  readonly values: LoopValues
  /** At the point that it is designed about. */
  readonly machine: Part
  readonly law: LoopLaw
  readonly eyes: readonly LinearEstimator[]
  readonly reader: Reader
  /** What people call its push. */
  readonly pushed: string
}

function loopNamed(document: Document, name: string): Outcome<{ part: LoopPart; values: LoopValues; owner: Part }> {
  const part = document.loops[name]
  if (part === undefined)
    return refusedFor(
      `loops.${name}`,
      `There is no loop named ${name}.`,
      `Known loops: ${Object.keys(document.loops).join(', ')}.`,
    )
  const values = valuesOf(loop, part)
  const owner = document.machines[values.machine]
  if (owner !== undefined) return done({ part, values, owner })
  return refusedFor(
    `loops.${name}.machine`,
    `There is no machine named ${values.machine}.`,
    `Known machines: ${Object.keys(document.machines).join(', ')}.`,
  )
}

/** A loop around this one, or within, that has no linear form. */
function curvedLoop(name: string, closed: readonly ClosedLoop[]): Problem | undefined {
  const curved = closed.find(({ model }) => model.law.notLinear !== undefined)
  return curved === undefined
    ? undefined
    : {
        where: `loops.${name}.pushes`,
        what: `The loop ${curved.name}, closed while this one is designed, has no linear form. ${curved.model.law.notLinear}`,
        remedy: 'Give that loop a law with gains, or let this one push the machine with the others at rest.',
      }
}

/** A push or something read that has no slope at the operating point. */
function withoutSlope({ name, values, law, machine, pushed }: Designed, linear: LinearMachine): Problem | undefined {
  const [stands] = linear.operatingPoint.standing[values.pushes] ?? []
  if (stands !== undefined)
    return {
      where: `loops.${name}.pushes`,
      what: `${shortName(stands, machine)} stands at the operating point, and gives no slope there: a little of ${pushed} asks it for any speed at once.`,
      remedy: whereItTurns,
    }
  const flat = [values.holds, ...law.signals].find((signal) => !linear.system.outputs.includes(signal))
  return flat === undefined
    ? undefined
    : {
        where: `loops.${name}.holds`,
        what: `${findHeld(machine, flat)?.label ?? flat} has no slope at the operating point: about it no linear loop can be designed.`,
        remedy: 'Hold what has one there, such as the speed along an axis, or let the machine move at its operating point.',
      }
}

/** Something read that answers within the sample in which it is pushed, with nothing between that is late. */
function answeringAtOnce(designed: Designed, system: StateSpace): Problem | undefined {
  const { name, values, law, machine, reader, eyes, pushed } = designed
  if (values.delay !== 0 || isReadLate(machine, reader, eyes)) return undefined
  const direct = [values.holds, ...law.signals].find((signal) => answersAtOnce(system, signal, values.pushes))
  return direct === undefined
    ? undefined
    : {
        where: `loops.${name}.holds`,
        what: `${findHeld(machine, direct)?.label ?? direct} answers to ${pushed} at once: the loop would go round within one sample.`,
        remedy: 'Hold what it moves, let the loop compute for a sample, or read it by a sensor that is late or an estimator.',
      }
}

function notMoved({ name, values, law, pushed }: Designed, plant: StateSpace): Problem | undefined {
  if (law.decides || movedOutputs(plant, 0).includes(0)) return undefined
  return {
    where: `loops.${name}.pushes`,
    what: `${pushed} does not move ${values.holds} about the operating point.`,
    remedy: 'Choose a push that moves what is held.',
  }
}

/** A sampled machine has one rate, and its loop the same. */
function otherRate({ name, values }: Designed, { dt }: StateSpace): Problem | undefined {
  if (dt === null || Math.abs(dt * values.rate - 1) <= sameRate) return undefined
  return {
    where: `loops.${name}.rate`,
    what: `The machine is a sampled one, every ${dt} s; the loop runs ${values.rate} times a second.`,
    remedy: `Give ${Number((1 / dt).toPrecision(9))} Hz, or a continuous model of the machine.`,
  }
}

/** Which outputs of the plant are what, and where what the law reads rests: `held` by signal. */
function shownBy(
  { values, law, machine }: Designed,
  plant: StateSpace,
  held: Readonly<Record<string, number>>,
  isSensed: boolean,
): ShownBy {
  const hasRate = findHeld(machine, values.holds)?.rate !== undefined
  const first = hasRate ? 2 : 1
  const behind = first + law.signals.length
  const commands = commandedLoop(values.pushes) !== undefined
  const signals = law.signals.map((_, i) => first + i)
  return {
    truth: isSensed ? behind + (commands ? 1 : 0) : 0,
    rate: hasRate ? 1 : undefined,
    signals,
    inner: commands ? behind : undefined,
    rest: law.signals.map((signal) => held[signal] ?? 0),
    follow: sharesAtRest(plant, signals),
  }
}

/** Whether something that a loop reads has left the sensor, or the estimator, only some time after it was so. */
function isReadLate(machine: Part, reader: Reader, eyes: readonly LinearEstimator[]): boolean {
  const { held, signals } = estimatesOf(machine, reader, eyes)
  return [held, ...signals].every((one) => one !== undefined && eyes[one.eye]!.system.d[one.row]!.every((value) => value === 0))
}

/** Something that may disturb a loop: its push, what it reads, or another push of its machine. */
export interface Disturbance {
  /** `push`, `reading`, or the name of a push of the machine. */
  readonly name: string
  readonly label: string
  readonly unit: string
}

/** Everything of which the answer of a loop to a step can be predicted, beside its reference. */
export function disturbancesOf(document: Document, name: string): readonly Disturbance[] {
  const part = document.loops[name]!
  const machine = document.machines[part.machine]!
  const own = pushOf(document, part)
  const held = findHeld(machine, part.holds)
  if (own === undefined || held === undefined) return []
  return [
    { name: 'push', label: own.label, unit: own.unit },
    { name: 'reading', label: `the reading of ${held.label}`, unit: held.unit },
    ...pushesOf(machine).filter((push) => push.name !== part.pushes),
  ]
}

/** What a designed loop sees, sampled at its rate, with its push and then another push of the machine as inputs. */
export function disturbedPlant(document: Document, name: string, disturbs: string): Outcome<StateSpace> {
  const found = modelOfLoop(document, name)
  if (found.kind === 'refused') return found
  const { values, model, machine } = found.value
  const closed = loopsClosed(document, name, values.others)
  if (closed.kind === 'refused') return closed
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'refused') return linear
  const asked = { machine, system: linear.value.system, closed: closed.value, disturbs }
  const eyes = linearEyes(document, values.machine, true, machine)
  const plant = cascadedPlant({ ...asked, eyes, ...readerOf({ values, model }), pushes: values.pushes, rate: values.rate })
  return done(plant.disturbed!)
}

/** How far other outputs go at rest for each unit that the first one has gone; 0 where that cannot be told. */
function sharesAtRest(plant: StateSpace, outputs: readonly number[]): readonly number[] {
  if (outputs.length === 0) return []
  const at = responseAt(plant, complex(plant.dt === null ? nearRest : 1 + nearRest))
  const first = at?.[0]?.[0]?.re ?? 0
  return outputs.map((output) => {
    const ratio = first === 0 ? 0 : (at?.[output]?.[0]?.re ?? 0) / first
    // what is only the way there, such as a speed, has no share at rest
    return Math.abs(ratio) < 1e3 * nearRest ? 0 : Number(ratio.toPrecision(6))
  })
}

/** The loops that are closed while one is designed, outermost first: those it commands, and those closed before it. */
function loopsClosed(document: Document, name: string, others: Others | undefined): Outcome<readonly ClosedLoop[]> {
  const names = closedWith(document, name, others)
  const { rate, machine } = document.loops[name] as unknown as { rate: number; machine: string }
  const closed: ClosedLoop[] = []
  for (const other of outerFirst(document, machine).filter((one) => names.has(one))) {
    // typed gains are what they are whatever was closed when they were made: so loops may see one another
    const isTyped = document.loops[other]!.tuning.kind === typedGains.name
    const design = isTyped ? designWith(document, other, 'rest') : designLoop(document, other)
    if (design.kind === 'refused') return design
    const own = design.value.values.rate
    if (own > rate && own % rate !== 0)
      return refusedFor(
        `loops.${name}.rate`,
        `${other}, closed while this loop is designed, runs ${own} times a second, not a whole number of times for each of its ${rate}.`,
        'Choose rates that divide one another, or leave the others at rest.',
      )
    closed.push({ name: other, ...design.value })
  }
  return done(closed)
}

/** The loop for which another one has no design; nothing where the reason lies in itself or in its machine. */
export function loopBlamed(problems: readonly Problem[], name: string): string | undefined {
  const [, blamed] = /^loops\.([^.]+)/.exec(problems[0]?.where ?? '') ?? []
  return blamed === name ? undefined : blamed
}

/** All loops that the model of a loop depends on: those closed while it is designed, and those that they are designed with. */
export function loopsBehind(document: Document, name: string): ReadonlySet<string> {
  const behind = new Set<string>()
  const waiting = [name]
  for (let one = waiting.pop(); one !== undefined; one = waiting.pop())
    for (const other of closedWith(document, one, document.loops[one]!.others as Others | undefined)) {
      if (other === name || behind.has(other)) continue
      behind.add(other)
      waiting.push(other)
    }
  return behind
}

/** The loops that are closed while one is designed: those it commands, and what its sentence says of the others. */
function closedWith(document: Document, name: string, others: Others | undefined): ReadonlySet<string> {
  const own = document.loops[name]!
  const inner = innerLoops(document, name)
  if (others === undefined || others === 'rest') return new Set(inner)
  const all = Object.keys(document.loops)
  // as in the trials: all that are closed there, but those that command this one, which are designed over it
  const candidates = others === 'trial' ? all : all.slice(0, all.indexOf(name))
  const before = candidates.filter((other) => {
    const part = document.loops[other]!
    const isAway = other !== name && part.machine === own.machine && part.closed === true
    return isAway && !innerLoops(document, other).includes(name)
  })
  // what has no linear form stands still: its command stays as it is
  const isLinear = (other: string) => lawOf(document.loops[other]!).notLinear === undefined
  const away = before.flatMap((other) => [other, ...innerLoops(document, other)]).filter((one) => one !== name && isLinear(one))
  return new Set([...inner, ...away])
}

/** Layers of a machine that its linear form can have or leave out, in the order people see. */
export function linearLayers(machine: Part): readonly { readonly name: AnyLayer; readonly label: string }[] {
  return layersOfMachine(machine).filter(({ name }) => designMechanism.has(name))
}

/** What a designed loop sees with other layers than the design counts in: the loops inside it keep the gains of theirs. */
export function plantWith(document: Document, name: string, layers: ReadonlySet<AnyLayer>): Outcome<StateSpace> {
  const found = modelOfLoop(document, name)
  if (found.kind === 'refused') return found
  const { values, model, machine } = found.value
  const closed = loopsClosed(document, name, values.others)
  if (closed.kind === 'refused') return closed
  const eyes = linearEyes(document, values.machine, true, machine)
  return plantSeen(machine, layers, values, model.law.signals, closed.value, eyes)
}

/** What there is for a loop to see: the machine alone, or with other loops closed that read by `eyes`. */
function plantSeen(
  machine: Part,
  layers: ReadonlySet<AnyLayer>,
  { pushes, holds, rate }: LoopValues,
  signals: readonly string[],
  closed: readonly ClosedLoop[],
  eyes: readonly LinearEstimator[],
): Outcome<StateSpace> {
  if (closed.length === 0) return plantOf(machine, layers, pushes, holds, signals)
  const linear = linearMachine(machine, layers)
  if (linear.kind === 'refused') return linear
  return done(
    cascadedPlant({ machine, system: linear.value.system, closed, eyes, pushes, holds, signals, reads: 'true', rate }).read,
  )
}

/** By document, which nobody changes in place: ladder, charts and course ask for the same designs after one edit. */
const designs = new WeakMap<Document, Map<string, Outcome<LoopDesign>>>()

/** Gains from the loop's requirement, or as typed. */
export function designLoop(document: Document, name: string): Outcome<LoopDesign> {
  return designWith(document, name, document.loops[name]?.others as Others | undefined)
}

function designWith(document: Document, name: string, others: Others | undefined): Outcome<LoopDesign> {
  let mine = designs.get(document)
  if (mine === undefined) designs.set(document, (mine = new Map()))
  const key = `${name} ${others}`
  const known = mine.get(key)
  if (known !== undefined) return known
  const round = 'Designing this loop needs its own gains: the order in which loops are closed goes round.'
  mine.set(key, refusedFor(`loops.${name}.others`, round, 'Design one of them with the others at rest.'))
  const made = designed(document, name, others)
  mine.set(key, made)
  return made
}

function designed(document: Document, name: string, others: Others | undefined): Outcome<LoopDesign> {
  const found = modelWith(document, name, others)
  if (found.kind === 'refused') return found
  const { values, model } = found.value
  const machine = document.machines[values.machine]!
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'refused') return linear
  const { pushes, held, runs } = linear.value.operatingPoint
  const onward = runs[values.holds]
  if (onward !== undefined) {
    const quantity = findHeld(machine, values.holds)
    const what = `${quantity?.label ?? values.holds} runs on at ${short(onward)} ${quantity?.unit ?? ''}/s where the machine works, so there is no value to hold it at.`
    const rate = findHeld(machine, quantity?.rate ?? '')
    const remedy = `Hold ${rate?.label ?? 'its rate'}, or let the machine work at a point where it stands still.`
    return refusedFor(`loops.${name}.holds`, what, remedy)
  }
  const gains = gainsOf(model, values.tuning, name)
  if (gains.kind === 'refused') return gains
  // a loop that another one commands rests where that one wants it
  const isCommanded = Object.values(document.loops).some((other) => other.closed === true && commandedLoop(other.pushes) === name)
  if (gains.value.ki !== 0 && !isCommanded && integralIsHidden(model))
    return refusedFor(
      `loops.${name}.law`,
      `Its integral has nothing to drive: at rest ${pushOf(document, document.loops[name]!)?.label ?? values.pushes} does not move ${findHeld(machine, values.holds)?.label ?? values.holds}, so that it would run off.`,
      'Take a law without an integral, or hold what the push moves at rest.',
    )
  const inner = document.loops[commandedLoop(values.pushes) ?? '']
  const nominalPush = inner === undefined ? pushes[values.pushes]! : held[inner.holds]!
  const nominalHeld = held[values.holds]!
  const refused = forwardRefusal(name, document.loops[name]!, model.machineOnly, linear.value.system)
  if (refused !== undefined) return refused
  const forward = designForward({
    ...{ document, name, model, operatingPoint: linear.value.operatingPoint, nominalPush },
    commandsAnother: inner !== undefined,
  })
  return done({ values, model, gains: gains.value, nominalPush, nominalHeld, forward })
}

/** A feedforward that this plant does not allow: an inverse that would be unstable, a disturbance that the push moves. */
function forwardRefusal(name: string, loop: LoopPart, plant: () => StateSpace, system: StateSpace): Outcome<never> | undefined {
  for (const [own, part] of Object.entries(partsIn(loop.feedforwards))) {
    if (part.on !== true) continue
    const where = `loops.${name}.feedforwards.${own}`
    const found = findKind(feedforwards, part)?.refusal?.(plant)
    if (found !== undefined) return refusedFor(where, found.what, found.remedy)
    if (part.kind !== measuredDisturbance.name) continue
    const moved = movedOutputs(system, system.inputs.indexOf(loop.pushes)).map((i) => system.outputs[i]!)
    if (moved.includes(part.signal as string))
      return refusedFor(
        `${where}.signal`,
        `${loop.pushes} moves ${part.signal as string}: taking it as a disturbance would be feedback.`,
        'Choose a signal that the push does not move.',
      )
  }
  return undefined
}

/** Relative: rates are typed as whole numbers, sample times as decimals. */
const sameRate = 1e-9

function gainsOf(model: LoopModel, tuning: Part, name: string): Outcome<Gains> {
  if (model.law.gains.length === 0) return done(noGains)
  const kind = findKind(tunings, tuning)!
  const tuned = suitsLaw(kind, model.law) ? kind.gains(model, valuesOf(kind, tuning)) : unsuited(kind)
  if (tuned.kind === 'tuned') return done(tuned.gains)
  const { what, remedy, slot } = tuned
  return refusedFor(`loops.${name}.tuning${slot === undefined ? '' : `.${slot}`}`, what, remedy)
}

function unsuited({ suits }: Tuning): OutOfReach {
  return suits === 'errorGains'
    ? outOfReach(
        'State feedback has a gain for each signal, which this does not tell.',
        'Give weights or poles, or type the gains.',
      )
    : outOfReach('Weights and poles are for state feedback.', 'Choose that law, or ask for a crossover and margin.')
}
