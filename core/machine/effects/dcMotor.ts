import { add, clamp, div, mul, neg, square, sub } from '../../expression'
import { coordinateSlot, notNegative, positive } from './slots'
import type { EffectKind } from './effect'

/**
 * A direct-current motor behind a gear: L i' = u - R i - k N q', effort = N k i - N² b q'. The rotor's inertia, N² J at
 * the joint, is carried by the mass matrix of the joint's body where it is given there.
 * Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 2 (from memory).
 */
export const dcMotor: EffectKind = {
  name: 'dcMotor',
  label: 'direct-current motor',
  says: 'A motor of {resistance} and {constant} drives {joint} through a gear of {gear}, at most {voltage}.',
  about:
    "L i' = u - R i - k N q'; effort = N k i - N² b q'. With drive dynamics off the current follows at once: i = (u - k N q')/R. Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 2 (from memory).",
  slots: {
    joint: coordinateSlot,
    resistance: positive('resistance', 'Ω'),
    inductance: positive('inductance', 'H'),
    constant: positive('motor constant', 'N·m/A'),
    gear: positive('gear ratio', ''),
    drag: notNegative('rotor friction', 'N·m·s/rad'),
    voltage: positive('most voltage', 'V'),
  },
  states: [{ name: 'current', unit: 'A' }],
  input: { label: 'voltage', unit: 'V' },
  act: (scene, part) => {
    const { speed } = scene.coordinate(part.joint as string)
    const [r, k, n, most] = ['resistance', 'constant', 'gear', 'voltage'].map(scene.number) as [never, never, never, never]
    const u = scene.has('driveLimits') ? clamp(scene.input, neg(most), most) : scene.input
    const shaft = mul(n, speed)
    const settled = div(sub(u, mul(k, shaft)), r)
    const current = scene.has('driveDynamics') ? scene.states[0]! : settled
    const loss = mul(scene.number('drag'), shaft)
    scene.effort(part.joint as string, mul(n, sub(mul(k, current), loss)))
    const inductance = scene.number('inductance')
    const voltageLeft = sub(sub(u, mul(r, current)), mul(k, shaft))
    return {
      rates: [div(voltageLeft, inductance)],
      stored: scene.has('driveDynamics') ? mul(mul(0.5, inductance), square(current)) : 0,
      dissipated: add(mul(r, square(current)), mul(scene.number('drag'), square(shaft))),
      supplied: mul(u, current),
      signals: [
        { name: 'current', label: 'current', unit: 'A', value: current },
        { name: 'effort', label: 'effort at the joint', unit: 'N·m', value: mul(n, sub(mul(k, current), loss)) },
      ],
    }
  },
}
