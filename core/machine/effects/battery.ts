import { add, clamp, div, mul, square, sub } from '../../expression'
import { number } from '../../kinds'
import { notNegative, positive } from './slots'
import { defineEffect } from './effect'

/**
 * A battery behind its resistance, with the capacitance of the wires it feeds: C V' = (E - V)/R - drawn, E falling
 * straight from full to empty with the charge taken (common practice, no source). Drives name it to draw from it.
 */
export const battery = defineEffect({
  name: 'battery',
  label: 'battery',
  says: 'A battery of {full} full and {empty} empty, with {resistance} inside, holds {charge}.',
  about:
    "C V' = (E - V)/R - current drawn; E falls straight from full to empty with the charge taken. With that layer off it gives its full voltage (common practice, no source).",
  slots: {
    full: positive('voltage when full', 'V'),
    empty: notNegative('voltage when empty', 'V'),
    resistance: positive('inner resistance', 'Ω'),
    capacitance: positive('capacitance of what it feeds', 'F'),
    charge: positive('charge', 'C'),
    taken: number({ label: 'charge taken at the start', unit: 'C', least: 0, otherwise: 0 }),
  },
  layers: [{ name: 'battery', label: 'Battery', standIn: 'its full voltage never sags', inDesign: false }],
  states: [
    { name: 'voltage', unit: 'V', start: 'full' },
    { name: 'taken', unit: 'C', start: 'taken' },
  ],
  voltage: ({ number: slot, states, has }) => (has('battery') ? states[0]! : slot('full')),
  act: (scene) => {
    const [full, empty, resistance] = ['full', 'empty', 'resistance'].map(scene.number) as [never, never, never]
    const [voltage, taken] = scene.states as [never, never]
    const left = sub(1, clamp(div(taken, scene.number('charge')), 0, 1))
    const open = add(empty, mul(left, sub(full, empty)))
    const current = div(sub(open, voltage), resistance)
    const capacitance = scene.number('capacitance')
    const signals = [
      { name: 'drawn', label: 'current drawn', unit: 'A', value: scene.drawn },
      { name: 'left', label: 'charge left', unit: '', value: left },
    ]
    if (!scene.has('battery'))
      return {
        rates: [div(sub(full, voltage), mul(resistance, capacitance)), scene.drawn],
        supplied: mul(full, scene.drawn),
        signals,
      }
    return {
      rates: [div(sub(current, scene.drawn), capacitance), current],
      stored: mul(mul(0.5, capacitance), square(voltage)),
      dissipated: mul(resistance, square(current)),
      supplied: mul(open, current),
      signals,
    }
  },
})
