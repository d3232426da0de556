import { nameRemedy, partsIn } from '../document'
import type { Part, Problem } from '../document'
import { findKind } from '../kinds'
import type { AnyKind, NameSlot } from '../kinds'
import { assemble, coordinateNames, ground, jointKindsOf, outwardOrder } from './assemble'
import { chains } from './chains'
import { closeChains, moved } from './closeChains'
import { batteryNames, effectParts, sensorParts } from './mechanismMotion'
import { conditionProblems } from './conditionProblems'
import { fixableOf, runnableNames } from './steady'
import type { EffectKind } from './effects/effect'
import { constantNames, formulaProblems } from './formulaValue'
import { joints } from './joints'
import { motionProblems } from './motion'
import { numbersOf } from './numbers'
import { bodyProblems } from './bodyProblems'
import { show } from './show'
import { crossedEnds, readingEndsProblems } from './readingEnds'
import { pushProblems, pushes } from './pushes'
import { readSignals, readingParts } from './readings'
import { surroundings } from './surroundings'
import { massMatrix, weightlessSpeed } from './tree'
import { bodiesOf } from './linkedBody'
import type { LinkedBody } from './linkedBody'

/** Bodies: more is a slip, and would not be legible. */
const mostBodies = 400
/** Shapes of all bodies: each is drawn on its own, thousands of them for seconds. */
const mostShapes = 1000
/** rad: axes nearer than this to one another leave a turn undetermined. */
const parallelAxes = 1e-6

/** What no schema can see in a mechanism: names, circles, axes, masses, chains. All at once, as far as they can be told. */
export function mechanismProblems(path: string, machine: Part): Problem[] {
  const bodies = bodiesOf(machine)
  const names = Object.keys(bodies)
  if (names.length === 0)
    return [{ where: `${path}.bodies`, what: 'The machine has no bodies.', remedy: 'Add a body on a joint.' }]
  if (names.length > mostBodies) {
    const what = `The machine has ${names.length} bodies; at most ${mostBodies} are taken.`
    return [{ where: `${path}.bodies`, what, remedy: 'Join bodies that do not move against one another.' }]
  }
  const shapes = names.reduce((sum, name) => sum + Object.keys(bodies[name]!.shapes ?? {}).length, 0)
  if (shapes > mostShapes) {
    const what = `The bodies have ${shapes} shapes together; at most ${mostShapes} are drawn.`
    return [{ where: `${path}.bodies`, what, remedy: 'Leave out what is inside or small, or join shapes into one mesh.' }]
  }
  const structure = [
    ...names.flatMap((name) => jointProblems(`${path}.bodies.${name}`, name, bodies)),
    ...circleProblems(path, bodies),
  ]
  if (structure.length > 0) return structure
  const problems = [
    ...contradictions(path, machine),
    ...names.flatMap((name) => weighed(`${path}.bodies.${name}`, name, bodies[name]!)),
    ...names.flatMap((name) => shapeProblems(`${path}.bodies.${name}`, bodies[name]!)),
    ...nameProblems(path, machine),
    ...conditionProblems(path, machine, fixableOf(machine), runnableNames(machine)),
    ...motionProblems(path, machine, coordinateNames(machine)),
  ]
  if (problems.length > 0) return problems
  const moving = [...lightProblems(path, machine), ...chainProblems(path, machine)]
  return moving.length > 0 ? moving : pushProblems(path, machine)
}

function jointProblems(path: string, name: string, bodies: Readonly<Record<string, LinkedBody>>): Problem[] {
  const joint = bodies[name]!.joint
  const known = [ground, ...Object.keys(bodies)]
  const problems: Problem[] = []
  if (!known.includes(joint.on)) problems.push(unknownName(`${path}.joint.on`, 'body', joint.on, known))
  const axes = findKind(joints, joint)!.axes.map((slot) => ({ slot, given: joint[slot] as readonly number[] }))
  for (const { slot, given } of axes) {
    if (given.some((value) => value !== 0)) continue
    const what = `The ${slot === 'axis' ? '' : `${slot} `}axis of ${name} is 0 0 0, which is no direction.`
    problems.push({ where: `${path}.joint.${slot}`, what, remedy: 'Give a direction, such as 0 0 1.' })
  }
  const [first, second] = axes
  if (second !== undefined && problems.length === 0 && angleBetween(first!.given, second.given) < parallelAxes) {
    const what = `Both axes of ${name} point the same way, so one turn cannot be told from the other.`
    problems.push({ where: `${path}.joint.second`, what, remedy: 'Give the second axis another direction.' })
  }
  return problems
}

/** Sine of the angle between two directions, which is the angle where it matters. */
function angleBetween(a: readonly number[], b: readonly number[]): number {
  const [ax, ay, az] = a as [number, number, number]
  const [bx, by, bz] = b as [number, number, number]
  const across = (ay * bz - az * by) ** 2 + (az * bx - ax * bz) ** 2 + (ax * by - ay * bx) ** 2
  return Math.sqrt(across / ((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)))
}

function circleProblems(path: string, bodies: Readonly<Record<string, LinkedBody>>): Problem[] {
  const names = Object.keys(bodies)
  const on = (name: string) => bodies[name]!.joint.on
  if (outwardOrder(bodies) !== undefined || names.some((name) => on(name) !== ground && !names.includes(on(name)))) return []
  const round = names.find((name) => {
    let at = name
    for (let i = 0; i <= names.length && at !== ground; i++) at = on(at)
    return at !== ground
  })!
  const what = `${round} hangs on itself: following its joints never reaches ground.`
  return [
    {
      where: `${path}.bodies.${round}.joint.on`,
      what,
      remedy: 'Let one body of the circle hang on ground, and close it with a chain.',
    },
  ]
}

/** A body may be without mass where others carry it along; one with mass must have an inertia that can exist. */
function weighed(path: string, name: string, body: LinkedBody): Problem[] {
  const massless = body.mass === 0 && body.inertia.every((value) => value === 0)
  const pointMass = body.mass > 0 && body.inertia.every((value) => value === 0)
  return massless || pointMass ? [] : bodyProblems(path, name, body)
}

/** Shapes without an extent: a box that is flat or inside out, a mesh scaled to nothing. A mesh may be mirrored. */
function shapeProblems(path: string, { shapes }: Part): Problem[] {
  return Object.entries(partsIn(shapes)).flatMap(([name, { kind, size, scale }]): Problem[] => {
    const where = `${path}.shapes.${name}`
    if (kind === 'box' && (size as readonly number[]).some((value) => !(value > 0))) {
      const what = `The box ${name} has a side of ${show(Math.min(...(size as number[])))} m.`
      return [{ where: `${where}.size`, what, remedy: 'Give three lengths above 0.' }]
    }
    if (kind !== 'mesh' || (scale as readonly number[]).every((value) => value !== 0)) return []
    return [
      { where: `${where}.scale`, what: `The mesh ${name} is scaled by 0.`, remedy: 'Give 1 1 1, or 0.001 for millimetres.' },
    ]
  })
}

/** Names of bodies, coordinates and batteries in chains, forces and drives, and what formulas use. */
function nameProblems(path: string, machine: Part): Problem[] {
  const known: Partial<Record<NameSlot['of'], { sort: string; names: readonly string[] }>> = {
    body: { sort: 'body', names: [ground, ...Object.keys(bodiesOf(machine))] },
    coordinate: { sort: 'coordinate of a joint', names: coordinateNames(machine) },
    supply: {
      sort: 'battery',
      names: batteryNames(machine),
    },
  }
  const formulaNames = mechanismFormulaNames(machine)
  const chainParts = Object.entries(partsIn(machine.chains)).map(([name, part]) => ({
    path: `chains.${name}`,
    part,
    kind: findKind(chains, part)!,
  }))
  const pushParts = Object.entries(partsIn(machine.pushes)).map(([name, part]) => ({
    path: `pushes.${name}`,
    part,
    kind: findKind(pushes, part)!,
  }))
  const all = [...effectParts(machine), ...readingParts(machine), ...sensorParts(machine), ...pushParts, ...chainParts]
  return all.flatMap(({ path: own, part, kind }) =>
    Object.entries(kind.slots).flatMap(([slot, definition]) => {
      const where = `${path}.${own}.${slot}`
      const given = part[slot] as string | undefined
      if (definition.type === 'formula')
        return formulaProblems(where, given!, formulaNames(own, kind), 'coordinate, speed or parameter')
      if (definition.type !== 'name' || known[definition.of] === undefined) return []
      if (definition.optional === true && (given === undefined || given === '')) return []
      const { sort, names } = known[definition.of]!
      return names.includes(given!) ? [] : [unknownName(where, sort, given!, names)]
    }),
  )
}

/**
 * Names that formulas of a mechanism may use, by the path and kind of their part, also where the machine has problems: the part's
 * own words come first.
 */
export function mechanismFormulaNames(machine: Part): (own: string, kind: AnyKind) => readonly string[] {
  const moving = jointKindsOf(machine).flatMap(({ name, kind: { positions, speeds } }) =>
    [...positions, ...speeds].map((one) => `${name}.${one.name}`),
  )
  const all = [...moving, ...constantNames(machine), 't']
  const read = readSignals(machine)
  /** Of readings all that come before it, in a sensor all. */
  const readings = (own: string) => {
    if (!/^(readings|sensors)\./.test(own)) return []
    const first = read.findIndex(({ reading }) => own === `readings.${reading}`)
    return (first < 0 ? read : read.slice(0, first)).map(({ name }) => name)
  }
  return (own, kind) => [...('formulaNames' in kind ? ((kind as EffectKind).formulaNames ?? []) : []), ...all, ...readings(own)]
}

/** What only one part of the surroundings may say. */
const saidOnce = { ground: 'ground', density: 'density of the air', water: 'water', light: 'daylight' } as const

/** Numbers of parts that contradict one another, and surroundings that say the same thing twice. */
function contradictions(path: string, machine: Part): Problem[] {
  const outside = Object.entries(partsIn(machine.surroundings)).map(([name, part]) => ({
    path: `surroundings.${name}`,
    part,
    kind: findKind(surroundings, part)!,
  }))
  const ranges = sensorParts(machine).flatMap(({ path: at, part }) => {
    const ends = part.nearest === undefined ? (['least', 'most'] as const) : (['nearest', 'farthest'] as const)
    return readingEndsProblems(`${path}.${at}`, part, ...ends)
  })
  const travels = effectParts(machine).flatMap(({ path: at, part, kind }) => {
    const called = (slot: string) => kind?.slots[slot]?.label ?? slot
    return crossedEnds(`${path}.${at}`, part, ['least', 'most'], [called('least'), called('most')])
  })
  const own = [...effectParts(machine), ...outside].flatMap(({ path: at, part, kind }) =>
    (kind.contradictions?.(part) ?? []).map(({ slot, ...said }) => ({ where: `${path}.${at}.${slot}`, ...said })),
  )
  const twice = Object.entries(saidOnce).flatMap(([said, words]) => {
    const [, second] = outside.filter(({ kind }) => kind[said as keyof typeof saidOnce] !== undefined)
    if (second === undefined) return []
    const what = `The surroundings give the ${words} twice.`
    return [{ where: `${path}.${second.path}`, what, remedy: 'Remove one of the two.' }]
  })
  return [...own, ...travels, ...ranges, ...twice]
}

function unknownName(where: string, sort: string, given: string, known: readonly string[]): Problem {
  const remedy = nameRemedy(given, known)
  return { where, what: `There is no ${sort} named ${given}.`, remedy }
}

function lightProblems(path: string, machine: Part): Problem[] {
  const assembly = assemble(machine, numbersOf(machine))
  // not at the start itself: there a body may hang in line with its joint's axis by chance
  const q = moved(
    assembly,
    assembly.start,
    assembly.speeds.map((_, i) => 0.2 + 0.01 * i),
  )
  const light = weightlessSpeed(massMatrix(assembly.tree, { q }) as number[][])
  if (light === undefined) return []
  const name = assembly.speeds[light]!.name.split('.')[0]!
  const what = `${name} can move without moving any mass, so its acceleration has no value.`
  return [{ where: `${path}.bodies.${name}.mass`, what, remedy: 'Give it, or a body that hangs on it, a mass and an inertia.' }]
}

function chainProblems(path: string, machine: Part): Problem[] {
  const parts = Object.entries(partsIn(machine.chains))
  if (parts.length === 0) return []
  const closure = closeChains(machine)
  if (closure.kind === 'open') {
    const what = `The chain ${closure.chain} does not close: at best ${show(closure.gap)} ${closure.unit || 'rad'} stay open, from wherever the joints were started.`
    return [
      {
        where: `${path}.chains.${closure.chain}`,
        what,
        remedy: 'Check the lengths and places of its bodies, and where the joints start.',
      },
    ]
  }
  if (closure.freedoms > 0) return []
  const what = 'The chains leave nothing that can move.'
  return [{ where: `${path}.chains`, what, remedy: 'Remove a chain, or give a body another freedom.' }]
}
