import { createHash } from 'node:crypto'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { packBundle } from '../core/formats'
import { blockMesh, stlOf } from '../core/tests/meshes'
import { reference } from '../core/tests/reference'
import { main } from './main'

/** As an earlier version wrote it: one loop for its height, roll and pitch held as angles. */
const demo = 'core/tests/documents/lamplighter-4.json'
const folder = mkdtempSync(join(tmpdir(), 'calm-hand-cli-'))

/** The same far from the ground, where nothing swings by itself. */
const high = join(folder, 'high.json')
writeFileSync(high, readFileSync(demo, 'utf8').replace('"ground": -0.6', '"ground": -100000'))

afterEach(() => vi.restoreAllMocks())

/** Runs a command line with --json; gives its status and the value it printed. */
async function command(...words: string[]): Promise<{ status: number; value: never }> {
  let output = ''
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => {
    output += String(text)
    return true
  })
  const status = await main([...words, '--json'])
  vi.restoreAllMocks()
  return { status, value: (output === '' ? undefined : JSON.parse(output)) as never }
}

function request(value: unknown): string {
  const path = join(folder, 'request.json')
  writeFileSync(path, JSON.stringify(value))
  return path
}

describe('documents', () => {
  it('are checked', async () => {
    expect(await command('check', demo)).toEqual({ status: 0, value: { problems: [], cautions: [] } })
  })
  it('are refused with places and remedies, status 2', async () => {
    const bad = join(folder, 'bad.json')
    writeFileSync(bad, readFileSync(demo, 'utf8').replace('"mass": 1.652', '"mass": -1'))
    const { status, value } = await command('check', bad)
    expect(status).toBe(2)
    expect(value).toMatchObject({ problems: [{ where: 'machines.lamplighter.bodies.hull.mass' }] })
  })
  it('that are not there are named', async () => {
    expect(await command('check', 'nowhere.json')).toMatchObject({ status: 2, value: { problems: [{ where: 'nowhere.json' }] } })
  })
  it('are listed with their signals', async () => {
    const { value } = await command('list', demo)
    expect(value).toMatchObject({
      machines: ['lamplighter'],
      loops: expect.arrayContaining(['height', 'heading', 'east', 'eastSpeed', 'pitch', 'pitchRate']) as unknown,
      trials: ['galleryRise', 'quayCrossing'],
    })
    expect((value as { signals: object[] }).signals).toContainEqual({ name: 'loops.height.command', unit: 'N', role: 'command' })
  })
})

describe('runs', () => {
  const run = (...words: string[]) => command('run', demo, '--trial', 'galleryRise', ...words)
  it('give figures and CSV, the same each time', async () => {
    const csv = join(folder, 'rise.csv')
    const first = await run('--csv', csv)
    const text = readFileSync(csv, 'utf8')
    expect(first.value).toMatchObject({ ending: { kind: 'finished' }, rows: 2201 })
    expect(text.split('\r\n')[0]).toMatch(/^time \[s\],lamplighter\.hull\.\S+ \[/)
    await run('--csv', csv)
    expect(readFileSync(csv, 'utf8')).toBe(text)
  })
  it('tell what their checks say, and fail with one of them', async () => {
    const checked = join(folder, 'checked.json')
    const low = { kind: 'staysBeyond', signal: 'loops.height.error', side: 'within', limit: 3 }
    const write = (limit: number) => {
      const document = JSON.parse(readFileSync(demo, 'utf8')) as { trials: { galleryRise: object } }
      document.trials.galleryRise = { ...document.trials.galleryRise, checks: { low: { ...low, limit } } }
      writeFileSync(checked, JSON.stringify(document))
      return command('run', checked, '--trial', 'galleryRise')
    }
    expect(await write(3)).toMatchObject({ status: 0, value: { verdicts: [{ check: 'low', outcome: 'holds', unit: 'm' }] } })
    const failed = await write(1)
    expect(failed).toMatchObject({ status: 1, value: { verdicts: [{ outcome: 'fails' }] } })
    expect((failed.value as { verdicts: { failedAt: number }[] }).verdicts[0]!.failedAt).toBeNear(1, { absolute: 0.005 })
  })
  it('take seed, layers and true numbers', async () => {
    const changed = await run('--seed', '7', '--realism', 'full,-sensorNoise', '--set', 'true.parameters.load=0.15')
    expect(
      (changed.value as { figures: { height: { simulated: { steadyError: number } } } }).figures.height.simulated.steadyError,
    ).toBeLessThan(-0.15)
  })
  it.each([
    [['--set', 'true.machines.lamplighter.gravty=1'], /Did you mean/],
    [['--set', 'true.parameters.lod=1'], /Did you mean load/],
    [['--set', 'load'], /path=value/],
    [['--realism', 'full,-sensorError'], /Did you mean sensorErrors/],
    [['--seed', '-1'], /whole number/],
  ])('refuse %j with a remedy', async (words, remedy) => {
    const { status, value } = await run(...words)
    expect(status).toBe(2)
    expect((value as { problems: { remedy: string }[] }).problems[0]!.remedy).toMatch(remedy)
  })
  it('land on a mesh that lies beside the document, or in its bundle, and say where one is not', async () => {
    const mesh = stlOf(blockMesh([4, 4, 1.4]))
    const hash = createHash('sha256').update(mesh).digest('hex')
    const plain = JSON.parse(readFileSync('core/tests/documents/net-float.json', 'utf8')) as { trials: { drop: object } }
    const block = { kind: 'mesh', at: [0, 0, 0], turned: [0, 0, 0], file: 'block.stl', mesh: hash, scale: [1, 1, 1] }
    const scenes = { quay: { kind: 'scene', obstacles: { block } } }
    const document = { ...plain, scenes, trials: { drop: { ...plain.trials.drop, scene: 'quay' } } }
    const [bundle, own] = [join(folder, 'quay.zip'), mkdtempSync(join(folder, 'quay-'))]
    writeFileSync(bundle, packBundle(document as never, new Map([[hash, mesh]])))
    const beside = join(own, 'quay.json')
    writeFileSync(beside, JSON.stringify(document))
    const run = (path: string) => command('run', path, '--trial', 'drop', '--csv', join(own, 'run.csv'))
    expect(await run(beside)).toMatchObject({ status: 2, value: { problems: [{ where: 'scenes.quay.obstacles.block', what: 'The mesh block.stl is not here.' }] } }) // prettier-ignore
    writeFileSync(join(own, 'block.stl'), mesh)
    const found = await run(beside)
    expect(found).toMatchObject({ status: 0, value: { limits: [{ sort: 'unbalanced', name: 'float' }] } })
    const [head, ...rows] = readFileSync(join(own, 'run.csv'), 'utf8').trim().split('\r\n')
    const height = Number(rows.at(-1)!.split(',')[head!.split(',').findIndex((name) => name.startsWith('float.ball.z'))])
    expect(height).toBeNear(0.7, { absolute: 2e-3 }) // from where it rests at first
    expect(await run(bundle)).toEqual(found)
    writeFileSync(join(own, 'block.stl'), stlOf(blockMesh([4, 4, 1.5])))
    expect((await run(beside)).status).toBe(2)
  })
  it('name a trial that is not there', async () => {
    expect((await command('run', demo, '--trial', 'gallery')).status).toBe(2)
  })
})

describe('an account for the gap', () => {
  const about = ['account', 'demo/lens-float.json', '--trial', 'smallLift']

  it('has shares that add up to the whole', async () => {
    const { status, value } = await command(...about, '--signal', 'lensFloat.lens.travel', '--from', '0.2', '--to', '0.6')
    const { whole, left, shares, exact, unit } = value as unknown as {
      readonly whole: number
      readonly left: number
      readonly shares: Readonly<Record<string, number>>
      readonly exact: boolean
      readonly unit: string
    }
    expect({ status, exact, unit }).toEqual({ status: 0, exact: true, unit: 'm' })
    const sum = Object.values(shares).reduce((all, one) => all + one, left)
    expect(sum).toBeNear(whole, { relative: 1e-12 })
    // a magnet pulls with the square of current over distance: nothing else makes the difference of so small a lift
    expect(shares.nonlinearity! / whole).toBeGreaterThan(0.99)
  })

  it('names the numbers by which a measured record differs, and what of it they explain', async () => {
    const record = join(folder, 'rig.csv')
    const lighter = 'true.machines.lamplighter.bodies.hull.mass=1.5'
    const trial = ['demo/lamplighter.json', '--trial', 'galleryRise']
    expect((await command('run', ...trial, '--set', lighter, '--csv', record)).status).toBe(0)
    const { status, value } = await command('account', ...trial, '--signal', 'loops.height.command', '--against', record)
    const { late, numbers, signals } = value as unknown as {
      readonly late: { readonly value: number }
      readonly numbers: Readonly<
        Record<
          string,
          {
            readonly now: number
            readonly fitted: number
            readonly cannotBeToldFrom: readonly { readonly name: string; readonly instead: number }[]
          }
        >
      >
      readonly signals: Readonly<Record<string, { readonly whole: number; readonly left: number; readonly shares: object }>>
    }
    expect(status).toBe(0)
    expect(late.value).toBeNear(0, { absolute: 0.002 })
    // how much it weighs and how much a rotor gives at a speed, its command alone cannot tell apart: the smaller change is named
    expect(Object.keys(numbers)).toEqual(['parameters.thrustCoefficient'])
    const hull = numbers['parameters.thrustCoefficient']!.cannotBeToldFrom.find(({ name }) => name === 'bodies.hull.mass')
    expect(hull!.instead).toBeNear(1.5, { absolute: 0.02 })
    const { whole, left, shares } = signals['loops.height.command']!
    expect(left / whole).toBeLessThan(0.05)
    const sum = Object.values(shares).reduce((all: number, one) => all + (one as number), left)
    expect(sum).toBeNear(whole, { relative: 1e-9 })
  })

  it('says what is wrong with a measured record', async () => {
    const record = join(folder, 'odd.csv')
    const against = async (text: string) => {
      writeFileSync(record, text)
      return (await command(...about, '--against', record)).value
    }
    expect(await against('')).toMatchObject({ problems: [{ what: 'There is nothing in this file.' }] })
    expect(await against('t,volts\n0,1\n1,2\n')).toMatchObject({ problems: [{ what: expect.stringContaining('t, volts') }] })
    expect(await against('t,lensFloat.lens.travel [N]\n0,1\n1,2\n')).toMatchObject({ problems: [{ where: 'window' }] })
    expect((await command(...about, '--against', join(folder, 'gone.csv'))).status).toBe(2)
  })

  it('says what is wrong with what it was asked', async () => {
    expect((await command('account', 'demo/lens-float.json', '--trial', 'lift')).status).toBe(2)
    expect((await command(...about, '--signal', 'lensFloat.nothing')).value).toMatchObject({ problems: [{ where: 'signal' }] })
    expect((await command(...about, '--from', '0.6', '--to', '0.2')).value).toMatchObject({ problems: [{ where: '--from' }] })
    expect((await command(...about, '--from', '5', '--to', '6')).value).toMatchObject({ problems: [{ where: 'window' }] })
  })
})

describe('design', () => {
  it('linearizes the plant of a loop and the whole machine', async () => {
    const loop = await command('linearize', demo, '--loop', 'height')
    const [height, rate] = ['height', 'climbRate'].map((name) => `readings.place.${name}`)
    expect(loop.value).toMatchObject({ states: [height, rate, `rate of ${rate}`], inputs: ['pushes.lift'], dt: null })
    const whole = await command('linearize', demo, '--machine', 'lamplighter')
    expect((whole.value as { a: number[][] }).a).toHaveLength(18)
  })
  it('linearizes a lifter in steady flight, and explains a point that is none', async () => {
    const at = join(folder, 'flight.json')
    const fixed = { 'attitude.heading': 0.5, 'place.eastRate': 4, 'place.northRate': 0, 'place.climbRate': 0 }
    const named = Object.fromEntries(Object.entries(fixed).map(([name, value]) => [`readings.${name}`, value]))
    const running = ['hull.x', 'hull.y', 'hull.z']
    writeFileSync(at, JSON.stringify({ fixed: named, running }))
    const { value } = await command('linearize', demo, '--machine', 'lamplighter', '--at', at)
    const { states, runs } = (value as { operatingPoint: Record<'states' | 'runs', Record<string, number>> }).operatingPoint
    expect(runs['readings.place.east']).toBeNear(4, { relative: 1e-9 })
    expect(Math.abs(states['hull.attitude.y']!)).toBeGreaterThan(0.005)
    writeFileSync(at, JSON.stringify({ fixed: { 'readings.place.hight': 2 } }))
    expect(await command('linearize', demo, '--machine', 'lamplighter', '--at', at)).toMatchObject({
      status: 2,
      value: { problems: [{ remedy: /height/ }] },
    })
  })
  it('tunes by a time constant, and by the edge of swinging', async () => {
    const slow = await command('tune', high, '--loop', 'rollRate', '--time-constant', '0.2')
    expect((slow.value as { achieved: { stable: boolean; crossover: number } }).achieved).toMatchObject({ stable: true })
    const edge = await command('tune', high, '--loop', 'rollRate', '--edge')
    const { gains, achieved } = edge.value as { gains: { kp: number }; achieved: { gainMargin: { factor: number } } }
    expect(achieved.gainMargin.factor).toBeNear(2, { relative: 1e-3 }) // P by the table: half the gain of the edge
    expect(gains.kp).toBeGreaterThan(0)
    expect(await command('tune', high, '--loop', 'rollRate')).toMatchObject({
      status: 2,
      value: { problems: [{ where: '--crossover' }] },
    })
    expect((await command('tune', high, '--loop', 'rollRate', '--time-constant', '-1')).status).toBe(2)
  })
  it('tunes by experiments on the linear model, with the table that is named', async () => {
    const gains = async (...words: string[]) =>
      (await command('tune', high, '--loop', 'rollRate', ...words)).value as { gains: { kp: number } }
    const [edge, relay] = [await gains('--edge'), await gains('--relay', '0.1')]
    expect(relay.gains.kp).toBeNear(edge.gains.kp, { relative: 0.15 }) // by its describing function
    const step = await gains('--step', '0.1', '--table', 'skogestad')
    expect(step.gains.kp).toBeGreaterThan(0)
    expect(await command('tune', high, '--loop', 'rollRate', '--step', '1', '--table', 'nobody')).toMatchObject({
      status: 2,
      value: { problems: [{ where: '--table' }] },
    })
    expect((await command('tune', high, '--loop', 'rollRate', '--relay', '-1')).status).toBe(2)
  })
  it('tunes for what the loop shall keep, and says what is left with its estimator', async () => {
    const asks = join(folder, 'asks.json')
    const document = JSON.parse(readFileSync(demo, 'utf8')) as { loops: { height: object } }
    const keeps = {
      settling: { kind: 'settlesWithin', most: 1.2 },
      recovery: { kind: 'givesWayAtMost', most: 0.1 },
      room: { kind: 'inHandAtLeast', least: 0.9 },
    }
    writeFileSync(
      asks,
      JSON.stringify({ ...document, loops: { ...document.loops, height: { ...document.loops.height, keeps } } }),
    )
    const met = (await command('tune', asks, '--loop', 'height', '--meet', '--step-size', '2')).value as {
      holds: boolean
      kept: { name: string; value: number }[]
    }
    expect(met.holds).toBe(true)
    expect(met.kept.map(({ name }) => name).sort()).toEqual(['deviation', 'phaseMargin', 'settling'])
    expect(await command('tune', demo, '--loop', 'height', '--meet')).toMatchObject({
      status: 2,
      value: { problems: [{ where: 'loops.height.keeps', what: /Nothing is asked/ }] },
    })
    expect((await command('tune', asks, '--loop', 'height', '--meet', '--step-size', '0')).status).toBe(2)
  })
  it('tunes, writes the changed document, and explains what is out of reach', async () => {
    const out = join(folder, 'tuned.json')
    const tuned = await command('tune', demo, '--loop', 'height', '--crossover', '3.6', '--phase-margin', '55', '--write', out)
    expect((tuned.value as { achieved: { crossover: number; phaseMargin: number } }).achieved.crossover).toBeNear(3.6, {
      relative: 1e-9,
    })
    expect((await command('check', out)).status).toBe(0)
    const far = await command('tune', demo, '--loop', 'height', '--crossover', '60', '--phase-margin', '55')
    expect(far).toMatchObject({ status: 2, value: { problems: [{ where: 'loops.height.tuning' }] } })
  })
})

describe('mechanisms', () => {
  const ramp = 'demo/boarding-ramp.json'
  interface Linear {
    readonly a: number[][]
    readonly states: string[]
    readonly inputs: string[]
    readonly operatingPoint: { states: Record<string, number>; inputs: Record<string, number>; residual: number; held: string[] }
  }
  const linear = async (...words: string[]) => (await command('linearize', ...words)).value as unknown as Linear
  const pointFile = (point: object) => {
    const path = join(folder, 'point.json')
    writeFileSync(path, JSON.stringify(point))
    return path
  }

  it('are listed with what a free motion records', async () => {
    const { value } = await command('list', 'demo/rock-walker.json')
    expect(value).toMatchObject({ machines: ['walker'], loops: [], trials: [] })
    const { quantities } = value as { quantities: object[] }
    expect(quantities).toContainEqual({ machine: 'walker', name: 'rear.angle', label: 'rear', unit: 'rad' })
    const names = (value as { signals: { name: string; unit: string }[] }).signals
    expect(names).toContainEqual({ name: 'rear.angle', unit: 'rad', role: 'actual' })
    expect(names).toContainEqual({ name: 'front.x', unit: 'm', role: 'actual' })
  })

  it('are linearized where they rest, in as many coordinates as they have freedoms', async () => {
    const { a, states, inputs, operatingPoint } = await linear(ramp)
    expect(states).toEqual(['innerLeaf.angle', 'outerLeaf.angle', 'foot.angle', 'innerLeaf.rate', 'outerLeaf.rate', 'foot.rate'])
    expect(inputs).toEqual(['drives.quayDrive', 'drives.foldDrive'])
    expect(a).toHaveLength(6)
    expect(operatingPoint.residual).toBeLessThan(1e-9)
    expect(operatingPoint.held).toEqual(['innerLeaf.angle', 'outerLeaf.angle'])
    expect(operatingPoint.inputs['drives.foldDrive']).toBeNear(259.1, { relative: 1e-3 })
  })

  it('show what a loop sees, with the loops closed that are closed while it is designed', async () => {
    const { value } = await command('linearize', ramp, '--loop', 'quayHinge')
    const { outputs, dt } = value as { outputs: string[]; dt: number }
    expect(outputs).toEqual(['innerLeaf.angle', 'innerLeaf.rate'])
    expect(dt).toBeNear(0.01, { relative: 1e-12 })
    const alone = await command('linearize', ramp, '--loop', 'foldHinge')
    expect(alone.value).toMatchObject({ inputs: ['drives.foldDrive'], dt: null })
  })

  it('are linearized about positions that a file names', async () => {
    const { operatingPoint } = await linear(ramp, '--at', pointFile({ positions: { 'outerLeaf.angle': -0.9 } }))
    expect(operatingPoint.states['outerLeaf.angle']).toBe(-0.9)
    expect(operatingPoint.inputs['drives.foldDrive']).toBeLessThan(200) // the leaf hangs more steeply
  })

  it.each([
    [{ positions: { 'outerLeaf.angl': 1 } }, /Did you mean outerLeaf.angle/],
    [{ positions: { 'outerLeaf.angle': 'steep' } }, /positions/],
    [{ held: ['foot'] }, /Did you mean|Known/],
  ])('refuse the point %j', async (point, remedy) => {
    const { status, value } = await command('linearize', ramp, '--at', pointFile(point))
    expect(status).toBe(2)
    expect((value as { problems: { remedy: string }[] }).problems[0]!.remedy).toMatch(remedy)
  })

  it('have positions, and say which where one is not known', async () => {
    const { status, value } = await command('linearize', demo, '--at', pointFile({ positions: { height: 1 } }))
    expect(status).toBe(2)
    expect((value as { problems: { remedy: string }[] }).problems[0]!.remedy).toMatch(/hull\.x/)
  })

  it('are made from robot descriptions, and pass their check', async () => {
    const out = join(folder, 'pendulum.json')
    expect(await command('new', 'docs/examples/pendulum.urdf', '--out', out)).toEqual({ status: 0, value: { out, bodies: 2 } })
    expect((await command('check', out)).status).toBe(0)
    const { a } = await linear(out)
    // a pendulum: angle'' = -m g l / (I + m l²) angle
    expect(a).toBeNear(
      [
        [0, 1],
        [(-2.4 * 9.80665 * 0.8) / (0.01 + 2.4 * 0.64), 0],
      ],
      { relative: 1e-9 },
    )
  })

  it.each([
    [['new', 'nowhere.urdf', '--out', 'x.json'], 'nowhere.urdf'],
    [['new', 'docs/examples/pendulum.urdf', '--out', '/nowhere/x.json'], '--out'],
    [['new', 'docs/examples/pendulum.urdf', '--out', 'x.json', '--base', 'loose'], '--base'],
    [['new', 'docs/examples/pendulum.json', '--out', 'x.json'], 'line 1'],
  ])('%j is refused at %s', async (words, where) => {
    const { status, value } = await command(...words)
    expect(status).toBe(2)
    expect((value as { problems: { where: string }[] }).problems[0]!.where).toContain(where)
  })

  it('with formulas are computed with their numbers', async () => {
    const { operatingPoint } = await linear('starters/serial-arm.json')
    expect(operatingPoint.residual).toBeLessThan(1e-9)
    // shoulder: upper link at its middle, fore link beyond the elbow
    const [first, second] = [0.9, 0.9 - 1.3]
    const torque = 9.80665 * (5 * 0.25 * Math.cos(first) + 3 * (0.5 * Math.cos(first) + 0.2 * Math.cos(second)))
    expect(operatingPoint.inputs['drives.shoulder']).toBeNear(torque, { relative: 1e-9 })
  })
})

describe('machines without bodies', () => {
  it('are listed and linearized where their conditions let them balance', async () => {
    const { value: listed } = await command('list', 'demo/pilot-cutter.json')
    expect(listed).toMatchObject({
      machines: ['cutter'],
      signals: expect.arrayContaining([{ name: 'drift', unit: 'rad', role: 'actual' }]) as unknown,
    })
    const { status, value } = await command('linearize', 'demo/pilot-cutter.json', '--machine', 'cutter')
    expect(status).toBe(0)
    expect(value).toMatchObject({
      inputs: ['thrust', 'rudder'],
      dt: null,
      operatingPoint: { states: { speed: 6, heading: 0 }, inputs: { thrust: 3100 }, residual: 0, running: ['heading'] },
    })
    const { b } = value as unknown as { b: number[][] }
    expect(b[0]![0]).toBe(1 / 3700)
    expect((await command('linearize', 'demo/pilot-cutter.json', '--at', 'x.json')).status).toBe(2)
  })
})

describe('export', () => {
  it('writes a robot description that makes the same machine again', async () => {
    const to = join(folder, 'out')
    const { status, value } = await command('export', 'demo/boat-shed-arm.json', '--as', 'urdf', '--to', to)
    expect(status).toBe(0)
    expect(value).toMatchObject({ written: [join(to, 'arm.urdf')], left: expect.arrayContaining(['motions']) as unknown })
    const back = join(folder, 'back.json')
    expect((await command('new', join(to, 'arm.urdf'), '--out', back)).status).toBe(0)
    expect((await command('check', back)).status).toBe(0)
  })

  it('writes the linear form as JSON and as blocks of numbers', async () => {
    const to = join(folder, 'matrices')
    expect((await command('export', 'demo/derrick.json', '--as', 'matrices', '--to', to)).status).toBe(0)
    const system = JSON.parse(readFileSync(join(to, 'derrick.json'), 'utf8')) as { a: number[][]; states: string[] }
    expect(system.a).toHaveLength(system.states.length)
    expect(readFileSync(join(to, 'derrick.csv'), 'utf8')).toMatch(/^states: column\.angle/)
    expect((await command('export', 'demo/lamplighter.json', '--as', 'matrices', '--to', to)).status).toBe(0)
    expect((await command('export', 'demo/pilot-cutter.json', '--as', 'matrices', '--to', to)).status).toBe(0)
  })

  it('explains what cannot be written', async () => {
    const asked = (...words: string[]) => command('export', ...words, '--to', join(folder, 'none'))
    for (const [words, remedy] of [
      [['demo/pilot-cutter.json', '--as', 'urdf'], /another form/],
      [['demo/derrick.json', '--as', 'drawing'], /Known: urdf, matrices/],
      [['demo/derrick.json', '--as', 'urdf', '--machine', 'crane'], /Known: derrick/],
    ] as const) {
      const { status, value } = await asked(...words)
      expect(status).toBe(2)
      expect((value as { problems: { remedy: string }[] }).problems[0]!.remedy).toMatch(remedy)
    }
  })
})

describe('what tune achieves', () => {
  it('is told with what stands in its way, where a swing of the machine makes the loop cross again', async () => {
    const words = ['--loop', 'luff', '--crossover', '6', '--phase-margin', '60'] as const
    const { status, value } = await command('tune', 'demo/derrick.json', ...words)
    const { achieved, notAchieved } = value as { achieved: { phaseMargin: number }; notAchieved: { what: string } }
    expect(status).toBe(1)
    expect(achieved.phaseMargin).toBeLessThan(40) // the least, not that at 6 rad/s
    expect(notAchieved.what).toMatch(/at 6 rad\/s as asked, but also at 1\.4\d* rad\/s with 3\d/)
  })
  it('is what was asked where it can be', async () => {
    const words = ['--loop', 'hoist', '--crossover', '0.5', '--phase-margin', '60'] as const
    const { status, value } = await command('tune', 'demo/derrick.json', ...words)
    expect(value).not.toHaveProperty('notAchieved')
    expect(status).toBe(0)
  })
})

describe('the linear toolbox', () => {
  const asked = async (system: object, ...ask: object[]) =>
    ((await command('linear', request({ system, ask }))).value as { answers: object[] }).answers

  it('refuses what cannot count a delay, samples it exactly, and gives a finite stand-in', async () => {
    const answers = await asked(
      { num: [1], den: [1, 1], delay: 0.25, dt: null },
      { name: 'regulator', q: [[1]], r: [[1]] },
      { name: 'discretize', dt: 0.1 },
      { name: 'discretize', dt: 0.1, method: 'bilinear' },
      { name: 'rationalDelay', order: 2 },
    )
    expect(answers[0]).toMatchObject({ problem: { what: /delay/, remedy: /rationalDelay/ } })
    // a lag and three inputs on their way
    expect((answers[1] as { a: unknown[] }).a).toHaveLength(4)
    expect(answers[2]).toMatchObject({ problem: { remedy: /hold/ } })
    expect((answers[3] as { a: unknown[] }).a).toHaveLength(3)
  })

  it('finds all margins of a loop with delay', async () => {
    // scipy; see the file
    interface Margin {
      readonly inputs: { num: number[]; den: number[]; delay_s: number }
      readonly expected: {
        gain_crossovers: { w_rad_s: number; phase_margin_deg: number }[]
        phase_crossovers: { gain_margin: number }[]
        Ms: number
      }
    }
    const { inputs, expected } = reference<Margin['inputs'], Margin['expected']>('lti-margins-delay')
    const [found] = (await asked(
      { num: inputs.num, den: inputs.den, delay: inputs.delay_s },
      { name: 'margins' },
    )) as unknown as [
      {
        phase: { w: number; degrees: number }[]
        gain: { factor: number }[]
        stable: boolean
        sensitivityPeak: { factor: number }
      },
    ]
    expect(found.phase.map(({ degrees }) => degrees)).toBeNear(
      expected.gain_crossovers.map((one) => one.phase_margin_deg),
      { absolute: 1e-4 },
    )
    expect(found.gain.slice(0, 2).map(({ factor }) => factor)).toBeNear(
      expected.phase_crossovers.slice(0, 2).map((one) => one.gain_margin),
      { relative: 1e-5 },
    )
    expect(found.sensitivityPeak.factor).toBeNear(expected.Ms, { relative: 1e-6 })
    expect(found.stable).toBe(true)
  })
  it('answers in order, and puts a problem in the place of what it cannot answer', async () => {
    const answers = await asked(
      {
        zeros: [],
        poles: [
          [0, 0],
          [-2, 0],
        ],
        gain: 4,
      },
      { name: 'poles' },
      { name: 'steadyGain' },
      { name: 'nonsense' },
      { name: 'frequencyResponse', w: [1] },
    )
    expect(answers[0]).toEqual({ poles: expect.arrayContaining([[-2, 0]]) as unknown })
    expect(answers[1]).toHaveProperty('problem.remedy')
    expect(answers[2]).toHaveProperty('problem.what')
    // 4/(j (j + 2)) = 4/(-1 + 2j), by hand
    expect((answers[3] as { response: number[][][][] }).response[0]![0]![0]).toBeNear([-0.8, -1.6], { absolute: 1e-12 })
  })
  it('takes every answer that is a system for the next system', async () => {
    const plant = { a: [[0, 1], [-2, -0.3]], b: [[0], [1]], c: [[1, 0]], d: [[0]] } // prettier-ignore
    for (const ask of [
      { name: 'discretize', dt: 0.1 },
      { name: 'discretize', dt: 0.1, method: 'bilinear' },
      { name: 'minimalRealization' },
      { name: 'stateSpace' },
    ]) {
      const [system] = await asked(plant, ask)
      const [again] = await asked(system as object, { name: 'poles' })
      expect(again).toHaveProperty('poles')
    }
    const [late] = await asked({ num: [1], den: [1, 1], delay: 0.2 }, { name: 'rationalDelay', order: 2 })
    expect((await asked(late as object, { name: 'steadyGain' }))[0]).toMatchObject({ gain: [[expect.closeTo(1, 10) as number]] })
  })
  it('wants complex roots in pairs', async () => {
    const system = { zeros: [], poles: [[-1, 2]], gain: 1 }
    const { status, value } = await command('linear', request({ system, ask: [{ name: 'poles' }] }))
    expect(status).toBe(2)
    expect(JSON.stringify(value)).toMatch(/-1 \+ 2i has no partner/)
  })
  it('samples, steps and exponentiates', async () => {
    const lag = { a: [[-2]], b: [[2]], c: [[1]], d: [[0]] }
    const answers = await asked(
      lag,
      { name: 'discretize', dt: 0.1 },
      { name: 'stepFigures' },
      { name: 'exponential', t: 1 },
      { name: 'stepResponse', until: 1, points: 3 },
      { name: 'discretize', dt: 0.1, method: 'bilinear', w: 2 },
    )
    expect((answers[0] as { a: number[][] }).a).toBeNear([[Math.exp(-0.2)]], { relative: 1e-12 })
    expect((answers[1] as { rise: number }).rise).toBeNear(Math.log(9) / 2, { relative: 1e-4 }) // a lag rises in ln 9 time constants
    expect((answers[2] as { e: number[][] }).e).toBeNear([[Math.exp(-2)]], { relative: 1e-12 })
    expect((answers[3] as { y: number[][] }).y.flat()).toBeNear([0, 1 - Math.exp(-1), 1 - Math.exp(-2)], { relative: 1e-12 })
    expect((answers[4] as { dt: number }).dt).toBe(0.1)
  })
  it('designs for a double integrator, and finds what it is made of', async () => {
    const plant = { a: [[0, 1], [0, 0]], b: [[0], [1]], c: [[1, 0]], d: [[0]] } // prettier-ignore
    const unit = [[1, 0], [0, 1]] // prettier-ignore
    const answers = await asked(
      plant,
      { name: 'regulator', q: unit, r: [[1]] },
      { name: 'observer', qn: [[1]], g: [[0], [1]], rn: [[1]] },
      { name: 'placePoles', poles: [[-1, 1], [-1, -1]] }, // prettier-ignore
      { name: 'controllability' },
      { name: 'observability' },
      { name: 'zeros' },
      { name: 'transferFunction' },
      { name: 'minimalRealization' },
    )
    // closed forms: k = [1, √3], l = [√2, 1]
    expect((answers[0] as { k: number[][] }).k).toBeNear([[1, Math.sqrt(3)]], { relative: 1e-12 })
    expect((answers[0] as { poles: number[][] }).poles[0]).toHaveLength(2)
    expect((answers[1] as { l: number[][] }).l).toBeNear([[Math.SQRT2], [1]], { relative: 1e-12 })
    expect((answers[2] as { k: number[][] }).k).toBeNear([[2, 2]], { absolute: 1e-12 })
    expect(answers[3]).toMatchObject({ rank: 2, singularValues: [1, 1] })
    expect(answers[4]).toMatchObject({ rank: 2 })
    expect(answers[5]).toEqual({ zeros: [] })
    expect(answers[6]).toEqual({ num: [[[1]]], den: [1, 0, 0] })
    expect((answers[7] as { a: number[][] }).a).toHaveLength(2)
  })
  it('measures a stable system, and says why it cannot another', async () => {
    const lag = { a: [[-2]], b: [[2]], c: [[1]], d: [[0]] }
    const answers = await asked(
      lag,
      { name: 'norms' },
      { name: 'gramians' },
      { name: 'lyapunov', q: [[4]] },
      { name: 'lyapunov', q: [[4, 0]] },
      { name: 'regulator', q: [[1]] },
      { name: 'placePoles' },
      { name: 'minimalRealization', tolerance: 2 },
      { name: 'discretize', dt: 0.1, method: 'ramp' },
    )
    expect(answers[0]).toMatchObject({ h2: expect.closeTo(1, 10) as number, hinf: expect.closeTo(1, 10) as number, at: 0 })
    expect(answers[1]).toEqual({ controllability: [[1]], observability: [[0.25]] })
    expect(answers[2]).toEqual({ x: [[1]] })
    for (const k of [3, 4, 5, 6]) expect(answers[k]).toHaveProperty('problem.remedy')
    expect((answers[7] as { d: number[][] }).d[0]![0]).toBeGreaterThan(0)
    const [unstable] = await asked({ num: [1], den: [1, -1] }, { name: 'norms' })
    expect(unstable).toMatchObject({ problem: { what: 'The system is not stable: it has no finite norm.' } })
  })
  it.each([
    [{ system: { a: [[1, 2]], b: [[1]], c: [[1]], d: [[0]] }, ask: [{ name: 'poles' }] }],
    [{ system: { num: [1, 0, 0], den: [1, 1] }, ask: [{ name: 'poles' }] }],
    [{ system: { num: [1], den: [0, 1] }, ask: [{ name: 'poles' }] }],
    [{ ask: [] }],
  ])('refuses %j', async (wrong) => {
    expect((await command('linear', request(wrong))).status).toBe(2)
  })
})

describe('the command line itself', () => {
  it('explains a missing option and an unknown command, status 2', async () => {
    expect(await command('run', demo)).toMatchObject({ status: 2, value: { problems: [{ where: 'command line' }] } })
    expect((await command('fly', demo)).status).toBe(2)
  })
})
