import type { Part } from '../../document'

/** A push of a machine by its full name: `pushes.lift`. */
export function pushPart(machine: Part, push: string): Part {
  return (machine.pushes as Readonly<Record<string, Part>>)[push.replace(/^pushes\./, '')]!
}
