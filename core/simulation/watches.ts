import { choice, name, number, parts } from '../kinds'
import type { Kind } from '../kinds'
import { partsIn } from '../document'
import type { Part } from '../document'

/** Another signal beside the one that is watched. */
export const watchedBeside = {
  name: 'watchedBeside',
  says: 'and {signal}',
  about: 'Is drawn with the signal that is watched: on its axis where the unit is the same, else below on one of its own.',
  slots: { signal: name({ label: 'signal', of: 'signal' }) },
} as const satisfies Kind

/** The part of a run that a watch is about: all of it unless said. */
const window = {
  from: number({ label: 'from', unit: 's', least: 0, most: 1e5, optional: true }),
  to: number({ label: 'to', unit: 's', above: 0, most: 1e5, optional: true }),
} as const

/** Signals that are looked at over time with every run of a trial. */
export const watched = {
  name: 'watched',
  says: 'Watch {signal} from {from} to {to}.',
  about: 'Signals of the run by the names of their columns, such as `loops.height.error`; it changes nothing.',
  slots: {
    signal: name({ label: 'signal', of: 'signal' }),
    beside: parts({ label: 'with', kinds: [watchedBeside], optional: true }),
    ...window,
  },
} as const satisfies Kind

/** One signal over another: a way over the ground, a phase plane, a tip in a plane beside what was asked of it. */
export const watchedPath = {
  name: 'watchedPath',
  says: 'Watch {up} over {across} from {from} to {to}.',
  about:
    'Draws one signal over another, such as a rate over its angle, and beside it a second pair, such as what was asked of both; it changes nothing.',
  slots: {
    across: name({ label: 'across', of: 'signal' }),
    up: name({ label: 'up', of: 'signal' }),
    askedAcross: name({ label: 'across, of the second', of: 'signal', optional: true }),
    askedUp: name({ label: 'up, of the second', of: 'signal', optional: true }),
    ...window,
  },
} as const satisfies Kind

/** A chart for print: what is on it, how large, and how its numbers are written. */
export const chartForPrint = {
  name: 'chartForPrint',
  says: 'Print {signal} from {from} to {to}: {traces}, {width} wide and {height} high, {resolution} dots to the inch, with a decimal {decimal}.',
  about: 'A chart of the run for a page, kept with the trial; it changes no run.',
  slots: {
    signal: name({ label: 'signal', of: 'signal' }),
    beside: parts({ label: 'with', kinds: [watchedBeside], optional: true }),
    ...window,
    traces: choice({
      label: 'traces',
      options: { all: 'the run, its prediction and pinned runs', predicted: 'the run and its prediction', run: 'the run alone' },
      otherwise: 'all',
    }),
    width: number({ label: 'width', unit: 'm', least: 0.03, most: 1, otherwise: 0.16 }),
    height: number({ label: 'height', unit: 'm', least: 0.02, most: 1, otherwise: 0.08 }),
    resolution: number({ label: 'resolution', unit: '', least: 72, most: 1200, whole: true, otherwise: 300 }),
    decimal: choice({ label: 'decimal sign', options: { point: 'point', comma: 'comma' }, otherwise: 'point' }),
  },
} as const satisfies Kind

export const watches = [watched, watchedPath] as const

/** The signals that a watch of a trial names, in its order. */
export function watchedSignals(watch: Part): readonly string[] {
  const said =
    watch.kind === watchedPath.name
      ? [watch.up, watch.across, watch.askedUp, watch.askedAcross]
      : [watch.signal, ...Object.values(partsIn(watch.beside)).map(({ signal }) => signal)]
  return said.filter((one): one is string => typeof one === 'string')
}
