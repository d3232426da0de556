import type { Part } from '../document'
import type { AnyKind } from '../kinds'

type Triple = readonly [number, number, number]

/** A joint hung where it belongs, unturned unless said. */
export function jointPart(kind: string, on: string, at: Triple, more: Record<string, unknown> = {}): Part {
  return { kind, on, at, turned: [0, 0, 0], ...more }
}

/** A body with its inertia along its own axes. */
export function bodyPart(mass: number, centre: Triple, moments: Triple, joint: Part): Part {
  return { kind: 'linkedBody', mass, centre, inertia: [...moments, 0, 0, 0], joint }
}

export function mechanismPart(bodies: Record<string, Part>, more: Record<string, unknown> = {}): Part {
  return { kind: 'mechanism', gravity: 9.80665, bodies, ...more }
}

/** A flat four-bar in the x-y plane, cut between coupler and rocker: crank and rocker on ground, hinged together. */
export function fourBar(
  lengths: { crank: number; coupler: number; rocker: number; ground: number },
  start: Record<'crank' | 'coupler' | 'rocker', number>,
): Part {
  const link = (length: number, joint: Part) =>
    bodyPart(2 * length, [length / 2, 0, 0], [0.001, length ** 3 / 6, length ** 3 / 6], joint)
  const z = { axis: [0, 0, 1] }
  return mechanismPart(
    {
      crank: link(lengths.crank, jointPart('turning', 'ground', [0, 0, 0], { ...z, start: start.crank })),
      coupler: link(lengths.coupler, jointPart('turning', 'crank', [lengths.crank, 0, 0], { ...z, start: start.coupler })),
      rocker: link(lengths.rocker, jointPart('turning', 'ground', [lengths.ground, 0, 0], { ...z, start: start.rocker })),
    },
    {
      chains: {
        pin: {
          kind: 'hinged',
          from: 'coupler',
          fromAt: [lengths.coupler, 0, 0],
          to: 'rocker',
          toAt: [lengths.rocker, 0, 0],
          axis: [0, 0, 1],
          toAxis: [0, 0, 1],
        },
      },
    },
  )
}

/** A part of a kind with plausible numbers in all its slots: bodies and joints are named by `names`. */
export function plausible(kind: AnyKind, names: Record<string, string>, numbers: (slot: string) => number): Part {
  const values = Object.entries(kind.slots).map(([slot, definition]): [string, unknown] => {
    if (definition.type === 'name') return [slot, names[slot] ?? '']
    if (definition.type === 'choice') return [slot, Object.keys(definition.options).at(-1)]
    if (definition.type === 'formula') return [slot, names[slot] ?? '0']
    if (definition.type === 'table') return [slot, definition.fill ?? []]
    if (definition.type === 'vector')
      return [slot, slot.toLowerCase().includes('axis') ? [0.2, 0.3, 1] : [numbers(slot), -numbers(slot), 0.5 * numbers(slot)]]
    return [slot, numbers(slot)]
  })
  return { kind: kind.name, ...Object.fromEntries(values) }
}

/** A linear model x1', x2', ... with inputs u1, u2, ... and all states as they are. */
export function linearPart(a: number[][], b: number[][], sampleTime?: number): Part {
  const named = (letter: string, count: number, kind: string) =>
    Object.fromEntries(Array.from({ length: count }, (_, i) => [`${letter}${i + 1}`, { kind, unit: '', nominal: 0 }]))
  return {
    kind: 'matrices',
    ...(sampleTime === undefined ? {} : { sampleTime }),
    states: named('x', a.length, 'nominalState'),
    inputs: named('u', b[0]!.length, 'plainInput'),
    outputs: {},
    a,
    b,
    c: [],
    d: [],
  }
}

/** Typed equations: start and rate by state, nominal value by input. */
export function typedPart(
  states: Record<string, readonly [start: string, rate: string]>,
  inputs: Record<string, number>,
  more: { constants?: Record<string, number>; outputs?: Record<string, string>; conditions?: Record<string, number> } = {},
): Part {
  const each = <Value>(values: Record<string, Value> | undefined, part: (value: Value, name: string) => Part) =>
    Object.fromEntries(Object.entries(values ?? {}).map(([name, value]) => [name, part(value, name)]))
  return {
    kind: 'equations',
    states: each(states, ([start, rate]) => ({ kind: 'equationState', unit: '', start: Number(start), rate })),
    inputs: each(inputs, (nominal) => ({ kind: 'plainInput', unit: '', nominal })),
    outputs: each(more.outputs, (value) => ({ kind: 'equationOutput', unit: '', value })),
    constants: each(more.constants, (value) => ({ kind: 'constant', value, unit: '' })),
    conditions: each(more.conditions, (value, signal) => ({ kind: 'condition', signal, value })),
  }
}

/** The same with its crank at an angle, the other joints worked out by triangles: the open circuit. */
export function fourBarAt(lengths: Parameters<typeof fourBar>[0], angle: number): Part {
  const { crank, coupler, rocker, ground } = lengths
  const pin = [crank * Math.cos(angle), crank * Math.sin(angle)] as const
  const span = Math.hypot(ground - pin[0], pin[1])
  const swung = Math.atan2(pin[1], pin[0] - ground) - Math.acos((rocker ** 2 + span ** 2 - coupler ** 2) / (2 * rocker * span))
  const tip = [ground + rocker * Math.cos(swung), rocker * Math.sin(swung)] as const
  return fourBar(lengths, { crank: angle, coupler: Math.atan2(tip[1] - pin[1], tip[0] - pin[0]) - angle, rocker: swung })
}
