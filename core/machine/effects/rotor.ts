import { abs, add, clamp, div, less, max, mul, neg, select, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { dot, scaled } from '../../algebra'
import { choice, name, number, vector } from '../../kinds'
import { groundEffect, throughFlow } from '../rotorFlow'
import { notNegative, positive } from './slots'
import { driveDynamics, driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/**
 * A rotor with fixed blades: thrust = kT w² in hover far from ground, less what the flow through it takes away, more near
 * the ground. Its own spin carries no gyroscopic moment.
 */
export const rotor = defineEffect({
  name: 'rotor',
  label: 'rotor',
  says: 'A rotor of radius {radius} on {body} gives {thrust} and {torque} of its speed, which follows what is asked in {lag}.',
  about:
    'Thrust = kT w² in hover. Flow through the disc by blade elements and momentum with even inflow, Leishman, Principles of Helicopter Aerodynamics, 2nd ed., ch. 2 and 3 (from memory); near the ground times 1/(1 - (R/4z)²), Cheeseman & Bennett, ARC R&M 3021, 1955. Reaction torque kQ w². No gyroscopic moment of its spin.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'centre of the disc', unit: 'm', components: ['x', 'y', 'z'] }),
    axis: vector({ label: 'axis of thrust', unit: '', components: ['x', 'y', 'z'], fill: [0, 0, 1] }),
    turns: choice({ label: 'turns', options: { left: 'left about its axis', right: 'right about its axis' } }),
    radius: positive('radius', 'm'),
    thrust: positive('thrust coefficient', 'N·s²/rad²'),
    torque: notNegative('torque coefficient', 'N·m·s²/rad²'),
    solidity: number({
      label: 'solidity',
      unit: '',
      above: 0,
      most: 1,
      optional: true,
      note: 'area of the blades over that of the disc; without it thrust is as in hover',
    }),
    liftSlope: number({ label: 'lift slope of the blades', unit: '1/rad', above: 0, otherwise: 5.7 }),
    lag: positive('lag', 's'),
    least: number({ label: 'least speed', unit: 'rad/s', least: 0, otherwise: 0 }),
    most: positive('most speed', 'rad/s'),
  },
  layers: [
    driveLimits,
    driveDynamics,
    {
      ...{ name: 'inflow', label: 'Rotor inflow', standIn: 'thrust as in hover, whatever the climb', inDesign: true },
      matters: ({ solidity }) => solidity !== undefined,
    },
    {
      ...{ name: 'groundEffect', label: 'Ground effect', standIn: 'rotors are far from the ground', inDesign: true },
      matters: (_part, { hasGround }) => hasGround,
    },
  ],
  states: [{ name: 'speed', unit: 'rad/s' }],
  input: { label: 'speed asked', unit: 'rad/s' },
  effort: {
    label: 'thrust',
    unit: 'N',
    // a thrust below 0 asks for the speed below 0, so that an ideal rotor may pull
    input: (thrust, slot) => {
      const speed = sqrt(div(abs(thrust), slot('thrust')))
      return select(less(thrust, 0), neg(speed), speed)
    },
    limits: (slot) => [mul(slot('thrust'), square(slot('least'))), mul(slot('thrust'), square(slot('most')))],
  },
  act: (scene, part) => {
    const body = part.body
    const at = scene.vector('at')
    const axis = scene.direction(body, 'axis')
    const { position, velocity } = scene.point(body, at)
    const asked = scene.has('driveLimits') ? clamp(scene.input, scene.number('least'), scene.number('most')) : scene.input
    const turns = scene.states[0]!
    const speed = scene.has('driveDynamics') ? turns : asked
    const density = scene.density(position[2])
    const wind = scene.wind(position)
    const climb = sub(dot(velocity, axis), dot(wind, axis))
    const radius = scene.number('radius')
    const hover = mul(scene.number('thrust'), mul(speed, abs(speed)))
    const free =
      part.solidity !== undefined && scene.has('inflow')
        ? throughFlow(
            {
              hoverThrust: scene.number('thrust'),
              density,
              radius,
              bladeLift: mul(scene.number('solidity'), scene.number('liftSlope')),
            },
            speed,
            climb,
          ).thrust
        : hover
    const height = max(mul(0.5, radius), sub(position[2], scene.ground(position[0], position[1]).height))
    const thrust = scene.has('groundEffect') ? mul(free, groundEffect(radius, height)) : free
    const reaction = mul(part.turns === 'left' ? -1 : 1, mul(scene.number('torque'), mul(speed, abs(speed))))
    const own = scene.ownDirection('axis')
    scene.pushOwn(body, at, scaled(own, thrust), scaled(own, reaction))
    return {
      rates: [div(sub(asked, turns), scene.number('lag'))],
      supplied: powerAt(thrust, dot(velocity, axis), reaction, dot(scene.turning(body), axis)),
      signals: [
        { name: 'thrust', label: 'thrust', unit: 'N', value: thrust },
        { name: 'gain', label: 'thrust over that of hover', unit: '', value: div(thrust, max(hover, leastThrust)) },
      ],
    }
  },
})

const leastThrust = 1e-9 // N: a rotor at rest has no ratio to show

/** W: what thrust and reaction do on their body. */
function powerAt(thrust: Scalar, along: Scalar, reaction: Scalar, turning: Scalar): Scalar {
  return add(mul(thrust, along), mul(reaction, turning))
}
