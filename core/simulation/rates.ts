import { done, refusedFor } from '../document'
import type { Document, Outcome } from '../document'
import type { ValuesOf } from '../kinds'
import type { AnyLayer } from '../machine'
import type { LoopDesign } from '../tuning'
import { sensorsRead } from './mechanismSensorBlocks'
import type { trial } from './trial'

/** Hz: a faster base tick than this would only record more than anyone can look at. */
const mostBaseRate = 20_000

/** Hz: laws that are not sampled act at least so often. */
const leastContinuousRate = 1000

/** Hz: slow loops are still recorded often enough to be looked at. */
const leastBaseRate = 50

/** Hz: without loops and sensors nothing says when to look but the machine: so often at least, and so often within 1/mode. */
const aloneRate = 100
const samplesPerMode = 3
/** More rows than anyone can look at. */
const mostRows = 200_000

/** The rate of the base tick: the least common multiple of all sample rates, so that every sample falls on a tick. */
export function sampleRates(
  document: Document,
  settings: ValuesOf<typeof trial>,
  loops: Readonly<Record<string, LoopDesign>>,
  layers: ReadonlySet<AnyLayer>,
  /** rad/s, of its fastest mode; s, of the whole trial. */
  fastest: () => number,
  duration: number,
): Outcome<{ base: number }> {
  const machine = document.machines[settings.machine]!
  const sensors = sensorsRead(document, settings.machine).map(({ name, part }) => [name, part] as const)
  const own = machine.sampleTime === undefined ? [] : [1 / (machine.sampleTime as number)]
  const rates = [
    ...sensors.map(([name, { rate }]) => ({ where: `machines.${settings.machine}.sensors.${name}.rate`, rate: rate })),
    ...own.map((rate) => ({ where: `machines.${settings.machine}.sampleTime`, rate: nearWhole(rate) })),
    ...Object.entries(document.estimators)
      .filter(([, part]) => part.machine === settings.machine && part.rate !== undefined)
      .map(([name, { rate }]) => ({ where: `estimators.${name}.rate`, rate: rate as number })),
    ...Object.entries(loops).map(([name, { values }]) => ({ where: `loops.${name}.rate`, rate: values.rate })),
  ]
  for (const { where, rate } of rates) {
    if (!Number.isInteger(rate))
      return refusedFor(
        where,
        `The sample rate is ${rate} Hz; rates are whole numbers of samples a second.`,
        `Give ${Math.max(1, Math.round(rate))} Hz.`,
      )
  }
  const common = rates.reduce((all, { rate }) => (all / greatestDivisor(all, rate)) * rate, 1)
  // with sampling off, laws act all the time: the base tick is then a whole part of the sampled one
  const alone = rates.length > 0 ? leastBaseRate : unaskedRate(fastest(), duration)
  const finest = layers.has('sampling') ? alone : Math.max(leastContinuousRate, 1 / settings.step)
  const base = common * Math.max(1, Math.round(finest / common))
  if (base > mostBaseRate) {
    const list = rates.map(({ rate }) => rate).join(', ')
    return refusedFor(
      rates.at(-1)!.where,
      `Sample rates of ${list} Hz share only ticks of ${base} Hz, above ${mostBaseRate} Hz.`,
      'Choose rates that divide one another, for example 200, 100 and 50 Hz.',
    )
  }
  return done({ base })
}

function unaskedRate(fastest: number, duration: number): number {
  const wanted = Math.min(leastContinuousRate, Math.max(aloneRate, samplesPerMode * fastest))
  return Math.max(leastBaseRate, Math.min(wanted, mostRows / duration))
}

/** A sample time is typed as a decimal: 1/0.1 is meant to be 10. */
function nearWhole(rate: number): number {
  return Math.abs(rate - Math.round(rate)) < 1e-9 * rate ? Math.round(rate) : rate
}

function greatestDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestDivisor(b, a % b)
}
