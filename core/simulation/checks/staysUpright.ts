import { add, asin, min, mul, sin, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { name, number } from '../../kinds'
import { alongRows } from './alongRows'
import { checkSlots, defineCheck } from './check'
import { judgeRoom, unseen } from './room'

export const staysUpright = defineCheck({
  name: 'staysUpright',
  label: 'stays upright',
  says: 'From {from}, {roll} and {pitch} lean by at most {most} together; if not, {ends}.',
  about:
    'The angle between the upward axis of the body and the vertical: acos(cos roll cos pitch), angles yaw, pitch, roll in this order. Margin: the most less that.',
  slots: {
    from: checkSlots.from,
    roll: name({ label: 'roll', of: 'signal' }),
    pitch: name({ label: 'pitch', of: 'signal' }),
    most: number({ label: 'most', unit: 'rad', above: 0, most: Math.PI }),
    ends: checkSlots.ends,
  },
  signals: ({ roll, pitch }) => [roll, pitch],
  suits: (signals) => found(signals, 'roll') !== undefined && found(signals, 'pitch') !== undefined,
  starts: ({ signals }) => ({ roll: found(signals, 'roll'), pitch: found(signals, 'pitch'), most: 0.35 }),
  judge: ({ from = 0, roll, pitch, most }, run) => {
    const [across, along] = [run.values(roll), run.values(pitch)]
    if (across === undefined) return unseen(roll, 'rad')
    if (along === undefined) return unseen(pitch, 'rad')
    const leans = alongRows('leans', [across, along], across.length, ([r, p]) => ({ value: leaning(r!, p!) }))
    return judgeRoom(run, from, 'rad', (row) => most - leans[row]!)
  },
})

function found(signals: readonly string[], angle: string): string | undefined {
  return signals.find((name) => name.endsWith(`.${angle}`))
}

/** By half angles, which keep their digits where it stands upright: sin²(t/2) = sin²(r/2) + sin²(p/2) - 2 sin²(r/2) sin²(p/2). */
function leaning(roll: Scalar, pitch: Scalar): Scalar {
  const [r, p] = [square(sin(mul(0.5, roll))), square(sin(mul(0.5, pitch)))]
  return mul(2, asin(sqrt(min(1, sub(add(r, p), mul(2, mul(r, p)))))))
}
