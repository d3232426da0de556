import { name, vector } from '../../kinds'

const components = ['x', 'y', 'z'] as const

/** A point of a body. */
export const ofBody = {
  body: name({ label: 'body', of: 'body' }),
  at: vector({ label: 'point', unit: 'm', components: [...components], note: 'from the origin of the body' }),
}

/** What something is looked at from: ground or another body, and a point of that. */
export const fromBody = {
  from: name({ label: 'seen from', of: 'body' }),
  fromAt: vector({
    label: 'counted from',
    unit: 'm',
    components: [...components],
    note: 'from the origin of what it is seen from',
  }),
}
