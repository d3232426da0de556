import { add, div, less, mul, select, sub } from '../../expression'
import { number } from '../../kinds'
import { defineFeedforward, forwardSlots } from './feedforward'

export const inverseDrive = defineFeedforward({
  name: 'inverseDrive',
  label: 'inverse drive',
  says: 'carries {scale} of the voltage that turns {inertia} against {damping} and {friction}',
  about:
    'Voltage = R/k (J a + b v + F sign v) + k v of a motor with constant k and resistance R, v and a of the reference at its shaft. For a drive whose machine is described without it. Common practice, no source.',
  slots: {
    ...forwardSlots,
    inertia: number({ label: 'inertia', unit: 'kg·m²', least: 0, otherwise: 0.001 }),
    damping: number({ label: 'damping', unit: 'N·m·s/rad', least: 0, otherwise: 0 }),
    friction: number({ label: 'friction', unit: 'N·m', least: 0, otherwise: 0 }),
    constant: number({ label: 'motor constant', unit: 'N·m/A', above: 0, otherwise: 0.05, note: 'V·s/rad alike' }),
    resistance: number({ label: 'resistance', unit: 'Ω', least: 0, otherwise: 1 }),
    gear: number({ label: 'gear ratio', unit: '', above: 0, otherwise: 1 }),
  },
  needs: 'derivatives',
  command: ({ absolute, isPosition }, _memory, read) => {
    const [speed, acceleration] = isPosition ? [absolute[1], absolute[2]] : [absolute[0], absolute[1]]
    const [v, a] = [mul(read('gear'), speed), mul(read('gear'), acceleration)]
    const sign = sub(select(less(0, v), 1, 0), select(less(v, 0), 1, 0))
    const torque = add(add(mul(read('inertia'), a), mul(read('damping'), v)), mul(read('friction'), sign))
    const k = read('constant')
    return { command: add(mul(div(read('resistance'), k), torque), mul(k, v)), memory: [] }
  },
})
