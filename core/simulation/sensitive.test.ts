// Slopes of whole runs, against closed forms and against differences of runs (which core itself never takes).
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { demo } from '../tests/demo'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { compile, start, startSensitive } from './index'
import type { Program } from './index'

const choices = { trial: '', layers: [], seed: 3 }

function slopesOf(program: Program, path: string) {
  const made = startSensitive(program, new Set([path])).run(choices, [new Map([[path, 1]])])
  return { record: made.record, columns: made.slopes[0]! }
}

/** By how much differences of runs and slopes differ at most, in parts of the largest slope, over the signals of the machine. */
function worst(program: Program, path: string, share: number): number {
  const { columns } = slopesOf(program, path)
  const { value } = program.parameters.find((one) => one.path === path)!
  const by = share * Math.abs(value)
  const plain = start(program)
  const [up, down] = [value + by, value - by].map((other) => plain.run({ ...choices, values: { [path]: other } }))
  return Math.max(
    ...columns.map(({ values }, c) => {
      const [above, below] = [up!.columns[c]!.values, down!.columns[c]!.values]
      const [size, off] = values.reduce(
        ([most, far], slope, k) => [
          Math.max(most, Math.abs(slope)),
          Math.max(far, Math.abs((above[k]! - below[k]!) / (2 * by) - slope)),
        ],
        [0, 0],
      )
      return size * Math.abs(value) < 1e-5 ? 0 : off / size
    }),
  )
}

const sled = mechanismPart(
  { sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 0 })) },
  { gravity: 0, forces: { spring: { kind: 'jointSpring', joint: 'sled.travel', stiffness: 50, damping: 0, rest: 0 } } },
)
const swinging = (method: string): Document =>
  expectDone(
    checkDocument(
      oneMachine(
        sled,
        {},
        {
          ...{ after: 2, step: 0.001, method, realism: realismWith([]) },
          starts: { s: { kind: 'startNumber', state: 'sled.travel', value: 0.1 } },
        },
      ),
    ),
  ).resolved

describe('the slopes of a run', () => {
  it.each(['fixed', 'implicit'])('are those of a spring and a mass, by hand, with %s steps', (method) => {
    const program = expectDone(compile(swinging(method), 'run', { only: new Set(['m.sled.travel']) }))
    const path = 'true.machines.m.forces.spring.stiffness'
    const { record, columns } = slopesOf(program, path)
    // x = x0 cos(w t), dx/dk = -x0 t sin(w t) / (2 m w)
    const w = Math.sqrt(50 / 2)
    record.time.forEach((t, k) => {
      expect(columns[0]!.values[k]!).toBeNear((-0.1 * t * Math.sin(w * t)) / (2 * 2 * w), { absolute: 2e-6 })
    })
  })

  it('leave the run itself as it is, to the last bit', () => {
    const program = expectDone(compile(demo('lamplighter'), 'galleryRise'))
    const plain = start(program).run(choices)
    const { record } = slopesOf(program, 'true.machines.lamplighter.bodies.hull.mass')
    expect(record.columns.map(({ values }) => values)).toEqual(plain.columns.map(({ values }) => values))
  })

  it.each([
    ['lamplighter', 'galleryRise', 'bodies.hull.mass'],
    ['lamplighter', 'galleryRise', 'drives.rotor2.lag'],
    ['lamplighter', 'galleryRise', 'forces.drag.linear'],
    ['sprung-cabin', 'overTheStep', 'bodies.cabin.mass'],
    ['pilot-cutter', 'newCourse', undefined],
  ] as const)('agree with differences of runs: %s, %s, %s', (file, trial, number) => {
    const document = demo(file)
    const { machine } = document.trials[trial]!
    const program = expectDone(compile(document, trial))
    const prefix = `true.machines.${machine}.`
    const path =
      number === undefined
        ? program.parameters.find((one) => one.path.startsWith(prefix) && one.value !== 0)!.path
        : `${prefix}${number}`
    expect(worst(program, path, 1e-5)).toBeLessThan(2e-4)
  })

  it('hold where chains close and friction is stiff, with implicit steps', () => {
    const given = demo('boarding-ramp')
    const trials = { ...given.trials, handButton: { ...given.trials.handButton!, method: 'implicit', after: 0.5, cues: {} } }
    const program = expectDone(
      compile({ ...given, trials } as Document, 'handButton', {
        only: new Set(['ramp.innerLeaf.angle', 'ramp.outerLeaf.angle']),
      }),
    )
    expect(worst(program, 'true.machines.ramp.bodies.foot.mass', 1e-3)).toBeLessThan(0.02)
  })
})
