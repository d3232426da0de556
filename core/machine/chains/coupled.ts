import { mul, neg, sub } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot } from '../effects/slots'
import { defineChain } from './chain'

/** Two coordinates that follow one another: a gear, a belt, or a joint that mimics another. */
export const coupled = defineChain({
  name: 'coupled',
  label: 'follows',
  says: '{joint} follows {source} {ratio} times, plus {offset}.',
  about: 'One equation: position = ratio times the position of the other + offset.',
  slots: {
    joint: coordinateSlot,
    source: { ...coordinateSlot, label: 'joint followed' },
    ratio: number({ label: 'ratio', unit: '' }),
    offset: number({ label: 'offset', unit: '' }),
  },
  rows: (scene, part) => {
    const [own, other] = [scene.coordinate(part.joint), scene.coordinate(part.source)]
    const ratio = scene.number('ratio')
    return [
      {
        gap: sub(sub(own.position, mul(ratio, other.position)), scene.number('offset')),
        rate: sub(own.speed, mul(ratio, other.speed)),
        jacobian: Array.from({ length: scene.speeds }, (_, i) => (i === own.index ? 1 : i === other.index ? neg(ratio) : 0)),
        bias: 0,
        unit: '',
        acts: [],
      },
    ]
  },
})
