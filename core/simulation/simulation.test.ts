import { describe, expect, it } from 'vitest'
import { printC } from '../expression'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { packRecord, recordToCsv, unpackRecord } from '../formats'
import { checkDocument } from '../check'
import { layersOfMachine, trialLayers } from '../machine'
import type { AnyLayer } from '../machine'
import { runC } from '../tests/compileC'
import { demo, lamplighter, writtenLamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, findColumn, predictTrial, setFineness, runHash, start, trialFigures } from './index'
import type { CompileChoices, Record } from './index'

function fly(document: Document, choices: CompileChoices = {}, values?: { [path: string]: number }): Record {
  const program = expectDone(compile(document, 'galleryRise', choices))
  return start(program).run({ trial: 'galleryRise', layers: [], seed: 1, ...(values === undefined ? {} : { values }) })
}

const column = (record: Record, name: string) => findColumn(record, name)!
const height = (record: Record) => column(record, 'lamplighter.readings.place.height')

/**
 * What the linear prediction leaves of a rise of 2.5 m: beside the ground rotors give W / (1 - (R/4z)²), which is a spring about
 * hover (Cheeseman & Bennett, 1955), and a law without an integral stretches it.
 */
const groundPulls = (document: Document) => {
  const [weight, radius, above] = [3.4 * 9.80665, 0.14, 0.6 + 0.045]
  const share = (radius / 4 / above) ** 2
  const spring = (weight * 2 * share) / above / (1 - share) // N/m
  const { kp } = expectDone(compile(document, 'galleryRise')).loops.height!.gains
  // what is asked of rotors is what they give in free air: here it is a little more
  return (-2.5 * spring) / (kp / (1 - share) + spring)
}

describe('Gallery rise', () => {
  const document = lamplighter()
  const record = fly(document)
  it('lasts until 10 s after the last cue and reaches the gallery', () => {
    expect(record.ending).toEqual({ kind: 'finished' })
    expect(record.time.at(-1)).toBeNear(11, { absolute: 1e-9 })
    const { simulated, predicted } = trialFigures(document, 'galleryRise', record).height!
    expect(simulated!.steadyError).toBeNear(0, { absolute: 0.02 })
    expect(predicted!.steadyError).toBeNear(groundPulls(document), { relative: 1e-3 })
    expect(simulated!.rise!).toBeGreaterThan(predicted!.rise!) // the rotors' limit costs time
  })
  it('gives the same bits again, and others with another seed', () => {
    expect([...height(fly(document))]).toEqual([...height(record)])
    expect([...height(fly(document, { seed: 5 }))]).not.toEqual([...height(record)])
  })
  it('gives the same bits as its program in C', () => {
    const program = expectDone(compile(document, 'galleryRise'))
    const { slots, module } = program
    const ticks = 300 // 1.5 s: past the cue
    const rows = ticks * program.columns.length
    const inputs = new Float64Array(module.slots + rows)
    for (const { slot, value } of program.parameters) inputs[slot] = value
    inputs[slots.rowPointer] = module.slots
    inputs[slots.stopTick] = ticks
    setFineness(inputs, slots.steps, 'asked', program.tick)
    const after = runC(
      printC(program.code, module.slots - program.code.slots + rows),
      inputs,
      ['prepare', 'run'],
      module.slots + rows,
    )
    const c = program.columns.findIndex(({ name }) => name === 'lamplighter.readings.place.height')
    const heights = Array.from({ length: ticks }, (_, k) => after[module.slots + k * program.columns.length + c])
    expect(heights).toEqual([...height(record).subarray(0, ticks)])
  })
  it('publishes terms that add up to the command', () => {
    const command = column(record, 'loops.height.command')
    const terms = ['proportional', 'rate', 'feedforward'].map((term) => column(record, `loops.height.${term}`))
    const sums = command.map((_, k) => terms.reduce((total, term) => total + term[k]!, 0))
    expect(sums).toBeNear([...command], { relative: 1e-14 })
  })
  it('measures at 50 Hz with the noise of the sensor', () => {
    const measured = column(record, 'lamplighter.sensors.sounder.measured')
    const range = column(record, 'lamplighter.sensors.sounder')
    const late = [...record.time.keys()].filter((k) => record.time[k]! > 5 && k % 4 === 0)
    const errors = late.map((k) => measured[k]! - range[k]!)
    const deviation = Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)
    expect(deviation).toBeNear(0.012, { relative: 0.2 })
  })
  it('is estimated better than it is measured', () => {
    const rms = (truth: string, end: string) => {
      const exact = column(record, truth)
      return Math.sqrt(column(record, `${truth}${end}`).reduce((sum, value, k) => sum + (value - exact[k]!) ** 2, 0))
    }
    const estimate = rms('lamplighter.readings.place.height', '.estimate')
    expect(estimate).toBeLessThan(0.6 * rms('lamplighter.sensors.sounder', '.measured'))
  })
})

const lamps = lamplighter().machines.lamplighter!
const full = new Set<AnyLayer>(['sampling', 'estimator', ...layersOfMachine(lamps).map(({ name }) => name)])
const design = new Set(trialLayers.filter(({ inDesign }) => inDesign).map(({ name }) => name))

describe('realism', () => {
  it('brings the run to the prediction when only the design layers are on', () => {
    const small = replaceAt<Document>(lamplighter(), 'trials.galleryRise.cues.rise.by', 0.05)
    const record = fly(small, { layers: design })
    const prediction = predictTrial(small, 'galleryRise', 'height')!
    // a step of 5 cm keeps the rotors near hover, where their square law is nearly a line
    expect([...height(record)]).toBeNear([...prediction.held], { relative: 0.01 })
  })
  it.each([...full].filter((layer) => layer !== 'gusts'))('changes the run when %s goes off', (layer: AnyLayer) => {
    const layers = new Set([...full].filter((one) => one !== layer))
    const [whole, without] = [fly(lamplighter(), { layers: full }), fly(lamplighter(), { layers })]
    expect(without.ending.kind).toBe('finished')
    expect([...height(without)].slice(0, 2000)).not.toEqual([...height(whole)].slice(0, 2000))
  })
})

describe('integration', () => {
  it('by adaptive steps agrees with fixed ones to the error of the latter', () => {
    const quiet = new Set([...full].filter((layer) => layer !== 'sensorErrors'))
    const adaptive = replaceAt<Document>(lamplighter(), 'trials.galleryRise.method', 'adaptive')
    expect([...height(fly(adaptive, { layers: quiet }))]).toBeNear([...height(fly(lamplighter(), { layers: quiet }))], {
      relative: 1e-6,
    })
  })
  it('goes a tick a step where everything is slow and nothing sudden, as of the lifter, not of what has friction', () => {
    expect(expectDone(compile(lamplighter(), 'galleryRise')).method).toBe('fixed')
    const { resolved } = expectDone(checkDocument(demo('derrick')))
    expect(expectDone(compile(resolved, 'hurried')).method).toBe('adaptive')
  })
})

describe('trial-only changes', () => {
  const changed = replaceAt<Document>(writtenLamplighter(), 'trials.galleryRise.overrides', {
    more: { kind: 'override', parameter: 'parameters.load', how: 'set', amount: 0.15 },
    weaker: { kind: 'override', parameter: 'parameters.thrustCoefficient', how: 'times', amount: 0.88 },
  })
  const { resolved: heavier } = expectDone(checkDocument(changed))
  it('leave the steady error that a too small feedforward must leave', () => {
    const record = fly(heavier)
    const { simulated, predicted } = trialFigures(heavier, 'galleryRise', record).height!
    const { kp } = expectDone(compile(heavier, 'galleryRise')).loops.height!.gains
    const weight = 3.4 * 9.80665
    // PD balances where kp times the error makes up for what is missing: by hand
    expect(simulated!.steadyError).toBeNear(-(((1.15 / 0.88) * weight - weight) / kp), { relative: 0.03 })
    expect(predicted!.steadyError).toBeNear(groundPulls(heavier), { relative: 1e-3 }) // the model does not know
  })
  it('are the same run as setting the true numbers in memory', () => {
    const { weaker } = changed.trials.galleryRise!.overrides as unknown as { readonly weaker: Part }
    const { resolved: weak } = expectDone(checkDocument(replaceAt(changed, 'trials.galleryRise.overrides', { weaker })))
    const thrusts = [1, 2, 3, 4, 5, 6].map((rotor) => [`true.machines.lamplighter.drives.rotor${rotor}.thrust`, 1.2e-5 * 0.88])
    expect([...height(fly(lamplighter(), {}, Object.fromEntries(thrusts) as { [path: string]: number }))]).toEqual([
      ...height(fly(weak)),
    ])
  })
})

describe('a run that diverges', () => {
  const wrong = replaceAt<Document>(lamplighter(), 'loops.height.tuning', { kind: 'typedGains', kp: -400, kd: -40 })
  const record = fly(wrong, { layers: new Set(['sampling', 'driveDynamics']) })
  it('stops, says when and which state, and keeps its record', () => {
    expect(record.ending).toMatchObject({ kind: 'diverged' })
    if (record.ending.kind !== 'diverged') return
    expect(record.ending.at).toBeGreaterThan(0)
    expect(record.ending.at).toBeLessThan(11)
    expect(record.ending.state).not.toBe('')
    expect(record.time.length).toBeGreaterThan(10)
  })
})

describe('the hash of a run', () => {
  const document = lamplighter()
  const hash = (one: Document) => runHash(one, 'galleryRise')
  it('changes with what changes the run, and not with titles', () => {
    expect(hash(replaceAt<Document>(document, 'note', 'Other words'))).toBe(hash(document))
    expect(hash(replaceAt<Document>(document, 'trials.galleryRise.title', 'Other'))).toBe(hash(document))
    expect(hash(replaceAt<Document>(document, 'machines.lamplighter.bodies.hull.mass', 1.7))).not.toBe(hash(document))
    expect(hash(replaceAt<Document>(document, 'trials.galleryRise.seed', 3))).not.toBe(hash(document))
  })
  it('is the one of the record', () => {
    expect(fly(document).hash).toBe(hash(document))
  })
})

describe('formats', () => {
  const record = fly(lamplighter())
  it('write angles in degrees where asked, and say so', () => {
    const [radians, degrees] = [recordToCsv(record), recordToCsv(record, 'degrees')].map((text) => {
      const [header, ...lines] = text.split('\r\n').map((line) => line.split(','))
      const at = (name: string) => header!.findIndex((one) => one.startsWith(`${name} `))
      return { header: header!, at, line: lines[900]! }
    })
    const at = radians!.at('lamplighter.readings.attitude.pitch')
    expect([radians!.header[at], degrees!.header[at]]).toEqual([
      'lamplighter.readings.attitude.pitch [rad]',
      'lamplighter.readings.attitude.pitch [°]',
    ])
    expect(degrees!.header[radians!.at('lamplighter.readings.attitude.pitchRate')]).toBe(
      'lamplighter.readings.attitude.pitchRate [°/s]',
    )
    expect(Number(degrees!.line[at])).toBeNear((Number(radians!.line[at]) * 180) / Math.PI, { relative: 1e-15 })
    expect(degrees!.line[radians!.at('lamplighter.readings.place.height')]).toBe(
      radians!.line[radians!.at('lamplighter.readings.place.height')],
    )
  })

  it('write CSV that reads back to the same doubles', () => {
    const lines = recordToCsv(record).split('\r\n')
    expect(lines[0]!.split(',').slice(0, 2)).toEqual(['time [s]', 'lamplighter.hull.attitude.w [1]'])
    const k = 777
    expect(lines[k + 1]!.split(',').map(Number)).toEqual([record.time[k], ...record.columns.map(({ values }) => values[k])])
  })
  it('pack a record and unpack it to the same', () => {
    const { rows, ...kept } = record
    expect(expectDone(unpackRecord(packRecord(record)))).toEqual(kept)
    expect(record.columns.map(({ values }) => values[3])).toEqual(
      [...rows!.slice(3 * record.columns.length)].slice(0, record.columns.length),
    )
  })
  it.each([0, 5, 100, 5000])('refuse a packed record cut to %d bytes', (length) => {
    expect(unpackRecord(packRecord(record).subarray(0, length)).kind).toBe('refused')
  })
})

describe('an angle that goes round', () => {
  it('is turned the short way', () => {
    const turned = replaceAt<Document>(
      replaceAt<Document>(lamplighter(), 'loops.heading.reference', 'cue'),
      'trials.galleryRise.cues',
      { turn: { kind: 'rampCue', loop: 'heading', at: 1, by: 6, over: 0.001 } }, // 6 rad is 0.283 rad short of a turn
    )
    const heading = column(fly(turned), 'lamplighter.readings.attitude.heading')
    expect(heading.at(-1)!).toBeNear(6 - 2 * Math.PI, { absolute: 0.01 })
    expect(Math.max(...heading)).toBeLessThan(0.1)
  })
})
