import { magnitude } from '../algebra'
import type { Complex } from '../algebra'
import { continuousPoles, frequencyResponse, withoutIntegrators } from './stateSpace'
import type { StateSpace } from './stateSpace'

const orders = ['', 'an integrator', 'a double integrator', 'a triple integrator', 'a fourfold integrator']

/**
 * A system with one input and one first output in words: 'a double integrator with gain 0.294 and a lag of 0.04 s'. The
 * gain is that of s^k G(s) at rest. A sampled system by the continuous one that gives the same samples.
 */
export function inWords(system: StateSpace): string {
  const all = continuousPoles(system)
  if (all === undefined) return 'a system whose poles cannot be found'
  const { integrators: count, rest, scale } = withoutIntegrators(all)
  const small = 1e-5 * scale
  const near = frequencyResponse(system, small)?.[0]?.[0]
  const gain = near === undefined ? NaN : magnitude(near) * small ** count
  const core = count === 0 ? `a gain of ${short(gain)}` : `${orders[count] ?? `${count} integrators`} with gain ${short(gain)}`
  return [core, ...rest.filter(({ im }) => im >= 0).map(modeInWords)].join(' and ')
}

function modeInWords({ re, im }: Complex): string {
  const w = magnitude({ re, im })
  if (im > 1e-9 * w) {
    const kind = re < 0 ? 'a mode' : 'an unstable mode'
    return `${kind} at ${short(w)} rad/s with damping ${short(-re / w)}`
  }
  return re < 0 ? `a lag of ${short(-1 / re)} s` : `an unstable pole that doubles in ${short(Math.LN2 / re)} s`
}

/** Poles by name: 'the pole 1' or 'the modes -0.1 ± 2i and 0'. Pairs once. */
export function polesInWords(poles: readonly Complex[], dt: number | null): string {
  const shown = poles.filter(({ re, im }) => im >= -1e-12 * (1 + Math.abs(re)))
  const names = shown.map(({ re, im }) => (im > 1e-9 * (1 + Math.abs(re)) ? `${short(re)} ± ${short(im)}i` : short(tidy(re))))
  return `the ${dt === null ? '' : 'sampled '}mode${names.length > 1 ? 's' : ''} ${listed(names)}`
}

/** One after the other: 'a', 'a and b', 'a, b and c'. */
export function listed(words: readonly string[]): string {
  return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)!}` : words.join('')
}

/** Rounding about 0 is 0. */
function tidy(value: number): number {
  return Math.abs(value) < 1e-9 ? 0 : value
}

/** Three significant figures. */
export function short(value: number): string {
  return String(Number(value.toPrecision(3)))
}
