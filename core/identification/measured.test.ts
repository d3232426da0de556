import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { normalPair } from '../simulation'
import type { Record as RunRecord, RunSignal } from '../simulation'
import { expectDone } from '../tests/expectDone'
import {
  likelyLate,
  likelyMapping,
  lookOfLeft,
  measuredOf,
  noiseOf,
  recordLess,
  shiftBetween,
  unitCautions,
  unitSize,
} from './index'
import type { MeasuredTable } from './index'

const signals: readonly RunSignal[] = [
  { name: 'm.readings.place.height', label: 'height', unit: 'm' },
  { name: 'm.readings.attitude.heading', label: 'heading', unit: 'rad' },
  { name: 'loops.height.command', label: 'command of height', unit: 'N' },
]
const [height, heading] = ['m.readings.place.height', 'm.readings.attitude.heading']

function table(columns: Readonly<Record<string, readonly (number | string)[]>>): MeasuredTable {
  const rows = Object.values(columns)[0]!.length
  return {
    ...{ file: 'rise.csv', rows, every: 1 },
    columns: Object.entries(columns).map(([name, given]) => {
      const values = Float64Array.from(given, (value) => (typeof value === 'number' ? value : NaN))
      const words = [...new Set(given.filter((value) => typeof value === 'string'))]
      if (words.length === 0) return { name, values }
      return { name, values, texts: { places: Int32Array.from(given, (value) => words.indexOf(value as string)), words } }
    }),
  }
}

const column = (name: string, signal: string, unit: string, sign = 'plus') => ({
  kind: 'mappedColumn',
  column: name,
  signal,
  unit,
  sign,
})
const mapped = (columns: Readonly<Record<string, Part>>, more: Readonly<Record<string, unknown>> = {}): Part => ({
  kind: 'measuredRecord',
  ...{ file: 'rise.csv', data: '', time: 't', timeUnit: 's', late: 0, columns, ...more },
})

/** A run whose one signal is a function of time, a hundred rows a second. */
function runOf(value: (t: number) => number, name: string = height, end = 10): RunRecord {
  const time = Float64Array.from({ length: end * 100 + 1 }, (_, k) => k / 100)
  const angle = name === heading ? ({ angle: 'goesRound' } as const) : {}
  const own = { name, label: name, unit: 'm', role: 'actual', ...angle, values: time.map(value) } as const
  return { hash: '', trial: '', seed: 1, layers: [], time, columns: [own], ending: { kind: 'finished' } }
}

describe('a measured record', () => {
  it('is told in SI, with signs, factors and its own clock', () => {
    const given = table({ t_ms: [0, 20, 40], alt: [-24.9, -26, -27], pwr: [50, 52, 54], yaw: [90, 180, 270] })
    const part = mapped(
      {
        a: column('alt', height, 'cm', 'minus'),
        p: column('pwr', 'loops.height.command', '0.57 N'),
        y: column('yaw', heading, '°'),
      },
      { time: 't_ms', timeUnit: 'ms', late: 0.01 },
    )
    const { time, signals: told, step } = expectDone(measuredOf(given, part, 'r', signals))
    expect([...time].map((t) => Number(t.toFixed(9)))).toEqual([-0.01, 0.01, 0.03])
    expect(step).toBeNear(0.02, { relative: 1e-12 })
    expect(told.get(height)![0]).toBeNear(0.249, { relative: 1e-12 })
    expect(told.get('loops.height.command')![1]).toBeNear(52 * 0.57, { relative: 1e-12 })
    expect(told.get(heading)![2]).toBeNear(1.5 * Math.PI, { relative: 1e-12 })
  })

  it('counts a clock of the day from its first row, and leaves one that begins with the trial', () => {
    const part = mapped({ h: column('h', height, 'm') })
    const clock = (t: readonly number[]) => [...expectDone(measuredOf(table({ t, h: t.map(() => 1) }), part, 'r', signals)).time]
    expect(clock([1.7e9, 1.7e9 + 0.5, 1.7e9 + 1])).toEqual([0, 0.5, 1])
    expect(clock([0.5, 1, 1.5])).toEqual([0.5, 1, 1.5])
  })

  it('tells its gaps, leaves out rows whose time does not go on, and says so', () => {
    const t = [0, 0.1, 0.2, 0.3, 0.9, 1, 0.95, 1.1, 1.1, 1.2]
    const made = expectDone(measuredOf(table({ t, h: t.map(() => 1) }), mapped({ h: column('h', height, 'm') }), 'r', signals))
    expect([...made.time]).toEqual([0, 0.1, 0.2, 0.3, 0.9, 1, 1.1, 1.2])
    expect(made.gaps).toEqual([[0.3, 0.9]])
    expect(made.cautions[0]).toMatchObject({
      where: 'r.time',
      what: expect.stringContaining('In row 7 time does not go on: 2 rows'),
    })
  })

  it('makes spells of words', () => {
    const t = [0, 1, 2, 3, 4]
    const mode = ['arm', 'arm', 'climb', 'climb', 'arm']
    const { lanes } = expectDone(measuredOf(table({ t, mode }), mapped({ m: column('mode', '', '') }), 'r', signals))
    expect(lanes.get('mode')).toEqual([
      { word: 'arm', from: 0, to: 2 },
      { word: 'climb', from: 2, to: 4 },
      { word: 'arm', from: 4, to: 4 },
    ])
  })

  it.each([
    { part: { time: 'clock' }, where: 'r.time', what: 'no column clock', remedy: 't, h, mode' },
    { part: { time: 'mode' }, where: 'r.time', what: 'holds words', remedy: 'Choose the column' },
    { part: { timeUnit: 'm' }, where: 'r.timeUnit', what: 'no unit of time', remedy: 'Give s, ms' },
    {
      part: { columns: { h: column('h', height, 'N') } },
      where: 'r.columns.h.unit',
      what: 'does not measure height',
      remedy: '0.57 m',
    },
    {
      part: { columns: { h: column('h', 'm.gone', 'm') } },
      where: 'r.columns.h.signal',
      what: 'no signal m.gone',
      remedy: 'leave',
    },
    {
      part: { columns: { h: column('g', height, 'm') } },
      where: 'r.columns.h.column',
      what: 'no column g',
      remedy: 't, h, mode',
    },
  ])('is refused where $what', ({ part, where, what, remedy }) => {
    const given = table({ t: [0, 1, 2], h: [1, 2, 3], mode: ['a', 'b', 'c'] })
    const made = measuredOf(given, mapped({ h: column('h', height, 'm') }, part), 'r', signals)
    expect(made.kind === 'refused' && made.problems[0]).toEqual({
      where,
      what: expect.stringContaining(what),
      remedy: expect.stringContaining(remedy),
    })
  })

  it('asks about a unit when the record moves far more than the run', () => {
    const given = table({ t: [0, 1, 2], h: [100, 200, 250] })
    const part = mapped({ h: column('h', height, 'm') })
    const told = expectDone(measuredOf(given, part, 'r', signals))
    expect(
      unitCautions(
        told,
        runOf(() => 2.5),
        'r',
        part,
      )[0]!.what,
    ).toBe('Is h in m? It reaches 250 m, and the run 2.5 m.')
    expect(
      unitCautions(
        told,
        runOf(() => 150),
        'r',
        part,
      ),
    ).toEqual([])
  })

  it('is compared at its own times, along the run, and an angle the short way round', () => {
    const t = [0.005, 1.234, 9.999, 10.5]
    const made = expectDone(
      measuredOf(table({ t, h: t.map((one) => 2 * one + 0.1) }), mapped({ h: column('h', height, 'm') }), 'r', signals),
    )
    const difference = recordLess(
      made,
      runOf((one) => 2 * one),
      height,
    )!
    expect([...difference].slice(0, 3).every((one) => Math.abs(one - 0.1) < 1e-12)).toBe(true)
    expect(difference[3]).toBeNaN()
    const turned = expectDone(
      measuredOf(table({ t: [0, 1], y: [179, 179] }), mapped({ y: column('y', heading, '°') }), 'r', signals),
    )
    expect(
      recordLess(
        turned,
        runOf(() => (-179 * Math.PI) / 180, heading),
        heading,
      )![0],
    ).toBeNear((-2 * Math.PI) / 180, { relative: 1e-9 })
  })

  it('has its shift proposed where its rates are most alike, through gaps and other rates', () => {
    const rise = (t: number) => 1 / (1 + Math.exp(-3 * (t - 4))) + 0.3 * Math.sin(0.8 * t)
    const t = Array.from({ length: 700 }, (_, k) => 0.5 + k * 0.0131).filter((one) => one < 6 || one > 6.4)
    const made = expectDone(
      measuredOf(table({ t, h: t.map((one) => rise(one - 0.184) - 0.4) }), mapped({ h: column('h', height, 'm') }), 'r', signals),
    )
    const found = shiftBetween(made, runOf(rise), height, 2)!
    expect(found.best.lag).toBeNear(0.184, { absolute: 0.02 })
    expect(found.best.value).toBeGreaterThan(0.9)
    expect(
      shiftBetween(
        made,
        runOf(() => 1),
        height,
        2,
      ),
    ).toBeUndefined()
  })

  it('has it proposed too where both only set off and then go on', () => {
    const setsOff = (t: number) => (t < 2 ? 0 : t < 4 ? 0.25 * (t - 2) ** 2 : 1 + (t - 4))
    const t = Array.from({ length: 260 }, (_, k) => 0.31 + k * 0.04)
    const given = table({ t, h: t.map((one) => setsOff(one - 0.31)) })
    const made = expectDone(measuredOf(given, mapped({ h: column('h', height, 'm') }), 'r', signals))
    expect(likelyLate(made, runOf(setsOff), 2)!.late).toBeNear(0.31, { absolute: 0.002 })
  })
})

describe('units of columns', () => {
  it.each([
    ['cm', 'm', 0.01],
    ['0.57 N', 'N', 0.57],
    ['-2 mm', 'm', -0.002],
    ['°', 'rad', Math.PI / 180],
    ['%', '', 0.01],
    ['', '', 1],
    ['50', '', 50],
    ['rpm', 'rad/s', Math.PI / 30],
  ] as const)('%s in %s', (text, si, size) => {
    expect(unitSize(text, si)).toBeNear(size, { relative: 1e-12 })
  })

  it.each([
    ['N', 'm'],
    ['0 m', 'm'],
    ['furlong', 'm'],
    ['', 'm'],
  ] as const)('%s is none of %s', (text, si) => {
    expect(unitSize(text, si)).toBeUndefined()
  })
})

describe('what columns are likely to be', () => {
  it('goes by names, labels and units in brackets, and leaves out what it does not know', () => {
    const given = table({
      'time [ms]': [0, 1],
      'm.readings.place.height [mm]': [0, 1],
      Heading: [0, 1],
      mode: ['a', 'b'],
      bat_mv: [1, 2],
    })
    const part = likelyMapping(given, signals, 'x')
    expect(part).toMatchObject({ file: 'rise.csv', data: 'x', time: 'time [ms]', timeUnit: 'ms' })
    expect(Object.values(part.columns as object)).toEqual([
      column('m.readings.place.height [mm]', height, 'mm'),
      column('Heading', heading, 'rad'),
      { kind: 'mappedColumn', column: 'mode' },
    ])
  })

  it('takes of many columns those of the signals that come first, and all words', () => {
    const many = Array.from({ length: 12 }, (_, i) => ({ name: `m.s${11 - i}`, label: `s${11 - i}`, unit: 'm' }))
    const named = Object.fromEntries(many.map((_, i) => [`s${i}`, [0, 1]]))
    const part = likelyMapping(table({ t: [0, 1], mode: ['a', 'b'], ...named }), many, '')
    const taken = Object.values(part.columns as Readonly<Record<string, Part>>).map((one) => one.column)
    expect(taken).toEqual(['mode', 's6', 's7', 's8', 's9', 's10', 's11'])
  })

  it('reads the unit of time from the end of its name', () => {
    expect(likelyMapping(table({ t_ms: [0, 1] }), signals, '')).toMatchObject({ time: 't_ms', timeUnit: 'ms' })
  })
})

describe('what is left', () => {
  const noise = Float64Array.from({ length: 2000 }, (_, k) => 0.02 * (normalPair(4, 1, k)[0] as number))

  it('is white where it is noise, whose size is seen from row to row through a course', () => {
    const look = lookOfLeft(noise, 50)
    expect(look.looks).toBe('white')
    expect(look.band).toBeNear(1.96 / Math.sqrt(2000), { relative: 1e-12 })
    const course = noise.map((value, k) => value + 3 * Math.sin(k / 300) + (k > 900 ? 5 : 0))
    expect(noiseOf(course)).toBeNear(0.02, { relative: 0.05 })
  })

  it.each([
    ['drifting', (k: number) => 0.0001 * (k - 1000)],
    ['offset', () => 0.1],
    ['atOneFrequency', (k: number) => 0.05 * Math.sin((2 * Math.PI * 5 * k) / 50)],
    ['slow', (k: number) => 0.06 * Math.sin(k / 40) * Math.sin(k / 33) + 0.05 * Math.sin(k / 90)],
  ] as const)('is told to be %s', (looks, value) => {
    const found = lookOfLeft(
      noise.map((one, k) => one + value(k)),
      50,
    )
    expect(found.looks).toBe(looks)
    if (looks === 'atOneFrequency') expect(found.frequency).toBeNear(5, { absolute: 0.15 })
  })
})
