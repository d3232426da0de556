import { number } from '../../kinds'
import { defineFilter, ownFrequency } from './filter'

/** (s² + 2 ζ d w s + w²)/(s² + 2 ζ w s + w²): at w only the share d is left. */
export const notch = defineFilter({
  name: 'notch',
  label: 'notch',
  says: 'leave {depth} of what swings at {frequency}, as wide as damping {width}',
  about:
    '(s² + 2 ζ d w s + w²)/(s² + 2 ζ w s + w²), for a mode that feedback must not excite. Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 6 (from memory).',
  slots: {
    frequency: ownFrequency.slot,
    width: number({ label: 'width, as a damping ratio', unit: '', above: 0, most: 2 }),
    depth: number({ label: 'share left', unit: '', least: 0, most: 1 }),
  },
  transfer: ({ frequency, width, depth }) => {
    const [w, zeta, left] = [frequency, width, depth]
    return { num: [1, 2 * zeta * left * w, w * w], den: [1, 2 * zeta * w, w * w] }
  },
  centre: ownFrequency.centre,
})
