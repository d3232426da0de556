import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { plainLetters } from '@calm-hand/core/kinds'
import { done } from '@calm-hand/core/document'
import { linkTableMachine, parseEquations, parseLinkTable, parseMatrices } from '@calm-hand/core/formats'
import { machineDocument } from '../../state/machineDocument'

/** Parametric documents to start from, shipped with the interface and loaded when they are wanted. */
const starterFiles = import.meta.glob<Document>('../../../starters/*.json', { import: 'default' })

export interface Starter {
  readonly name: string
  readonly load: () => Promise<Document>
}

export const starters: readonly Starter[] = Object.entries(starterFiles).map(([path, load]) => ({
  name: wordsOf(/([^/]+)\.json$/.exec(path)![1]!),
  load,
}))

/** One body on a hinge: the least that has no problems. */
export function plainMachine(): Document {
  const joint: Part = { kind: 'turning', on: 'ground', at: [0, 0, 1], turned: [0, 0, 0], axis: [0, 1, 0], start: 0 }
  const body: Part = {
    kind: 'linkedBody',
    mass: 1,
    centre: [0, 0, -0.25],
    inertia: [0.02, 0.02, 0.001, 0, 0, 0],
    joint,
    shapes: { shape1: { kind: 'box', at: [0, 0, -0.25], turned: [0, 0, 0], size: [0.06, 0.06, 0.5] } },
  }
  return machineDocument('machine', { kind: 'mechanism', gravity: 9.80665, bodies: { body } }, 'one body on a hinge')
}

/** Machines that are written down: what to call it, how to begin, and the document that the text makes. */
export interface Writing {
  readonly label: string
  readonly example: string
  readonly help: string
  readonly document: (text: string) => Outcome<Document>
}

export const writings: readonly Writing[] = [
  {
    label: 'Equations of motion',
    help: "One a line: name' = rate of a state, name(0) = its start, name = a number or an output. Names left over are inputs. Units in brackets.",
    example:
      "# a trolley on a spring\nspeed' = (push - spring * place - drag * speed) / mass [m/s]\nplace' = speed [m]\nplace(0) = 0.2\nmass = 12 [kg]\nspring = 300 [N/m]\ndrag = 4 [N·s/m]\n",
    document: (text) => {
      const read = parseEquations(text)
      if (read.kind === 'refused') return read
      return done({ ...machineDocument('machine', read.value.machine, 'equations of motion'), parameters: read.value.parameters })
    },
  },
  {
    label: 'Matrices',
    help: 'A, B and if wanted C, D with their rows under them, names and units before; or JSON with a, b, c, d. A sample time makes it a sampled model.',
    example: 'states: sway [m/s], yawRate [rad/s]\ninputs: rudder [rad]\nA\n-0.62, -2.9\n-0.11, -1.05\nB\n-0.95\n0.86\n',
    document: (text) => {
      const read = parseMatrices(text)
      return read.kind === 'refused' ? read : done(machineDocument('machine', read.value, 'a linear model'))
    },
  },
  ...(['standard', 'modified'] as const).map((convention) => ({
    label: `Link parameters, ${convention}`,
    help: `A row a joint: turning or sliding, then a (m), alpha (degrees), d (m), theta (degrees), ${
      convention === 'standard'
        ? 'in the order theta, d, a, alpha after Denavit and Hartenberg'
        : 'with a and alpha of the link before, the modified form'
    }. Each link weighs 1 kg until you say otherwise.`,
    example: 'joint a alpha d theta\nturning 0 90 0.4 0\nturning 0.35 0 0 30\nturning 0.3 0 0 -60\n',
    document: (text: string) => {
      const rows = parseLinkTable(text)
      if (rows.kind === 'refused') return rows
      const machine = linkTableMachine(rows.value, convention)
      return machine.kind === 'refused'
        ? machine
        : done(machineDocument('arm', machine.value, `${rows.value.length} links, from link parameters`))
    },
  })),
]

/** An address for a title: small letters, digits and dashes. */
export function addressOf(title: string): string {
  const plain = plainLetters(title)
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  return (/^[a-z]/.test(plain) ? plain : `machine-${plain}`).slice(0, 48).replace(/-+$/, '')
}

function wordsOf(file: string): string {
  const words = file.replaceAll('-', ' ')
  return words[0]!.toUpperCase() + words.slice(1)
}
