import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'
import { wavy } from './water'

/** Slots that waters share. */
export const waterSlots = {
  level: number({ label: 'level', unit: 'm' }),
  density: number({ label: 'density', unit: 'kg/m³', above: 0, otherwise: 1025 }),
  towards: number({ label: 'towards, about z from x', unit: 'rad', otherwise: 0 }),
} as const

export const stillWater = defineSurrounding({
  name: 'stillWater',
  label: 'still water',
  says: 'Water of {density} stands still at {level}.',
  about: 'A level surface; what floats is carried by it.',
  slots: { level: waterSlots.level, density: waterSlots.density },
  water: ({ number: read, gravity, time }, x, y) =>
    wavy({ level: read('level'), density: read('density'), towards: 0, gravity, time }, [], x, y),
})
