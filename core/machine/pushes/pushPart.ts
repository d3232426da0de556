import { partsIn } from '../../document'
import type { Part } from '../../document'

/** A push of a machine by its full name: `pushes.lift`. */
export function pushPart(machine: Part, push: string): Part {
  return partsIn(machine.pushes)[push.replace(/^pushes\./, '')]!
}
