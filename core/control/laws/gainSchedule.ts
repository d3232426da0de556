import { add, mul, neg } from '../../expression'
import type { Scalar } from '../../expression'
import { name, table } from '../../kinds'
import { interpolated, risingProblemsAt } from '../../machine'
import { integralSlots, nextIntegral } from './integral'
import { defineLaw } from '../law'

type Row = readonly [signal: number, onError: number, onIntegral: number, onRate: number]

export const gainSchedule = defineLaw({
  name: 'gainSchedule',
  label: 'PID on the rate, scheduled',
  says: 'PID on the rate, scheduled over {signal} by {points}',
  about:
    'command = p(s) kp error + I - d(s) kd rate; I grows by i(s) ki error dt. The factors p, i and d come from the table at the value of the signal, straight between its rows. Gains follow from the requirement with the factors at rest. Rugh & Shamma, Automatica 36 (2000).',
  slots: {
    signal: name({ label: 'scheduling signal', of: 'held' }),
    points: table({
      label: 'schedule',
      columns: [
        { label: 'signal', unit: '' },
        { label: 'factor on the error', unit: '' },
        { label: 'on its integral', unit: '' },
        { label: 'on the rate', unit: '' },
      ],
      fill: [
        [0, 1, 1, 1],
        [1, 1, 1, 1],
      ],
    }),
    ...integralSlots,
  },
  gains: ['kp', 'ki', 'kd'],
  readsRate: true,
  memory: ['integral'],
  signals: ({ signal }) => [signal],
  problems: (where, law) => risingProblemsAt(where, law.points as readonly Row[], 'points'),
  step: (inputs, [integral], { kp, ki, kd }, settings) => {
    const rows = settings.points as readonly Row[]
    const at = add(inputs.signals[0]!, inputs.rest[0]!)
    const factor = (column: 1 | 2 | 3): Scalar =>
      interpolated(
        rows.map((row) => [row[0], row[column]]),
        at,
      )
    return {
      terms: {
        proportional: mul(mul(factor(1), kp), inputs.error),
        integral: integral!,
        rate: neg(mul(mul(factor(3), kd), inputs.rate)),
      },
      memory: [nextIntegral(integral!, mul(factor(2), ki), inputs, settings)],
    }
  },
})
