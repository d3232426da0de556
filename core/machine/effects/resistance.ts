import { abs, add, mul, neg } from '../../expression'
import { applied, dot, transposedRows } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, vector } from '../../kinds'
import { viscousFriction } from './sharedLayers'
import { defineEffect } from './effect'

const along = ['x', 'y', 'z']

/** What resists a body differently ahead and aside: a hull in water, runners on ice, skids. */
export const resistance = defineEffect({
  name: 'resistance',
  label: 'resistance along its own axes',
  says: 'What {body} goes on or through resists it along its own axes.',
  about:
    'force = -(linear + quadratic |v|) v along each axis of the body by itself, v the velocity of a point over ground: a hull ahead and aside, a runner that hardly slips sideways. At two points apart it resists turning too.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'where it acts', unit: 'm', components: along }),
    linear: vector({ label: 'linear resistance', unit: 'N·s/m', components: along, fill: [10, 100, 0] }),
    quadratic: vector({ label: 'quadratic resistance', unit: 'N·s²/m²', components: along }),
  },
  layers: [viscousFriction],
  contradictions: (part) =>
    (['linear', 'quadratic'] as const)
      .filter((slot) => part[slot].some((value) => value < 0))
      .map((slot) => ({
        slot,
        what: `A resistance below 0 drives the body on: ${part[slot].join(' ')}.`,
        remedy: 'Give 0 or more along each axis.',
      })),
  act: (scene, part) => {
    if (!scene.has('viscous')) return {}
    const body = part.body
    const at = scene.vector('at')
    const axes = scene.axes(body)
    const own = applied(transposedRows(axes), scene.point(body, at).velocity)
    const [linear, quadratic] = [scene.vector('linear'), scene.vector('quadratic')]
    const force = own.map((speed, i) => neg(mul(add(linear[i]!, mul(quadratic[i]!, abs(speed))), speed))) as unknown as Vector
    scene.push(body, at, applied(axes, force))
    return { dissipated: neg(dot(force, own)) }
  },
})
