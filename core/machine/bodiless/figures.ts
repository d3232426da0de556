import { choice, name, number } from '../../kinds'
import type { Kind } from '../../kinds'

const follows = (label: string) => name({ label, of: 'signal', optional: true })

/** A simple figure in 3D that shows where a machine without bodies is. */
export const figure = {
  name: 'figure',
  says: 'It is drawn as {shape}, {size} long.',
  about: 'A figure whose place (m) and turns (rad, roll, pitch, yaw in this order about its own axes) follow states or outputs.',
  slots: {
    shape: choice({
      label: 'shape',
      options: { block: 'a block', boat: 'a boat', wing: 'a wing with a tail', cart: 'a cart', disc: 'a disc' },
    }),
    size: number({ label: 'length', unit: 'm', above: 0 }),
    x: follows('place along x'),
    y: follows('place along y'),
    z: follows('place along z'),
    roll: follows('roll'),
    pitch: follows('pitch'),
    yaw: follows('yaw'),
  },
} as const satisfies Kind

/** Slots of a figure that name a signal. */
export const followed = ['x', 'y', 'z', 'roll', 'pitch', 'yaw'] as const
