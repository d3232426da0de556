// Which way each effect, chain and sensor acts, in cases that a person can check by looking. x runs to the right, z up.
import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { chains } from '../chains'
import {
  fullMechanism,
  machineProblems,
  mechanismForm,
  mechanismMotion,
  mechanismSensors,
  numbersOf,
  outsideOf,
  surroundings,
} from '../index'
import { drives, effects } from './index'

const right = { axis: [1, 0, 0] }
const up = { axis: [0, 0, 1] }
const cube: readonly [number, number, number] = [0.1, 0.1, 0.1]

/**
 * A cart of 1 kg that slides to the right, a second one on the same rail, a lift that slides up, a wheel that turns left
 * about the vertical, and a post 2 m to the right of where the cart starts.
 */
function bench(more: Record<string, unknown>): Part {
  return mechanismPart(
    {
      cart: bodyPart(1, [0, 0, 0], cube, jointPart('sliding', 'ground', [0, 0, 0], right)),
      other: bodyPart(1, [0, 0, 0], cube, jointPart('sliding', 'ground', [0, 1, 0], right)),
      lift: bodyPart(1, [0, 0, 0], cube, jointPart('sliding', 'ground', [0, 0, 0], up)),
      wheel: bodyPart(1, [0, 0, 0], cube, jointPart('turning', 'ground', [0, 0, 0], up)),
      post: bodyPart(0, [0, 0, 0], [0, 0, 0], jointPart('fixed', 'ground', [2, 0, 0])),
    },
    { gravity: 0, ...more },
  )
}

interface Moved {
  readonly places?: Readonly<Record<string, number>>
  readonly speeds?: Readonly<Record<string, number>>
  /** States of the effects, after those of the joints. */
  readonly own?: readonly number[]
  readonly inputs?: readonly number[]
  readonly time?: number
  /** Rows of the chains that are kept. */
  readonly kept?: readonly number[]
}

function motionOf(machine: Part, { places = {}, speeds = {}, own = [], inputs, time = 0, kept = [] }: Moved) {
  expect(machineProblems('bench', machine)).toEqual([])
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const { positions, pairs } = form.assembly
  const joints = positions.length
  const placed = positions.map(({ name }) => places[name.split('.')[0]!] ?? 0)
  const moving = pairs.map((_, i) => speeds[positions[pairs.indexOf(i)]!.name.split('.')[0]!] ?? 0)
  const rest = form.states.slice(2 * joints).map(({ atRest }, i) => own[i] ?? atRest)
  const states = [...placed, ...moving, ...rest]
  const { rates, signals } = mechanismMotion(machine, read, fullMechanism, form, states, inputs ?? form.inputs.map(() => 0), kept, time) // prettier-ignore
  return {
    /** m/s² or rad/s² of a joint. */
    gained: (body: string) => rates[joints + pairs[positions.findIndex(({ name }) => name.split('.')[0] === body)]!] as number,
    /** Change of the states of the effects. */
    changes: rates.slice(2 * joints) as number[],
    signal: (name: string) => signals.find((one) => one.name === name)!.value as number,
  }
}

/** What a body gains by one effect alone. */
function gainedBy(part: Part, moved: Moved, body = 'cart', more: Record<string, unknown> = {}): number {
  const isDrive = drives.some(({ name }) => name === part.kind)
  return motionOf(bench({ [isDrive ? 'drives' : 'forces']: { it: part }, ...more }), moved).gained(body)
}

const between = { from: 'cart', fromAt: [0, 0, 0], to: 'post', toAt: [0, 0, 0] }
const turned = { joint: 'wheel.angle' }
const motor = { voltage: 24, resistance: 1, inductance: 0.01, constant: 0.1, drag: 0, gear: 2, rotorInertia: 0.001 }
const sheet = { voltage: 24, stallTorque: 2, stallCurrent: 10, freeSpeed: 118.8, freeCurrent: 0.1, inductance: 0.01, rotorInertia: 0.001, gear: 2 } // prettier-ignore
const held = { least: -2, most: 2, stiffness: 100, holding: 1, mostRate: 10, mostEffort: 1000 }
const foot = { kind: 'groundContact', body: 'lift', at: [0, 0, 0], radius: 0.1, level: 0, stiffness: 1000, damping: 10, friction: 0.5, smooth: 0.01 } // prettier-ignore
const tyre = { kind: 'wheelContact', body: 'lift', at: [0, 0, 0], axis: [0, 1, 0], radius: 0.1, level: 0, stiffness: 1000, damping: 10, friction: 0.5, grip: 200, slow: 0.01 } // prettier-ignore
const drag = { kind: 'airDrag', body: 'cart', at: [0, 0, 0], linear: 1, quadratic: 1 }
const float = { kind: 'floatColumn', body: 'lift', at: [0, 0, 0], area: 0.1, height: 0.5, damping: 40 }
/** What a lift gains by a float in a water, its foot at a height. */
const afloat = (water: Record<string, unknown>, lift = 0) =>
  gainedBy({ ...float, damping: 0 }, { places: { lift } }, 'lift', { gravity: 9.8, surroundings: { water } })
const runner = { kind: 'resistance', body: 'cart', at: [0, 0, 0], linear: [2, 50, 0], quadratic: [1, 0, 0] }
const rotor = { kind: 'rotor', body: 'lift', at: [0, 0, 0], axis: [0, 0, 1], radius: 0.3, thrust: 1e-4, torque: 1e-6, solidity: 0.1, lag: 0.05, most: 900 } // prettier-ignore

/** What happens in words, and a number whose sign says whether it does. */
const acts: Readonly<Record<string, Readonly<Record<string, () => number>>>> = {
  jointSpring: {
    'draws back what is too far right': () =>
      -gainedBy({ kind: 'jointSpring', joint: 'cart.travel', rest: 0.1, stiffness: 10, damping: 0 }, { places: { cart: 0.5 } }),
    'brakes what moves right': () =>
      -gainedBy({ kind: 'jointSpring', joint: 'cart.travel', rest: 0, stiffness: 10, damping: 2 }, { speeds: { cart: 1 } }),
  },
  jointFriction: {
    'brakes what moves right': () =>
      -gainedBy(
        { kind: 'jointFriction', joint: 'cart.travel', sliding: 1, breakaway: 2, viscous: 0.1, stribeck: 0.1, smooth: 0.01 },
        { speeds: { cart: 1 } },
      ),
  },
  jointStops: {
    'push back to the left beyond the upper end': () =>
      -gainedBy({ kind: 'jointStops', joint: 'cart.travel', least: -1, most: 1, stiffness: 100, damping: 0 }, { places: { cart: 1.1 } }), // prettier-ignore
    'push back to the right beyond the lower end': () =>
      gainedBy({ kind: 'jointStops', joint: 'cart.travel', least: -1, most: 1, stiffness: 100, damping: 0 }, { places: { cart: -1.1 } }), // prettier-ignore
  },
  pointSpring: {
    'draws together what is too far apart': () => gainedBy({ kind: 'pointSpring', ...between, stiffness: 10, damping: 0, rest: 1 }, {}), // prettier-ignore
    'pushes apart what is too near': () => -gainedBy({ kind: 'pointSpring', ...between, stiffness: 10, damping: 0, rest: 3 }, {}),
  },
  gasStrut: {
    'pushes apart': () =>
      -gainedBy({ kind: 'gasStrut', ...between, extended: 100, ratio: 1.3, longest: 2.2, stroke: 1, damping: 0 }, {}),
  },
  cable: {
    'holds together when it is taut': () => gainedBy({ kind: 'cable', ...between, length: 1.9, stiffness: 100, damping: 0 }, {}),
    'does nothing when it is slack': () =>
      Number(Math.abs(gainedBy({ kind: 'cable', ...between, length: 3, stiffness: 100, damping: 0 }, {})) < 1e-9),
  },
  groundContact: {
    'pushes up what has sunk in': () => gainedBy(foot, { places: { lift: 0.05 } }, 'lift'),
    'brakes what slips right': () => -gainedBy({ ...foot, body: 'cart', at: [0, 0, 0.05] }, { speeds: { cart: 1 } }),
  },
  wheelContact: {
    'pushes up what has sunk in': () => gainedBy(tyre, { places: { lift: 0.05 } }, 'lift'),
    'brakes a locked wheel that slips right': () =>
      -gainedBy({ ...tyre, body: 'cart', at: [0, 0, 0.05] }, { speeds: { cart: 1 } }),
    'brakes one that is pushed along its axle': () => -gainedBy({ ...tyre, body: 'cart', at: [0, 0, 0.05], axis: [1, 0, 0] }, { speeds: { cart: 1 } }), // prettier-ignore
    'does not touch when it lies on its side': () =>
      Number(gainedBy({ ...tyre, axis: [0, 0, 1] }, { places: { lift: 0.05 } }, 'lift') === 0),
  },
  airDrag: { 'brakes what moves right': () => -gainedBy(drag, { speeds: { cart: 1 } }, 'cart', { surroundings: { air: { kind: 'evenAir', density: 1.2 } } }) }, // prettier-ignore
  resistance: {
    'brakes what moves right': () => -gainedBy(runner, { speeds: { cart: 1 } }),
    'brakes what moves left': () => gainedBy(runner, { speeds: { cart: -1 } }),
    'holds the right axis of what is turned': () => {
      // a runner of a wheel that has turned a quarter left: what its rim does along x is along its own -y
      const rim = { ...runner, body: 'wheel', at: [0, -1, 0], linear: [4, 0, 0], quadratic: [0, 0, 0] }
      return -gainedBy(rim, { places: { wheel: Math.PI / 2 }, speeds: { wheel: 1 } }, 'wheel')
    },
  },
  tableForce: {
    'pulls together by a positive pull': () => gainedBy({ kind: 'tableForce', ...between, pull: [[0, 0], [3, 30]], damping: 0 }, {}), // prettier-ignore
  },
  formulaEffort: { 'pushes right where it is positive': () => gainedBy({ kind: 'formulaEffort', joint: 'cart.travel', effort: '3' }, {}) }, // prettier-ignore
  formulaForce: {
    'along x pushes the cart right': () => gainedBy({ kind: 'formulaForce', body: 'cart', at: [0, 0, 0], x: '3', y: '0', z: '0' }, {}), // prettier-ignore
    'along z pushes the lift up': () => gainedBy({ kind: 'formulaForce', body: 'lift', at: [0, 0, 0], x: '0', y: '0', z: '3' }, {}, 'lift'), // prettier-ignore
  },
  effortDrive: { 'pushes right when asked to': () => gainedBy({ kind: 'effortDrive', joint: 'cart.travel', most: 100 }, { inputs: [2] }) }, // prettier-ignore
  dcMotor: {
    'is turned on by its voltage': () => motionOf(bench({ drives: { it: { kind: 'dcMotor', ...turned, ...motor } } }), { inputs: [12] }).changes[0]!, // prettier-ignore
    'turns left by its current': () => gainedBy({ kind: 'dcMotor', ...turned, ...motor }, { own: [5] }, 'wheel'),
    'brakes when it is turned without voltage': () => -motionOf(bench({ drives: { it: { kind: 'dcMotor', ...turned, ...motor } } }), { speeds: { wheel: 10 } }).changes[0]!, // prettier-ignore
  },
  sheetMotor: {
    'turns left by its current': () => gainedBy({ kind: 'sheetMotor', ...turned, ...sheet }, { own: [5] }, 'wheel'),
    'brakes when it is turned without voltage': () => -motionOf(bench({ drives: { it: { kind: 'sheetMotor', ...turned, ...sheet } } }), { speeds: { wheel: 10 } }).changes[0]!, // prettier-ignore
  },
  gearMotor: {
    'turns its joint left when it is ahead of it': () =>
      gainedBy({ kind: 'gearMotor', ...turned, ...motor, stiffness: 100, damping: 0.1, play: 0.01, efficiency: 0.9 }, { own: [0, 1, 0] }, 'wheel'), // prettier-ignore
    'is held back by a joint that lags behind it': () =>
      -motionOf(bench({ drives: { it: { kind: 'gearMotor', ...turned, ...motor, stiffness: 100, damping: 0.1, play: 0.01, efficiency: 0.9 } } }), { own: [0, 1, 0] }).changes[2]!, // prettier-ignore
  },
  firstOrderServo: {
    'goes left to a position asked there': () => motionOf(bench({ drives: { it: { kind: 'firstOrderServo', ...turned, ...held, lag: 0.1 } } }), { inputs: [1] }).changes[0]!, // prettier-ignore
    'takes its joint along': () => gainedBy({ kind: 'firstOrderServo', ...turned, ...held, lag: 0.1 }, { own: [0.5], inputs: [0.5] }, 'wheel'), // prettier-ignore
  },
  servo: {
    'speeds up to a position asked on the left': () => motionOf(bench({ drives: { it: { kind: 'servo', ...turned, ...held, bandwidth: 20, damping: 1 } } }), { inputs: [1] }).changes[1]!, // prettier-ignore
  },
  rotor: {
    'lifts along its axis': () => gainedBy({ ...rotor, turns: 'left' }, { own: [300], inputs: [300] }, 'lift'),
    'lifts more where the ground below it lies higher': () => {
      // a hill that rises to the north, with the rotor a metre north of its foot
      const over = (heading: number) =>
        gainedBy({ ...rotor, at: [0, 1, 0], turns: 'left' }, { places: { lift: 0.5 }, own: [300], inputs: [300] }, 'lift', {
          surroundings: { hill: { kind: 'slope', grade: 0.2, heading } },
        })
      return over(Math.PI / 2) - over(0)
    },
    'that turns left turns its body right': () => -gainedBy({ ...rotor, body: 'wheel', turns: 'left' }, { own: [300], inputs: [300] }, 'wheel'), // prettier-ignore
  },
  steadyForce: {
    'pushes along its force': () => gainedBy({ kind: 'steadyForce', body: 'cart', at: [0, 0, 0], force: [2, 0, 0], torque: [0, 0, 0], axes: 'world' }, {}), // prettier-ignore
    'twists left about its torque': () => gainedBy({ kind: 'steadyForce', body: 'wheel', at: [0, 0, 0], force: [0, 0, 0], torque: [0, 0, 1], axes: 'world' }, {}, 'wheel'), // prettier-ignore
    'turns with its body where it is in its own axes': () => gainedBy({ kind: 'steadyForce', body: 'wheel', at: [1, 0, 0], force: [0, 1, 0], torque: [0, 0, 0], axes: 'own' }, { places: { wheel: 2 } }, 'wheel'), // prettier-ignore
  },
  floatColumn: {
    'is lifted where it is under water, and no more below it than above': () =>
      afloat({ kind: 'stillWater', level: 0.3, density: 1000 }, -1) -
      afloat({ kind: 'stillWater', level: 0.3, density: 1000 }, 0),
    'is carried along by waves': () => {
      // under a crest water goes with the wave
      const crest = { kind: 'regularWaves', height: 1, period: 4, towards: 0, level: 0.3, density: 1000 }
      return gainedBy({ ...float, body: 'cart' }, {}, 'cart', { gravity: 9.8, surroundings: { water: crest } })
    },
  },
  magnet: { 'draws by its current': () => gainedBy({ kind: 'magnet', ...between, from: 'post', to: 'cart', constant: 1, most: 10 }, { inputs: [2] }) }, // prettier-ignore
  battery: {
    'gives its motor less than it has, by the current it gives': () => {
      const battery = { kind: 'battery', full: 25, empty: 20, resistance: 0.5, capacitance: 0.01, charge: 4000, taken: 0 }
      const drives = { cell: battery, it: { kind: 'dcMotor', ...turned, ...motor, supply: 'cell' } }
      const { changes } = motionOf(bench({ drives }), { inputs: [24], own: [25, 0, 5] })
      return -changes[0]!
    },
  },
}

describe('which way effects act', () => {
  it('is told of every one', () => {
    expect(Object.keys(acts).sort()).toEqual(effects.map(({ name }) => name).sort())
  })

  it.each(Object.entries(acts).flatMap(([kind, cases]) => Object.entries(cases).map(([words, sign]) => ({ kind, words, sign }))))(
    '$kind: $words',
    ({ sign }) => expect(sign()).toBeGreaterThan(1e-6),
  )
})

describe('how much effects do, by hand', () => {
  // a cart of 1 kg gains as many m/s² as it is pushed by newtons
  it.each<[string, Part, Moved, number]>([
    ['a spring: 10 N/m · 0.4 m + 2 N·s/m · 1 m/s', { kind: 'jointSpring', joint: 'cart.travel', rest: 0.1, stiffness: 10, damping: 2 }, { places: { cart: 0.5 }, speeds: { cart: 1 } }, -6],
    ['a stop: 100 N/m · 0.1 m + 5 N·s/m · 1 m/s', { kind: 'jointStops', joint: 'cart.travel', least: -1, most: 1, stiffness: 100, damping: 5 }, { places: { cart: 1.1 }, speeds: { cart: 1 } }, -15],
    ['the other stop, coming back: 100 N/m · 0.1 m - 5 N·s/m · 1 m/s', { kind: 'jointStops', joint: 'cart.travel', least: -1, most: 1, stiffness: 100, damping: 5 }, { places: { cart: -1.1 }, speeds: { cart: 1 } }, 5],
    ['a spring between points: 10 N/m · 1 m - 3 N·s/m · 1 m/s', { kind: 'pointSpring', ...between, stiffness: 10, damping: 3, rest: 1 }, { speeds: { cart: 1 } }, 7],
    ['a table: 20 N at 2 m, less 4 N·s/m · 1 m/s', { kind: 'tableForce', ...between, pull: [[0, 0], [3, 30]], damping: 4 }, { speeds: { cart: 1 } }, 16],
    ['a gas strut pressed in by a fifth: 100 N / (1 - 0.2 (1 - 1/1.3))', { kind: 'gasStrut', ...between, extended: 100, ratio: 1.3, longest: 2.2, stroke: 1, damping: 0 }, {}, -100 / (1 - 0.2 * (1 - 1 / 1.3))],
    ['a cable stretched by 0.1 m: 100 N/m · 0.1 m', { kind: 'cable', ...between, length: 1.9, stiffness: 100, damping: 0 }, {}, 10],
  ])('%s', (_words, part, moved, gained) => expect(gainedBy(part, moved)).toBeNear(gained, { relative: 1e-9 })) // prettier-ignore
})

describe('which way surroundings act', () => {
  const still = (more: Record<string, unknown>, moved: Moved = {}) => gainedBy(drag, moved, 'cart', { surroundings: { air: { kind: 'evenAir', density: 1.2 }, ...more } }) // prettier-ignore
  const onGround = (ground: Part) =>
    gainedBy({ ...foot, friction: 0 }, { places: { lift: 0.15 } }, 'lift', { surroundings: { ground } })
  const cases: Readonly<Record<string, () => number>> = {
    // level with a foot that it lifts, and under a crest more so
    stillWater: () =>
      afloat({ kind: 'stillWater', level: 0.1, density: 1000 }) - afloat({ kind: 'stillWater', level: 0.05, density: 1000 }),
    regularWaves: () =>
      afloat({ kind: 'regularWaves', height: 0.2, period: 4, towards: 0, level: 0.1, density: 1000 }) -
      afloat({ kind: 'stillWater', level: 0.1, density: 1000 }),
    irregularSea: () => {
      const sea = { kind: 'irregularSea', height: 0.2, period: 4, peakedness: 3.3, seed: 2, towards: 0, density: 1000 }
      return afloat({ ...sea, level: 0.3 }) - afloat({ ...sea, level: 0.2 })
    },
    windProfile: () =>
      gainedBy({ ...drag, at: [0, 0, 1] }, {}, 'cart', {
        surroundings: { wind: { kind: 'windProfile', velocity: [3, 0, 0], height: 2, roughness: 0.01 } },
      }),
    // the sun in the east by morning
    daylight: () =>
      surroundings.find(({ light }) => light !== undefined)!.light!({ height: 0.4, heading: 0 } as never).towards[0],
    // a gust along it goes where the turbulence goes
    drydenAir: () => {
      const part = { kind: 'drydenAir', deviations: [1, 1, 1], lengths: [9, 9, 9], speed: 3, towards: 0 }
      const outside = outsideOf(
        part,
        '',
        (path) => [part[path.split('.')[1] as 'speed']].flat()[Number(path.split('.')[2] ?? 0)]!,
        { time: 0, gravity: 9.8 },
      )
      return surroundings.find(({ name }) => name === part.kind)!.chance!.now(outside, [1, 0, 0, 0, 0])[0] as number
    },
    steadyWind: () => still({ wind: { kind: 'steadyWind', velocity: [3, 0, 0] } }),
    cosineGust: () => still({ gust: { kind: 'cosineGust', velocity: [3, 0, 0], start: 0, length: 2 } }, { time: 1 }),
    // twice the air brakes more
    evenAir: () =>
      gainedBy(drag, { speeds: { cart: 1 } }, 'cart', { surroundings: { air: { kind: 'evenAir', density: 1 } } }) -
      gainedBy(drag, { speeds: { cart: 1 } }, 'cart', { surroundings: { air: { kind: 'evenAir', density: 2 } } }),
    // thin air high up brakes less
    standardAir: () =>
      gainedBy(drag, { speeds: { cart: 1 } }, 'cart', { surroundings: { air: { kind: 'standardAir', altitude: 9000 } } }) -
      gainedBy(drag, { speeds: { cart: 1 } }, 'cart', { surroundings: { air: { kind: 'standardAir', altitude: 0 } } }),
    // a foot 5 cm above even ground stands in ground that is higher
    slope: () =>
      gainedBy({ ...foot, friction: 0, at: [1, 0, 0] }, { places: { lift: 0.15 } }, 'lift', {
        surroundings: { ground: { kind: 'slope', grade: 0.2, heading: 0 } },
      }),
    heavingDeck: () => onGround({ kind: 'heavingDeck', from: -1, level: 0.1, height: 0, period: 2, before: 0 }),
    groundProfile: () => onGround({ kind: 'groundProfile', profile: [[-5, 0.2], [5, 0.2]] }), // prettier-ignore
    heightField: () => onGround({ kind: 'heightField', heights: [[0.2, 0.2], [0.2, 0.2]], spacing: 4, west: -2, south: -2 }), // prettier-ignore
  }

  it('is told of every one', () => {
    expect(Object.keys(cases).sort()).toEqual(surroundings.map(({ name }) => name).sort())
  })

  it.each(Object.entries(cases))('%s', (_kind, sign) => expect(sign()).toBeGreaterThan(1e-6))
})

describe('which way chains take along', () => {
  const pushed = { drives: { it: { kind: 'effortDrive', joint: 'cart.travel', most: 100 } } }
  const along = (chain: Part) => {
    const { gained } = motionOf(bench({ ...pushed, chains: { it: chain } }), { inputs: [2], kept: [0] })
    return Math.min(gained('cart'), gained('other'))
  }
  const cases: Readonly<Record<string, () => number>> = {
    coupled: () => along({ kind: 'coupled', joint: 'other.travel', source: 'cart.travel', ratio: 2, offset: 0 }),
    rod: () => along({ kind: 'rod', from: 'cart', fromAt: [0, 0, 0], to: 'other', toAt: [1, 0, 0], length: Math.SQRT2 }),
    meets: () => along({ kind: 'meets', from: 'cart', fromAt: [0, 1, 0], to: 'other', toAt: [0, 0, 0] }),
    hinged: () => along({ kind: 'hinged', from: 'cart', fromAt: [0, 1, 0], to: 'other', toAt: [0, 0, 0], axis: [0, 0, 1], toAxis: [0, 0, 1] }), // prettier-ignore
  }

  it('is told of every one', () => {
    expect(Object.keys(cases).sort()).toEqual(chains.map(({ name }) => name).sort())
  })

  it.each(Object.entries(cases))('%s: to the right together', (_kind, sign) => expect(sign()).toBeGreaterThan(1e-6))
})

describe('which way sensors read', () => {
  const read = (sensor: Part, moved: Moved, reading = '', more: Record<string, unknown> = {}) =>
    motionOf(bench({ sensors: { it: { rate: 100, ...sensor } }, ...more }), moved).signal(`sensors.it${reading}`)
  const range = { kind: 'distanceSensor', body: 'lift', at: [0, 0, 0], axis: [0, 0, -1], nearest: 0, farthest: 10, cone: 1 }
  const cases: Readonly<Record<string, () => number>> = {
    encoder: () => read({ kind: 'encoder', joint: 'cart.travel' }, { places: { cart: 0.4 } }),
    tachometer: () => read({ kind: 'tachometer', joint: 'wheel.angle' }, { speeds: { wheel: 2 } }),
    // a wheel that has turned left heads left; what lies ahead lies to its right, and what points left comes ahead
    attitudeSensor: () => read({ kind: 'attitudeSensor', body: 'wheel' }, { places: { wheel: 0.4 } }, '.heading'),
    directionSensor: () =>
      -read({ kind: 'directionSensor', body: 'wheel', towards: [2, 0, 0] }, { places: { wheel: 0.4 } }, '.y'),
    magnetometer: () => read({ kind: 'magnetometer', body: 'wheel', field: [0, 1, 0] }, { places: { wheel: 0.4 } }, '.x'),
    gyroscope: () => read({ kind: 'gyroscope', body: 'wheel' }, { speeds: { wheel: 2 } }, '.z'),
    // at rest it reads what holds it up
    accelerometer: () => read({ kind: 'accelerometer', body: 'wheel', at: [0, 0, 0] }, {}, '.z', { gravity: 9.81 }),
    // its rates, what holds it up, and how it has turned
    inertialUnit: () => {
      const it = (moved: Moved, reading: string) =>
        read({ kind: 'inertialUnit', body: 'wheel', at: [0, 0, 0] }, moved, reading, { gravity: 9.81 })
      return Math.min(it({ speeds: { wheel: 2 } }, '.rateZ'), it({}, '.forceZ'), it({ places: { wheel: 0.4 } }, '.heading'))
    },
    distanceSensor: () => read(range, { places: { lift: 3 } }) - read(range, { places: { lift: 1 } }),
    // a rim that goes right lies ahead of a wheel that has not turned, to the right of one that has turned left
    velocitySensor: () => {
      const rim = { kind: 'velocitySensor', body: 'wheel', at: [0, -1, 0] }
      const ahead = read(rim, { speeds: { wheel: 1 } }, '.ahead')
      const wind = read({ ...rim, through: 'air' }, {}, '.left', {
        surroundings: { wind: { kind: 'steadyWind', velocity: [0, -3, 0] } },
      })
      const turned = read(rim, { places: { wheel: Math.PI / 2 }, speeds: { wheel: 1 } }, '.ahead')
      return Math.min(ahead, wind, turned)
    },
    positionFix: () => read({ kind: 'positionFix', body: 'cart', at: [0, 0, 0] }, { places: { cart: 0.4 } }, '.x'),
    formulaSensor: () => read({ kind: 'formulaSensor', reading: '2 * cart.travel' }, { places: { cart: 0.4 } }),
  }

  it('is told of every one', () => {
    expect(Object.keys(cases).sort()).toEqual(mechanismSensors.map(({ name }) => name).sort())
  })

  it.each(Object.entries(cases))('%s', (_kind, sign) => expect(sign()).toBeGreaterThan(1e-6))
})
