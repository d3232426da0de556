import { Graph } from '../expression'
import type { Scalar } from '../expression'
import { done, findAt, partsIn, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import { isFormula, parseFormula } from '../formula'
import { wordsOf } from '../kinds'
import { designMechanism, effectParts, fullMechanism, mechanismForm, neededEfforts, shortName, machineNumbers } from '../machine'
import type { MechanismForm } from '../machine'
import { Atoms } from './atoms'
import { createReader } from './fromGraph'
import { linearForm, linearFormToLatex } from './linearForm'
import type { CoordinateAtoms, DriveLetter } from './linearForm'
import { coordinateToLatex, dotted, nameToLatex, upright } from './names'
import { equationToLatex, sumToTerms } from './print'
import { simplified } from './simplify'
import { plusSum } from './sum'
import type { Product, Sum } from './sum'

/** Moving coordinates: more than these, and equations fill pages. */
const mostCoordinates = 4
/** Products of one equation. */
const mostTerms = 120

export interface Letters {
  /** One equation a line, in LaTeX. */
  readonly lines: readonly string[]
  /** What letters mean, in LaTeX and words. */
  readonly legend: readonly { readonly latex: string; readonly words: string }[]
  /** The linear form about rest and its transfer functions, where there is one that can be read. */
  readonly linear?: { readonly lines: readonly string[]; readonly transfer: readonly string[]; readonly note: string }
}

/** What the numbers of a machine are called: parameters alone, or every number. */
export type Naming = 'parameters' | 'all'

/**
 * The equations of motion of a mechanism in letters, one a coordinate, from the same recursion that is simulated:
 * inertia, centrifugal and Coriolis terms, gravity and what acts in joints on the left, drives and other forces on the
 * right. `written` is the machine as it was written, whose formulas name the parameters; `rest` are the positions about
 * which the linear form is wanted. Kindly refused when too big.
 */
export function mechanismInLetters(machine: Part, written: Part, naming: Naming, rest?: readonly number[]): Outcome<Letters> {
  const { positions, speeds, pairs } = mechanismForm(machine, () => 1).assembly // for its names alone
  if (speeds.length > mostCoordinates || pairs.some((pair) => pair === undefined)) {
    const what = `The equations of ${speeds.length} moving coordinates would fill pages.`
    return refusedFor(
      'letters',
      what,
      `Look at a machine of up to ${mostCoordinates} coordinates, without balls and free bodies: a part of this one.`,
    )
  }
  const atoms = new Atoms()
  const graph = new Graph()
  const slots: string[] = []
  const slot = (atom: string) => {
    const known = slots.indexOf(atom)
    return graph.slot(known >= 0 ? known : slots.push(atom) - 1)
  }
  const at = positions.map(({ name, unit }) => atoms.letter(`at ${name}`, coordinateToLatex(name, unit)))
  const q = at.map(slot)
  const [v, a] = (
    [
      ['speed', 1],
      ['acc', 2],
    ] as const
  ).map(([sort, dots]) =>
    speeds.map((_, i) => {
      const own = positions[pairs.indexOf(i)]!
      return slot(atoms.letter(`${sort} ${own.name}`, dotted(coordinateToLatex(own.name, own.unit), dots)))
    }),
  ) as [Scalar[], Scalar[]]
  const legend = new Map<string, string>()
  const number = reader(machine, written, naming, atoms, slot, legend)
  const form = mechanismForm(machine, number)
  const read = createReader(atoms, (index) => slots[index]!)
  const needed = (part: Part, layers = fullMechanism): (Sum | undefined)[] =>
    neededEfforts(part, number, layers, form, { q, speeds: v, accelerations: a }).map((one) => {
      const sum = read(one)
      return sum === undefined ? undefined : simplified(sum, atoms)
    })
  const bare = needed({ ...machine, forces: {} })
  if (bare.some((one) => one === undefined || one.size > mostTerms))
    return refusedFor(
      'letters',
      'The equations are too long to be read.',
      'Give parts that matter their parameters, set what does not to 0, or look at a smaller machine.',
    )
  const { joined, others } = withForces(machine, needed, bare as Sum[])
  const isMoving = (key: string) => /^(at|speed|acc) /.test(key)
  const lines = joined.map((sum, i) => {
    return equationToLatex(sumToTerms(sum, atoms, isMoving, leadOf), rightSide(machine, form, i, others))
  })
  const linear = (about: readonly number[]) => {
    // as the design: without friction and stops, which about rest would look like brakes
    const designed = withForces(machine, (part) => needed(part, designMechanism), bare as Sum[])
    const coordinates = positions.map(({ name, unit }, i): CoordinateAtoms => ({
      at: at[i]!,
      speed: `speed ${name}`,
      acceleration: `acc ${name}`,
      latex: coordinateToLatex(name, unit),
      rest: about[i]!,
    }))
    return linearLines(machine, form, designed, coordinates, atoms)
  }
  return done({
    lines,
    ...(rest === undefined ? {} : { linear: linear(rest) }),
    legend: [
      ...positions.map(({ name, unit }) => ({ latex: coordinateToLatex(name, unit), words: shortName(name, machine) })),
      ...[...legend].filter(([latex]) => lines.some((line) => line.includes(latex))).map(([latex, words]) => ({ latex, words })),
      ...others.map((name) => ({ latex: `Q_{${upright(name)}}`, words: `what ${wordsOf(name)} does` })),
    ],
  })
}

/** The linear form in letters, or why there is none. */
function linearLines(
  machine: Part,
  form: MechanismForm,
  { joined, others }: ReturnType<typeof withForces>,
  coordinates: readonly CoordinateAtoms[],
  atoms: Atoms,
): NonNullable<Letters['linear']> {
  const chains = Object.keys(partsIn(machine.chains))
  const without = chains.length > 0 ? `chains (${chains.map(wordsOf).join(', ')})` : others.map(wordsOf).join(', ')
  if (without !== '')
    return { lines: [], transfer: [], note: `In numbers only: ${without} cannot be written out in letters of this length.` }
  const { positions, pairs } = form.assembly
  const order = pairs.map((speed) => coordinates[pairs.indexOf(speed)]!)
  const drives = effectParts(machine).flatMap(({ path, name, part }): DriveLetter[] => {
    const own = pairs[positions.findIndex((position) => position.name === part.joint)]
    return path.startsWith('drives.') && own !== undefined ? [{ latex: `\\tau_{${upright(name)}}`, coordinate: own }] : []
  })
  const { lines, transfer, left } = linearFormToLatex(linearForm(joined, order, atoms), order, drives, atoms)
  const note = left
    ? 'Transfer functions would fill the page: read them of fewer coordinates, or give what does not matter 0.'
    : ''
  return { lines, transfer, note }
}

/** Forces whose terms are short are written out; the others keep a name. */
function withForces(
  machine: Part,
  needed: (part: Part) => (Sum | undefined)[],
  bare: readonly Sum[],
): { joined: Sum[]; others: string[] } {
  const forces = Object.entries(partsIn(machine.forces))
  const others: string[] = []
  const joined = forces.reduce<Sum[]>(
    (sums, [name, part]) => {
      const own = needed({ ...machine, forces: { [name]: part } })
      const adds = own.map((one, i) => (one === undefined ? undefined : plusSum(one, bare[i]!, -1)))
      const isShort = adds.every((one) => one !== undefined && one.size <= mostForceTerms)
      if (!isShort) others.push(name)
      return isShort ? sums.map((sum, i) => plusSum(sum, adds[i]!)) : sums
    },
    [...bare],
  )
  return { joined, others }
}

const mostForceTerms = 12

/** What pushes the coordinate: its drives, chains, and forces that kept a name. */
function rightSide(machine: Part, { assembly }: MechanismForm, speed: number, others: readonly string[]): string {
  const own = assembly.positions[assembly.pairs.indexOf(speed)]?.name
  const drives = effectParts(machine)
    .filter(({ path, part }) => path.startsWith('drives.') && part.joint === own)
    .map(({ name }) => `\\tau_{${upright(name)}}`)
  const chains = Object.keys(partsIn(machine.chains)).map(
    (name) => `\\left(J_{${upright(name)}}^{\\mathsf T} \\lambda_{${upright(name)}}\\right)_{${speed + 1}}`,
  )
  const rest = others.map((name) => `Q_{${upright(name)},${speed + 1}}`)
  const words = [...drives, ...chains, ...rest].join(' + ')
  return words === '' ? '0' : words
}

/** Accelerations first, then products of speeds, then the rest. */
function leadOf({ powers }: Product): number {
  const keys = [...powers.keys()]
  if (keys.some((key) => key.startsWith('acc '))) return 0
  return keys.some((key) => key.startsWith('speed ')) ? 1 : 2
}

/** Numbers of the machine as expressions over letters: what a formula says, else a plain number or a letter of its own. */
function reader(
  machine: Part,
  written: Part,
  naming: Naming,
  atoms: Atoms,
  slot: (atom: string) => Scalar,
  legend: Map<string, string>,
): (path: string) => Scalar {
  const numbers = new Map(machineNumbers(machine).map((place) => [place.path, place]))
  return (path) => {
    const { value, words } = numbers.get(path)!
    const raw = findAt(written, path)
    if (isFormula(raw)) {
      const parsed = parseFormula(raw.trim().slice(1))
      if (parsed.kind === 'formula')
        return parsed.formula.value((name) => {
          legend.set(nameToLatex(name), name)
          return slot(atoms.letter(`parameter ${name}`, nameToLatex(name)))
        })
    }
    const named = naming === 'all' ? letterOf(path) : path === 'gravity' ? 'g' : undefined
    if (named === undefined) return value
    legend.set(named, words)
    return slot(atoms.letter(`number ${path}`, named))
  }
}

/** Masses, inertias, centres and springs as letters; lengths of a joint's place too. */
function letterOf(path: string): string | undefined {
  if (path === 'gravity') return 'g'
  const [group, name, slot, index, component] = path.split('.') as [string, string, string, string?, string?]
  const axes = ['x', 'y', 'z']
  if (group === 'forces')
    return `${slot.charAt(0)}_{${upright(`${name}${index === undefined ? '' : `,${axes[Number(index)]}`}`)}}`
  if (group !== 'bodies') return undefined
  if (slot === 'mass') return `m_{${upright(name)}}`
  if (slot === 'centre') return `c_{${upright(name)},${axes[Number(index)]}}`
  if (slot === 'inertia') return `I_{${upright(name)},${['xx', 'yy', 'zz', 'xy', 'xz', 'yz'][Number(index)]}}`
  return slot === 'joint' && index === 'at' ? `l_{${upright(name)},${axes[Number(component)]}}` : undefined
}
