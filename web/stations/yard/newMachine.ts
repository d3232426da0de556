import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { done } from '@calm-hand/core/document'
import { parseUrdf, robotMachine } from '@calm-hand/core/formats'

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
  return documentOf('machine', { kind: 'mechanism', gravity: 9.80665, bodies: { body } }, 'one body on a hinge')
}

/** A robot description, standing on ground. */
export function machineFromUrdf(text: string): Outcome<Document> {
  const robot = parseUrdf(text)
  if (robot.kind === 'refused') return robot
  const links = robot.value.links.length
  return done(documentOf('robot', robotMachine(robot.value, 'fixed').machine, `${links} links, from a robot description`))
}

function documentOf(name: string, machine: Part, about: string): Document {
  return {
    format: 'calm-hand',
    version: 1,
    title: '',
    about,
    note: '',
    up: '+z',
    machines: { [name]: machine },
    estimators: {},
    loops: {},
    trials: {},
    tray: {},
  }
}

/** An address for a title: small letters, digits and dashes. */
export function addressOf(title: string): string {
  const plain = title
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  return (/^[a-z]/.test(plain) ? plain : `machine-${plain}`).slice(0, 48).replace(/-+$/, '')
}

function wordsOf(file: string): string {
  const words = file.replaceAll('-', ' ')
  return words[0]!.toUpperCase() + words.slice(1)
}
