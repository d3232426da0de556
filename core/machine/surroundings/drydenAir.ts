import { add, cos, div, exp, max, mul, sin, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { number, vector } from '../../kinds'
import { windLayer } from './windLayer'
import { defineSurrounding } from './surrounding'
import type { Outside } from './surrounding'

/** s: the scale of turbulence along an axis over the speed at which it goes by. */
function scaleTime({ vector: read, number: single }: Outside, axis: number): Scalar {
  return div(read('lengths')[axis]!, single('speed'))
}

/**
 * One sample of a signal whose spectrum falls by 20 dB a decade, of deviation 1: exact at any distance of samples, since
 * both it and its noise are normal.
 */
function slow(was: Scalar, noise: Scalar, share: Scalar): Scalar {
  const kept = exp(sub(0, share))
  return add(mul(kept, was), mul(sqrt(sub(1, square(kept))), noise))
}

/** The same of two that follow one another, (s T + 1)² in all, whose deviations are 1 and 1/√2 and which agree by 1/2. */
function pairOf([first, second]: readonly [Scalar, Scalar], noise: readonly [Scalar, Scalar], share: Scalar): [Scalar, Scalar] {
  const kept = exp(sub(0, share))
  const kept2 = square(kept)
  // covariance that chance adds: what there is less what is kept of it
  const q11 = sub(1, kept2)
  const q12 = sub(0.5, mul(kept2, add(0.5, share)))
  const q22 = sub(0.5, mul(kept2, add(add(0.5, share), square(share))))
  const [l11, l21] = [sqrt(q11), div(q12, sqrt(q11))]
  // next to nothing where samples are close: rounding must not make it less
  const l22 = sqrt(max(0, sub(q22, square(l21))))
  return [
    add(mul(kept, first), mul(l11, noise[0])),
    add(mul(kept, add(second, mul(share, first))), add(mul(l21, noise[0]), mul(l22, noise[1]))),
  ]
}

/** The gust across from both: √3 of the first less (√3 - 1) of the second, over √2 as their variances are 1/2T and 1/4T. */
function across([first, second]: readonly [Scalar, Scalar]): Scalar {
  return div(sub(mul(Math.sqrt(3), first), mul(Math.sqrt(3) - 1, second)), Math.SQRT2)
}

export const drydenAir = defineSurrounding({
  name: 'drydenAir',
  label: 'turbulence (Dryden)',
  says: 'Turbulence of {deviations} along, across and up goes by with {speed} towards {towards}, its scales {lengths}.',
  about:
    'Continuous turbulence of the Dryden spectrum by its forming filters, MIL-F-8785C (1980), 3.7.2: along, σ² 2L/(πV) / (1 + (Lω/V)²); across and up, σ² L/(πV) (1 + 3 (Lω/V)²) / (1 + (Lω/V)²)². It starts as it goes on, by the seed of the trial, is the same everywhere at a time, and stays for one tick of the run. In flight the speed is that of the flight through the air; scales at low height h, ft: h/(0.177 + 0.000823 h)^1.2 along and across, h up. It stands still where no trial runs.',
  slots: {
    deviations: vector({
      label: 'deviations',
      unit: 'm/s',
      components: ['along', 'across', 'up'],
      fill: [1, 1, 0.7],
    }),
    lengths: vector({ label: 'scales', unit: 'm', components: ['along', 'across', 'up'], fill: [30, 30, 10] }),
    speed: number({ label: 'speed', unit: 'm/s', above: 0 }),
    towards: number({ label: 'towards, about z from x', unit: 'rad', otherwise: 0 }),
  },
  layers: [windLayer],
  wind: ({ now }) => now,
  chance: {
    memory: 5,
    // of the stationary process itself
    start: (_outside, noise) => [
      noise[0]!,
      ...[1, 3].flatMap((i) => [noise[i]!, add(mul(0.5, noise[i]!), mul(0.5, noise[i + 1]!))]),
    ],
    step: (outside, memory, noise, dt) => {
      const share = (axis: number) => div(dt, scaleTime(outside, axis))
      return [
        slow(memory[0]!, noise[0]!, share(0)),
        ...pairOf([memory[1]!, memory[2]!], [noise[1]!, noise[2]!], share(1)),
        ...pairOf([memory[3]!, memory[4]!], [noise[3]!, noise[4]!], share(2)),
      ]
    },
    now: (outside, memory) => {
      const deviations = outside.vector('deviations')
      const along = mul(deviations[0], memory[0]!)
      const beside = mul(deviations[1], across([memory[1]!, memory[2]!]))
      const [c, s] = [cos(outside.number('towards')), sin(outside.number('towards'))]
      return [
        sub(mul(c, along), mul(s, beside)),
        add(mul(s, along), mul(c, beside)),
        mul(deviations[2], across([memory[3]!, memory[4]!])),
      ]
    },
  },
  contradictions: ({ lengths, deviations }) => {
    const short = { slot: 'lengths', what: 'A scale of the turbulence is not above 0.', remedy: 'Give all three a length.' }
    const below = { slot: 'deviations', what: 'A deviation of the turbulence is below 0.', remedy: 'Give 0 or more along each.' }
    const still = { slot: 'deviations', what: 'The turbulence has no energy.', remedy: 'Give a deviation above 0, or remove it.' }
    return [
      ...(lengths.every((length) => length > 0) ? [] : [short]),
      ...(deviations.every((deviation) => deviation >= 0) ? [] : [below]),
      ...(deviations.every((deviation) => deviation === 0) ? [still] : []),
    ]
  },
})
