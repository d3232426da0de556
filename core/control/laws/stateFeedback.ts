import { mul, neg, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { choice, name, parts } from '../../kinds'
import type { Kind, PartOf } from '../../kinds'
import { integralSlots, nextIntegral } from './integral'
import { defineLaw } from '../law'

/** A signal that is fed back beside what is held. */
export const fedBack = {
  name: 'fedBack',
  says: '{signal}',
  about: 'A signal that the law feeds back, counted from where it rests.',
  slots: { signal: name({ label: 'signal', of: 'held' }) },
} as const satisfies Kind

const signalsOf = ({ states }: { readonly states: Readonly<Record<string, PartOf<typeof fedBack>>> }) =>
  Object.values(states).map(({ signal }) => signal)

export const stateFeedback = defineLaw({
  name: 'stateFeedback',
  label: 'state feedback',
  says: 'state feedback, {integral}',
  about:
    'command = kp error - Σ k (signal - its share of the reference), each from where it rests, and the integral of the error where asked. Gains by weights, by pole locations or as typed. Franklin, Powell & Workman, Digital Control of Dynamic Systems, 3rd ed., ch. 8 (from memory).',
  slots: {
    states: parts({ label: 'signals', kinds: [fedBack] }),
    integral: choice({
      label: 'integral',
      options: { with: 'with the integral of the error', without: 'without integral' },
      otherwise: 'without',
    }),
    ...integralSlots,
  },
  gains: (settings) => ['kp', ...(settings.integral === 'with' ? ['ki'] : []), ...signalsOf(settings)],
  readsRate: false,
  memory: ({ integral }) => (integral === 'with' ? ['integral'] : []),
  signals: signalsOf,
  problems: (where, law, known) =>
    Object.entries(law.states).flatMap(([key, { signal }], i, all) =>
      all.findIndex(([, other]) => other.signal === signal) < i && known.includes(signal)
        ? [
            {
              where: `${where}.states.${key}.signal`,
              what: `${signal} is fed back twice.`,
              remedy: 'Leave one of them out.',
            },
          ]
        : [],
    ),
  step: (inputs, [integral], gains, settings) => {
    const fed = signalsOf(settings).map((signal, i): [string, Scalar] => {
      const away = sub(inputs.signals[i]!, mul(inputs.follow[i]!, inputs.reference))
      return [signal, neg(mul(gains[signal] ?? 0, away))]
    })
    return {
      terms: {
        proportional: mul(gains.kp, inputs.error),
        ...(integral === undefined ? {} : { integral }),
        ...Object.fromEntries(fed),
      },
      memory: integral === undefined ? [] : [nextIntegral(integral, gains.ki, inputs, settings)],
    }
  },
})
