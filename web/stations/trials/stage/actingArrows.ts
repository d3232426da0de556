import * as THREE from 'three'
import type { Acting } from '@calm-hand/core/simulation'
import { label, movingArrow } from '../../../scene'
import type { MovingArrow, StageHandle } from '../../../scene'
import { withUnit } from '../../../units'
import type { Mover } from './movers'

/** What can be drawn of what acts. */
export const actingSorts = { drive: 'what drives give', push: 'pushes from outside', wind: 'wind' } as const
export type ActingSort = keyof typeof actingSorts

/** Arrows of what acts in a run, placed with the machine. */
export interface ActingArrows {
  readonly group: THREE.Group
  readonly place: (t: number, mover: Mover) => void
}

/** Share of the size of the machine that the largest of a unit is long. */
const longest = 0.9
/** Sizes of the machine at which an arrow of the wind ends before it. */
const apart = 1.1
/** Instants of a run at which the largest is looked for. */
const looks = 200

/** `size`: about half the machine, m; `end`: s. */
export function actingArrows(
  at: (t: number) => readonly Acting[],
  shown: ReadonlySet<ActingSort>,
  palette: StageHandle['palette'],
  size: number,
  end: number,
): ActingArrows {
  const group = new THREE.Group()
  const most = new Map<string, number>()
  for (let i = 0; i <= looks; i++)
    for (const { sort, unit, vector } of at((end * i) / looks)) {
      const key = `${sort} ${unit}`
      most.set(key, Math.max(most.get(key) ?? 0, Math.hypot(...vector)))
    }
  const drawn = new Map<string, { readonly arrow: MovingArrow; words?: THREE.Sprite; said?: string }>()
  return {
    group,
    place: (t, mover) => {
      const now = at(t).filter(({ sort }) => shown.has(sort))
      const seen = new Set<string>()
      now.forEach((one, i) => {
        const { label: name, sort, unit, vector } = one
        const length = (longest * size * Math.hypot(...vector)) / Math.max(most.get(`${sort} ${unit}`) ?? 0, 1e-9)
        const key = `${sort} ${unit} ${name} ${sort === 'drive' ? i : ''}`
        if (!(length > 1e-3 * size)) return
        seen.add(key)
        const color = sort === 'drive' ? palette.ochre : palette.plum
        let own = drawn.get(key)
        if (own === undefined) {
          own = { arrow: movingArrow(color, 0.007 * size, unit === 'N·m' ? 2 : 1) }
          drawn.set(key, own)
          group.add(own.arrow.group)
        }
        const direction = new THREE.Vector3(...vector)
        const place = one.body === undefined ? undefined : mover.bodyPlace(one.body)
        if (place !== undefined && one.axes === 'own') direction.transformDirection(place)
        else direction.normalize()
        // wind comes to the machine
        const from =
          place === undefined
            ? mover.middle().addScaledVector(direction, -length - apart * size)
            : new THREE.Vector3(...one.at).applyMatrix4(place)
        own.arrow.place(from, direction, length)
        if (sort === 'drive') return
        const said = `${name} ${withUnit(Math.hypot(...vector), unit, 2)}`
        if (own.said !== said) {
          if (own.words !== undefined) group.remove(own.words)
          own.words = label(said, palette)
          own.said = said
          group.add(own.words)
        }
        own.words!.position.copy(from).addScaledVector(direction, place === undefined ? 0 : length)
      })
      for (const [key, { arrow, words }] of drawn) {
        arrow.group.visible = seen.has(key)
        if (words !== undefined) words.visible = seen.has(key)
      }
    },
  }
}
