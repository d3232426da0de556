import { describe, expect, it } from 'vitest'
import { multiply } from '../algebra'
import type { Matrix } from '../algebra'
import type { Part } from '../document'
import { assemble, bodyPoses, pointJacobian, numbersOf, seatPose } from '../machine'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import { linkTableMachine } from './index'
import type { LinkConvention, LinkRow } from './index'

/** Pose of the tool for values of the joints' variables. */
function tool(machine: Part, q: readonly number[]): { t: number[][]; jacobian: number[][] } {
  const { tree, seats } = assemble(machine, numbersOf(machine))
  const poses = bodyPoses(tree, q)
  const seat = seats.get('tool')!
  const { rotation, position } = seatPose(seat, poses)
  const columns = pointJacobian(tree, q, seat.body, position, poses)
  const rows = [0, 1, 2] as const
  return {
    t: [...rows.map((i) => [...(rotation[i] as readonly number[]), position[i] as number]), [0, 0, 0, 1]],
    jacobian: [
      ...rows.map((i) => columns.map(({ linear }) => linear[i] as number)),
      ...rows.map((i) => columns.map(({ angular }) => angular[i] as number)),
    ],
  }
}

const turnX = (angle: number): Matrix => [
  [1, 0, 0, 0],
  [0, Math.cos(angle), -Math.sin(angle), 0],
  [0, Math.sin(angle), Math.cos(angle), 0],
  [0, 0, 0, 1],
]
const turnZ = (angle: number): Matrix => [
  [Math.cos(angle), -Math.sin(angle), 0, 0],
  [Math.sin(angle), Math.cos(angle), 0, 0],
  [0, 0, 1, 0],
  [0, 0, 0, 1],
]
const shift = (x: number, z: number): Matrix => [
  [1, 0, 0, x],
  [0, 1, 0, 0],
  [0, 0, 1, z],
  [0, 0, 0, 1],
]
const chain = (all: readonly Matrix[]) => all.reduce((a, b) => multiply(a, b))

/** The definition of each convention, row by row, as a product of four matrices. */
function byDefinition(rows: readonly LinkRow[], convention: LinkConvention, q: readonly number[]): number[][] {
  const each = rows.map(({ a, alpha, d, theta, joint }, i) => {
    const [turned, slid] = joint === 'turning' ? [q[i]!, d] : [theta, q[i]!]
    return convention === 'standard'
      ? chain([turnZ(turned), shift(0, slid), shift(a, 0), turnX(alpha)])
      : chain([turnX(alpha), shift(a, 0), turnZ(turned), shift(0, slid)])
  })
  return chain(each) as number[][]
}

const mixed: LinkRow[] = [
  { a: 0.2, alpha: Math.PI / 2, d: 0.4, theta: 0, joint: 'turning' },
  { a: -0.1, alpha: -0.7, d: 0.3, theta: 0.6, joint: 'sliding' },
  { a: 0.35, alpha: 0.4, d: -0.2, theta: 0, joint: 'turning' },
  { a: 0, alpha: 1.1, d: 0.15, theta: -1.2, joint: 'sliding' },
  { a: 0.12, alpha: -0.3, d: 0, theta: 0, joint: 'turning' },
]

describe.each(['standard', 'modified'] as const)('a table of link parameters in %s form', (convention) => {
  const machine = expectDone(linkTableMachine(mixed, convention))

  it.each([[[0, 0, 0, 0, 0]], [[0.3, 0.2, -0.8, 0.1, 1.4]], [[-2, -0.4, 1.1, 0.7, -0.6]]])(
    'puts the tool where its definition does, at %j',
    (q) => {
      expect(tool(machine, q).t).toBeNear(byDefinition(mixed, convention, q), { absolute: 1e-12 })
    },
  )

  it('starts where the table says', () => {
    const { start } = assemble(machine, numbersOf(machine))
    expect(start).toEqual([0, 0.3, 0, 0.15, 0])
  })
})

describe('the six-axis arm of the textbook', () => {
  // J. J. Craig, Introduction to Robotics (the arm from memory); poses and Jacobians computed in the file
  interface Craig {
    readonly inputs: { modified_dh: { a_im1: number; alpha_im1: number; d: number }[]; q: number[][] }
    readonly expected: { poses: { T: number[][]; J_lin_ang: number[][]; det_J: number; singular: boolean }[] }
  }
  const { inputs, expected } = reference<Craig['inputs'], Craig['expected']>('kin-6r-craig')
  const rows = inputs.modified_dh.map(({ a_im1, alpha_im1, d }): LinkRow => ({
    a: a_im1,
    alpha: alpha_im1,
    d,
    theta: 0,
    joint: 'turning',
  }))
  const machine = expectDone(linkTableMachine(rows, 'modified'))

  it.each(inputs.q.map((q, k) => ({ q, wanted: expected.poses[k]! })))(
    'has the computed pose and Jacobian at $q',
    ({ q, wanted }) => {
      const { t, jacobian } = tool(machine, q)
      expect(t).toBeNear(wanted.T, { absolute: 1e-12 })
      expect(jacobian).toBeNear(wanted.J_lin_ang, { absolute: 1e-12 })
    },
  )
})

describe('a table that cannot be', () => {
  it('is refused with its row', () => {
    const outcome = linkTableMachine([{ ...mixed[0]!, a: NaN }], 'standard')
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: 'row 1, a' }] })
    expect(linkTableMachine([], 'standard').kind).toBe('refused')
    expect(linkTableMachine(new Array<LinkRow>(61).fill(mixed[0]!), 'modified').kind).toBe('refused')
  })
})
