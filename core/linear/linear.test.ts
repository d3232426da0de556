import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import {
  frequencyGrid,
  fromPolynomials,
  inWords,
  isStable,
  margins,
  movedOutputs,
  outputCoordinates,
  poles,
  polynomialFromRoots,
  responseAt,
  sampledBilinear,
  sampledWithHold,
  sampledWithRamp,
  transferFunction,
} from './index'
import { stepFigures, stepResponse, steadyGain, unstableClosedPoles, widened } from './index'
import type { FrequencyFunction, StateSpace } from './index'

function loopOf(system: StateSpace, delay = 0): FrequencyFunction {
  return (w) => {
    const at = responseAt(system, { re: 0, im: w })?.[0]?.[0]
    if (at === undefined) return undefined
    const [c, s] = [Math.cos(w * delay), -Math.sin(w * delay)]
    return { re: at.re * c - at.im * s, im: at.re * s + at.im * c }
  }
}

interface MarginCase {
  readonly inputs: { readonly num: number[]; readonly den: number[]; readonly delay_s: number }
  readonly expected: {
    readonly gain_crossovers: { w_rad_s: number; phase_margin_deg: number; delay_margin_s: number }[]
    readonly phase_crossovers: { w_rad_s: number; gain_margin: number }[]
    readonly Ms: number
  }
}

describe('margins', () => {
  // computed with numpy and scipy (brentq); see the files
  it.each(['lti-margins-third-order', 'lti-margins-multi-gc', 'lti-margins-conditional', 'lti-margins-delay'])(
    'agree with %s',
    (id) => {
      const { inputs, expected } = reference<MarginCase['inputs'], MarginCase['expected']>(id)
      const found = margins(loopOf(fromPolynomials(inputs.num, inputs.den, null), inputs.delay_s), frequencyGrid(1e-3, 40))
      expect(found.phase.map(({ w }) => w)).toBeNear(
        expected.gain_crossovers.map(({ w_rad_s }) => w_rad_s),
        { relative: 1e-6 },
      )
      expect(found.phase.map(({ margin }) => (margin * 180) / Math.PI)).toBeNear(
        expected.gain_crossovers.map((one) => one.phase_margin_deg),
        { absolute: 1e-4 },
      )
      expect(found.phase.map(({ delay }) => delay)).toBeNear(
        expected.gain_crossovers.map((one) => one.delay_margin_s),
        { relative: 1e-5 },
      )
      expect(found.gain.map(({ factor }) => factor)).toBeNear(
        expected.phase_crossovers.map((one) => one.gain_margin),
        { relative: 1e-5 },
      )
      expect(found.sensitivityPeak.factor).toBeNear(expected.Ms, { relative: 1e-6 })
    },
  )

  it('agree with the closed form of a lag with delay', () => {
    // Åström & Murray, Feedback Systems, 2nd ed., ch. 10 (definitions)
    const { inputs, expected } = reference<
      Record<'k' | 'tau_s' | 'theta_s' | 'Kc', number>,
      Record<'w_gc' | 'pm_deg' | 'w_pc' | 'gm', number>
    >('lti-margins-fopdt')
    const found = margins(
      loopOf(fromPolynomials([inputs.k * inputs.Kc], [inputs.tau_s, 1], null), inputs.theta_s),
      frequencyGrid(1e-3, 2),
    )
    expect([found.phase[0]!.w, (found.phase[0]!.margin * 180) / Math.PI, found.gain[0]!.w, found.gain[0]!.factor]).toBeNear(
      [expected.w_gc, expected.pm_deg, expected.w_pc, expected.gm],
      { relative: 1e-7 },
    )
  })

  it('agree with a sampled loop with delay', () => {
    interface Sampled {
      readonly inputs: {
        plant_num: number[]
        plant_den: number[]
        T: number
        controller_num: number[]
        controller_den: number[]
        delay_samples: number
      }
      readonly expected: {
        gain_margin: number
        phase_crossover: number
        phase_margin_deg: number
        gain_crossover: number
        peak_sensitivity: number
      }
    }
    const { inputs, expected } = reference<Sampled['inputs'], Sampled['expected']>('mr-discrete-margins')
    const plant = sampledWithHold(fromPolynomials(inputs.plant_num, inputs.plant_den, null), inputs.T)
    const law = sampledBilinear(fromPolynomials(inputs.controller_num, inputs.controller_den, null), inputs.T)!
    const loop: FrequencyFunction = (w) => {
      const z = { re: Math.cos(w * inputs.T), im: Math.sin(w * inputs.T) }
      const [g, c] = [responseAt(plant, z)?.[0]?.[0], responseAt(law, z)?.[0]?.[0]]
      if (g === undefined || c === undefined) return undefined
      const p = { re: g.re * c.re - g.im * c.im, im: g.re * c.im + g.im * c.re }
      return { re: p.re * z.re + p.im * z.im, im: p.im * z.re - p.re * z.im } // one sample of delay
    }
    const found = margins(loop, frequencyGrid(1e-3, Math.PI / inputs.T - 1e-6))
    const actual = [
      found.gain[0]!.factor,
      found.gain[0]!.w,
      (found.phase[0]!.margin * 180) / Math.PI,
      found.phase[0]!.w,
      found.sensitivityPeak.factor,
    ]
    expect(actual).toBeNear(
      [
        expected.gain_margin,
        expected.phase_crossover,
        expected.phase_margin_deg,
        expected.gain_crossover,
        expected.peak_sensitivity,
      ],
      { relative: 1e-6 },
    )
  })

  it('are empty lists for a loop that never crosses', () => {
    const found = margins(loopOf(fromPolynomials([0.5], [1, 1], null)), frequencyGrid(1e-3, 1e3))
    expect(found.gain).toEqual([])
    expect(found.phase).toEqual([])
  })
})

describe("Nyquist's count", () => {
  interface Nyquist {
    readonly inputs: { readonly loops: { name: string; num: number[]; den: number[] }[] }
    readonly expected: { readonly counts: { open_loop_rhp: number; closed_loop_rhp: number }[] }
  }
  const { inputs, expected } = reference<Nyquist['inputs'], Nyquist['expected']>('lti-nyquist')
  it.each(inputs.loops.map((loop, i) => ({ ...loop, count: expected.counts[i]! })))(
    'is right for $name',
    ({ num, den, count }) => {
      const system = fromPolynomials(num, den, null)
      expect(poles(system)!.filter(({ re }) => re > 1e-9)).toHaveLength(count.open_loop_rhp)
      // by eigenvalues, and by the contour behind a delay that is too short to matter
      expect(unstableClosedPoles(system, 0)).toBe(count.closed_loop_rhp)
      expect(unstableClosedPoles(system, 1e-7)).toBe(count.closed_loop_rhp)
    },
  )
})

describe('a loop behind a delay', () => {
  it('with poles on the axis is stable or not as its characteristic equation says', () => {
    // 0.3 e^(-0.2 s)/(s² + 100): at the pole 10j the loop gain comes in with -2 rad, so its pole moves right;
    // behind 0.35 s with -3.5 rad, and it moves left (first order: ds = -0.3 e^(-10j delay)/20j)
    const swinging = fromPolynomials([0.3], [1, 0, 100], null)
    for (const delay of [0.05, 0.2, 0.35, 0.5, 0.7, 1])
      expect([delay, unstableClosedPoles(swinging, delay)]).toEqual([delay, Math.sin(10 * delay) > 0 ? 2 : 0])
    // twice: two pairs, moved by the square root of the gain, so one of each goes right whatever the delay
    expect(unstableClosedPoles(fromPolynomials([0.01], [1, 0, 200, 0, 1e4], null), 0.2)).toBe(2)
  })
  it('of an integrator is stable up to a quarter turn, pi/2 over the gain', () => {
    const integrator = fromPolynomials([2], [1, 0], null)
    expect(unstableClosedPoles(integrator, 0.999 * (Math.PI / 4))).toBe(0)
    expect(unstableClosedPoles(integrator, 1.001 * (Math.PI / 4))).toBe(2)
    expect(unstableClosedPoles(integrator, (0.999 * 5 * Math.PI) / 4)).toBe(2)
    expect(unstableClosedPoles(integrator, (1.001 * 5 * Math.PI) / 4)).toBe(4)
  })
  it('holds an unstable machine as long as the delay is short', () => {
    // s - 1 + 2 e^(-s delay): cos w delay = 1/2 at w = sqrt 3
    const [machine, limit] = [fromPolynomials([2], [1, -1], null), Math.PI / 3 / Math.sqrt(3)]
    expect(unstableClosedPoles(machine, 0.999 * limit)).toBe(0)
    expect(unstableClosedPoles(machine, 1.001 * limit)).toBe(2)
  })
})

describe('margins at the ends', () => {
  const marginsOf = (num: number[], den: number[]) => {
    const loop = loopOf(fromPolynomials(num, den, null))
    return margins(loop, widened(loop, frequencyGrid(1e-2, 1e2), Infinity))
  }
  it('count the gain at rest', () => {
    expect(marginsOf([2], [1, -1]).gain).toEqual([{ w: 0, factor: 0.5 }])
    expect(marginsOf([-0.5], [1, 1]).gain).toEqual([{ w: 0, factor: 2 }])
    expect(marginsOf([2], [1, 1]).gain).toEqual([])
    // a rate that swings: its zero at rest, seen through rounding, is no gain there
    expect(marginsOf([1, -1e-14], [1, 0.1, 0.32]).gain).toEqual([])
  })
  it.each([1e-12, 1e-6, 1e-3, 1e3, 1e6, 1e12])('are found however slow or fast the crossing is: %d/s', (gain) => {
    const { phase } = marginsOf([gain], [1, 0])
    expect(phase).toHaveLength(1)
    expect(phase[0]!.w).toBeNear(gain, { relative: 1e-9 })
    expect(phase[0]!.margin).toBeNear(Math.PI / 2, { relative: 1e-9 })
  })
  it('are found beyond a double zero at rest too', () => {
    const { phase } = marginsOf([1e-7, 0, 0], [1, 20, 100])
    expect(phase).toEqual([])
    expect(marginsOf([1e9, 0, 0], [1e4, 2e6, 1e8]).phase[0]!.w).toBeNear(Math.sqrt(0.1 / 1), { relative: 1e-2 })
  })
})

describe('step figures', () => {
  // Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, sections 3.3-3.4; Ogata, section 5-3
  it.each(['lti-step-2nd-z0p5', 'lti-step-2nd-z0p7'])('agree with the closed form in %s', (id) => {
    const { inputs, expected } = reference<
      { zeta: number; wn_rad_s: number },
      { peak_time: number; overshoot_frac: number; rise_10_90: number; settling_2pct: number; settling_5pct: number }
    >(id)
    const { zeta, wn_rad_s: w } = inputs
    const { t, y } = stepResponse(fromPolynomials([w * w], [1, 2 * zeta * w, w * w], null), 12, 6001)
    const values = y.map((row) => row[0]!)
    const two = stepFigures(t, values, { final: 1 })
    const five = stepFigures(t, values, { final: 1, settlingBand: 0.05 })
    expect([two.peakTime, two.overshoot, two.rise, two.settling, five.settling]).toBeNear(
      [expected.peak_time, expected.overshoot_frac, expected.rise_10_90, expected.settling_2pct, expected.settling_5pct],
      { absolute: 2e-3 },
    )
  })
  it('leave out what never happens', () => {
    const figures = stepFigures([0, 1, 2, 3], [0, 0.2, 0.4, 0.5], { final: 1 })
    expect(figures.rise).toBeUndefined()
    expect(figures.settling).toBeUndefined()
  })
})

describe('discretization', () => {
  interface Sampling {
    readonly inputs: { readonly num: number[]; readonly den: number[]; readonly T_s: number }
    readonly expected: Record<'zoh' | 'foh' | 'bilinear', { num: number[]; den: number[] }>
  }
  // scipy.signal.cont2discrete; the second is the textbook 1/(s(s+1)) of Åström & Wittenmark
  it.each(['lti-c2d-second-order', 'lti-c2d-integrator-lag'])('agrees with %s', (id) => {
    const { inputs, expected } = reference<Sampling['inputs'], Sampling['expected']>(id)
    const system = fromPolynomials(inputs.num, inputs.den, null)
    const pairs = [
      [sampledWithHold(system, inputs.T_s), expected.zoh],
      [sampledWithRamp(system, inputs.T_s), expected.foh],
      [sampledBilinear(system, inputs.T_s)!, expected.bilinear],
    ] as const
    for (const [sampled, wanted] of pairs) {
      expect(polynomialFromRoots(poles(sampled)!)).toBeNear(wanted.den, { absolute: 1e-9 })
      const z = { re: 0.3, im: 1.1 } // anywhere off the poles: equal rational functions agree there
      const [got, want] = [
        responseAt(sampled, z)![0]![0]!,
        responseAt(fromPolynomials(wanted.num, wanted.den, inputs.T_s), z)![0]![0]!,
      ]
      expect([got.re, got.im]).toBeNear([want.re, want.im], { relative: 1e-9 })
    }
  })
})

describe('reduction and words', () => {
  const six = 6
  // a double integrator driven by six equal lags: seen from its input, one lag
  const a = Array.from({ length: six + 2 }, (_, i) =>
    Array.from({ length: six + 2 }, (__, j) => (i === 0 && j === 1 ? 1 : i === 1 && j > 1 ? 0.1 : i > 1 && i === j ? -20 : 0)),
  )
  const system: StateSpace = {
    a,
    b: a.map((_, i) => [i > 1 ? 5 : 0]),
    c: [a.map((_, i) => (i === 0 ? 1 : 0))],
    d: [[0]],
    dt: null,
    states: a.map((_, i) => `x${i}`),
    inputs: ['push'],
    outputs: ['height'],
  }
  it('keeps what the input reaches and the output shows, in coordinates of the output', () => {
    const small = outputCoordinates(system)
    expect(small.states).toEqual(['height', 'rate of height', 'rate of rate of height'])
    expect(small.a).toBeNear(
      [
        [0, 1, 0],
        [0, 0, 1],
        [0, 0, -20],
      ],
      { absolute: 1e-9 },
    )
    const s = { re: 0.4, im: 2 }
    expect(responseAt(small, s)![0]![0]).toBeNear(responseAt(system, s)![0]![0], { relative: 1e-9 })
  })
  it('says what a system is', () => {
    expect(inWords(outputCoordinates(system))).toBe('a double integrator with gain 0.15 and a lag of 0.05 s')
    expect(inWords(fromPolynomials([8], [1, 0.4, 4], null))).toBe('a gain of 2 and a mode at 2 rad/s with damping 0.1')
  })
  it('has no steady gain where it integrates', () => {
    expect(steadyGain(fromPolynomials([1], [1, 0], null))).toBeUndefined()
    expect(steadyGain(fromPolynomials([6], [1, 3], null))).toBeNear([[2]], { relative: 1e-12 })
  })
})

describe('roots', () => {
  it('of polynomials are counted right in the special cases of the array method', () => {
    // K. Ogata, Modern Control Engineering, 5th ed., sec. 5-6 (from memory); counts by sympy with 30 digits
    const { inputs, expected } = reference<
      { polynomials: { name: string; coeffs: number[] }[] },
      { counts: { rhp: number; imag_axis: number; asymptotically_stable: boolean }[] }
    >('lti-routh-special')
    const axis = 1e-7 // real parts of the case with roots at ±j are known to about 1e-15
    const counts = inputs.polynomials.map(({ coeffs }) => {
      const system = fromPolynomials([1], coeffs, null)
      const all = poles(system)!
      return {
        rhp: all.filter(({ re }) => re > axis).length,
        imag_axis: all.filter(({ re }) => Math.abs(re) <= axis).length,
        asymptotically_stable: isStable(system) && all.every(({ re }) => re < -axis),
      }
    })
    expect(counts).toEqual(expected.counts)
  })

  it('of a closed loop meet the published points of the locus', () => {
    // K. Ogata, Modern Control Engineering, 5th ed., example 6-1 (from memory, recomputed in the file)
    const { inputs, expected } = reference<
      { num: number[]; den: number[] },
      {
        break_points: { s: number; K: number }[]
        imag_crossing: { w: number; K: number }
        zeta_half_point: { re: number; im: number; K: number }
      }
    >('lti-rootlocus-ogata-1')
    const closed = (k: number) => {
      const den = inputs.den.map((value, i) => value + (i === inputs.den.length - 1 ? k * inputs.num[0]! : 0))
      return [...poles(fromPolynomials([1], den, null))!].sort((a, b) => b.re - a.re || b.im - a.im)
    }
    const at = expected.break_points[0]!
    expect(closed(at.K)[0]).toBeNear({ re: at.s, im: 0 }, { absolute: 1e-6 }) // a double root keeps half the digits
    expect(closed(expected.imag_crossing.K)[0]).toBeNear({ re: 0, im: expected.imag_crossing.w }, { absolute: 1e-9 })
    const { re, im, K } = expected.zeta_half_point
    expect(closed(K)[0]).toBeNear({ re, im }, { relative: 1e-9 })
  })

  it('give their polynomial back', () => {
    const roots = [
      { re: -1, im: 2 },
      { re: -1, im: -2 },
      { re: -0.5, im: 0 },
    ]
    expect(polynomialFromRoots(roots)).toBeNear([1, 2.5, 6, 2.5], { relative: 1e-15 })
  })
})

describe('a sampled integrator', () => {
  // K. J. Åström & B. Wittenmark, Computer-Controlled Systems (the problem from memory); closed forms in the files
  const integrator = (k: number, t: number) => sampledWithHold(fromPolynomials([k], [1, 0], null), t)

  /** Closed loop of u = -gain y, applied `delay` samples late. */
  function closedLoop(plant: StateSpace, factor: number, delay: number): StateSpace {
    const n = delay + 1
    const gain = factor * plant.c[0]![0]!
    const a = Array.from({ length: n }, () => new Array<number>(n).fill(0))
    a[0]![0] = plant.a[0]![0]!
    a[0]![delay === 0 ? 0 : 1]! += plant.b[0]![0]! * (delay === 0 ? -gain : 1)
    for (let i = 1; i < delay; i++) a[i]![i + 1] = 1
    if (delay > 0) a[delay]![0] = -gain
    const column = a.map(() => [0])
    return { ...plant, a, b: column, c: [a.map(() => 0)], d: [[0]] }
  }

  it('has the published gain limits with whole delays', () => {
    const { inputs, expected } = reference<
      { K: number; T: number },
      { whole: { delay_samples: number; gain_limit: number; critical_theta: number }[] }
    >('mr-integrator-limit')
    const plant = integrator(inputs.K, inputs.T)
    for (const { delay_samples, gain_limit, critical_theta } of expected.whole) {
      expect(isStable(closedLoop(plant, gain_limit * 0.999, delay_samples))).toBe(true)
      expect(isStable(closedLoop(plant, gain_limit * 1.001, delay_samples))).toBe(false)
      const loop: FrequencyFunction = (w) => {
        const turn = w * inputs.T
        const g = responseAt(plant, { re: Math.cos(turn), im: Math.sin(turn) })?.[0]?.[0]
        if (g === undefined) return undefined
        const [c, s] = [Math.cos(turn * delay_samples), -Math.sin(turn * delay_samples)]
        return { re: g.re * c - g.im * s, im: g.re * s + g.im * c }
      }
      const [first] = margins(loop, frequencyGrid(1e-2, Math.PI / inputs.T)).gain
      expect(first!.factor).toBeNear(gain_limit, { relative: 1e-6 })
      expect(first!.w * inputs.T).toBeNear(critical_theta, { relative: 1e-6 })
    }
  })

  it('is twice as touchy with one sample of computation delay', () => {
    const { expected } = reference<object, { KTs_limit: number; KTs_limit_one_delay: number }>('sim-zoh-delay-limit')
    const plant = integrator(1, 1)
    for (const [limit, delay] of [
      [expected.KTs_limit, 0],
      [expected.KTs_limit_one_delay, 1],
    ] as const) {
      expect(isStable(closedLoop(plant, limit - 1e-6, delay))).toBe(true)
      expect(isStable(closedLoop(plant, limit + 1e-6, delay))).toBe(false)
    }
  })
})

describe('a response that first goes the wrong way', () => {
  it('has the computed figures', () => {
    // numpy and scipy, crossings by brentq; checked by DOP853
    const { inputs, expected } = reference<{ num: number[]; den: number[] }, Record<string, number>>('lti-step-nonminphase')
    const { t, y } = stepResponse(fromPolynomials(inputs.num, inputs.den, null), 12, 24_001)
    const height = y.map((row) => row[0]!)
    const found = stepFigures(t, height, { final: 1 })
    const within5 = stepFigures(t, height, { final: 1, settlingBand: 0.05 })
    expect([found.rise, found.settling, within5.settling, found.peak, found.peakTime, found.overshoot]).toBeNear(
      [
        expected.rise_10_90!,
        expected.settling_2pct!,
        expected.settling_5pct!,
        expected.peak!,
        expected.peak_time!,
        expected.overshoot_frac!,
      ],
      { absolute: 3e-4 }, // samples lie 0.5 ms apart
    )
    const lowest = Math.min(...height)
    expect(lowest).toBeNear(-expected.undershoot_frac!, { relative: 1e-4 })
    expect(t[height.indexOf(lowest)]!).toBeNear(expected.undershoot_time!, { absolute: 1e-3 })
  })
})

describe('what an input moves', () => {
  it('is what the chain of states from it shows', () => {
    // u moves x1, x1 moves x2; x3 stands alone
    const a = [
      [-1, 0, 0],
      [2, -3, 0],
      [0, 0, -4],
    ]
    const c = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [0, 0, 0],
    ]
    const system = { ...fromPolynomials([1], [1, 2, 3, 4], null), a, b: [[1e-9], [0], [0]], c, d: [[0], [0], [0], [2]] }
    expect(movedOutputs(system, 0)).toEqual([0, 1, 3])
  })

  it('counts nothing where states cancel in an output', () => {
    const a = [
      [-1, 0],
      [0, -1],
    ]
    const system = { ...fromPolynomials([1], [1, 2, 3], null), a, b: [[1], [1]], c: [[1, -1]], d: [[0]] }
    expect(movedOutputs(system, 0)).toEqual([])
  })

  it('is not drowned by what is much faster', () => {
    // a slow pendulum behind two contacts of 30,000 rad/s, in coordinates that are its output and the derivatives of that
    const fast = 3e4
    const slow = fromPolynomials([fast ** 2], [1, 2 * fast, fast ** 2 - 4, -8 * fast, -4 * fast ** 2], null)
    expect(movedOutputs(slow, 0)).toEqual([0])
    expect(movedOutputs(outputCoordinates(slow), 0)).toEqual([0])
  })
})

describe('a transfer function', () => {
  const told = (system: StateSpace, input = 0, output = 0) => {
    const found = transferFunction(system, input, output)
    if (found === undefined) throw new Error('It was refused.')
    return found
  }
  it('of a canonical form is the polynomials it was made of', () => {
    const [numerator, denominator] = [
      [2, -3, 5],
      [1, 4, 0.5, 7, 11],
    ]
    expect(told(fromPolynomials(numerator!, denominator!, null))).toEqual({ numerator, denominator })
  })

  it('with a direct way through has the degree of its denominator', () => {
    const { numerator } = told(fromPolynomials([3, 1, 2], [1, 0.2, 9], 0.1))
    expect(numerator).toBeNear([3, 1, 2], { relative: 1e-12 })
  })

  it('of what its input does not reach is 0', () => {
    const system = { ...fromPolynomials([1], [1, 2, 3], null), b: [[0], [0]] }
    expect(told(system).numerator).toEqual([0])
  })

  it('keeps coefficients that are small beside what others make of them', () => {
    // a slow pole beside fast ones is no integrator
    for (const denominator of [
      [1, 1e6, 100],
      [1, 2e4, 1e8, 5e9, 100],
      [1, 1e9, 1e-3],
    ])
      expect(told(fromPolynomials([1], denominator, null)).denominator).toEqual(denominator)
    // (s + 1)^13, whose roots nobody can find to a tenth
    const binomial = [1, 13, 78, 286, 715, 1287, 1716, 1716, 1287, 715, 286, 78, 13, 1]
    expect(told(fromPolynomials([7], binomial, null))).toEqual({ numerator: [7], denominator: binomial })
  })

  it('of a quarter vehicle on a stiff servo has the numerator that is worked out by hand', () => {
    // wheel m on tyre k, body M on spring s and damper c, from the servo's place under the spring through a fast lag
    const [m, M, k, s, c, w] = [40, 300, 2e5, 1.6e4, 1e3, 3e4]
    const a = [
      [0, 1, 0, 0, 0],
      [-(k + s) / m, -c / m, s / m, c / m, -s / m],
      [0, 0, 0, 1, 0],
      [s / M, c / M, -s / M, -c / M, s / M],
      [0, 0, 0, 0, -w],
    ]
    const system: StateSpace = {
      ...{ a, b: [[0], [0], [0], [0], [w]], c: [[0, 0, 1, 0, 0]], d: [[0]], dt: null },
      ...{ states: ['z', 'v', 'Z', 'V', 'servo'], inputs: ['u'], outputs: ['Z'] },
    }
    // M Z'' = s (z - Z + u) + c (z' - Z'), m z'' = -k z - (the same): Z/u = s (m s² + k)/den
    const { numerator, denominator } = told(system)
    expect(numerator).toBeNear([(s * w) / M, 0, (s * w * k) / (M * m)], { relative: 1e-12, absolute: 1e-6 })
    expect(denominator.at(-1)).toBeNear((w * s * k) / (M * m), { relative: 1e-12 })
    expect(numerator[1]).toBe(0)
  })

  it('takes what is only rounding in its matrices for 0', () => {
    const turn = 0.7 // a double integrator in turned coordinates
    const [x, y] = [Math.cos(turn), Math.sin(turn)]
    const a = [
      [x * y, -x * x],
      [y * y, -x * y],
    ].map((row) => row.map((value) => 3 * value))
    const system = { ...fromPolynomials([1], [1, 0, 0], null), a, b: [[x], [y]], c: [[y, -x]] }
    expect(told(system)).toEqual({ numerator: [0], denominator: [1, 0, 0] })
  })

  it('of more states than anybody can use is refused', () => {
    const lags = (count: number): StateSpace => {
      const rates = Array.from({ length: count }, (_, i) => 1 + i)
      return {
        a: rates.map((rate, i) => rates.map((_, j) => (i === j ? -rate : 0))),
        ...{ b: rates.map(() => [1]), c: [rates], d: [[0]], dt: null },
        ...{ states: rates.map(String), inputs: ['u'], outputs: ['y'] },
      }
    }
    expect(transferFunction(lags(31), 0, 0)).toBeUndefined()
    const roots = Array.from({ length: 30 }, (_, i) => ({ re: -1 - i, im: 0 }))
    expect(told(lags(30)).denominator).toBeNear(polynomialFromRoots(roots), { relative: 1e-12 })
  })
})
