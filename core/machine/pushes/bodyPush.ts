import { choice, name, number, vector } from '../../kinds'
import { definePush } from './push'

/** A wanted force or torque on a body, whatever gives it. */
export const bodyPush = definePush({
  name: 'bodyPush',
  label: 'on a body',
  says: 'A {sort} on {body} at {at} along {axis}.',
  about:
    'What a force or torque in axes of the body would do to it. Drives give it where they accelerate the body as that would, along all pushes of the body that are given together.',
  unit: ({ sort }) => (sort === 'torque' ? 'N·m' : 'N'),
  slots: {
    body: name({ label: 'body', of: 'body' }),
    sort: choice({ label: 'sort', options: { force: 'force', torque: 'torque' } }),
    at: vector({ label: 'where it acts', unit: 'm', components: ['x', 'y', 'z'], note: 'of a torque without meaning' }),
    axis: vector({ label: 'axis', unit: '', components: ['x', 'y', 'z'], fill: [0, 0, 1] }),
    lever: number({
      label: 'lever',
      unit: 'm',
      above: 0,
      otherwise: 1,
      note: 'measures a torque against forces where drives cannot give all that is asked',
    }),
  },
})
