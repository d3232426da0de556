import { describe, expect, expectTypeOf, it } from 'vitest'
import type { loop } from '../tuning'
import { feedforwards, filters, laws, shapers, stops } from '../control'
import { tunings } from '../tuning'
import type { CuePart, LoopPart, Part, TrialPart } from '../document'
import { groups } from '../index'
import { chains, drives, forces, joints, linkedBody, mechanismSensors, shapes } from '../machine'
import type { trial } from '../simulation'
import { cues, override } from '../simulation'
import {
  blankPart,
  choice,
  everyNumber,
  everyPart,
  findSlot,
  name,
  number,
  part,
  partOf,
  parts,
  pieces,
  problemsOf,
  referencePage,
  schemaOfKind,
  strangers,
  toggle,
  valuesOf,
  vector,
} from './index'
import type { AnyKind, Kind, PartOf } from './index'

const all: readonly AnyKind[] = [
  ...Object.values(groups).flat(),
  ...joints,
  ...chains,
  ...forces,
  ...drives,
  ...shapes,
  ...mechanismSensors,
  ...laws,
  ...tunings,
  ...feedforwards,
  ...filters,
  ...shapers,
  ...stops,
  ...cues,
  linkedBody,
  override,
]

describe.each(all.map((kind) => ({ name: kind.name, kind })))('the kind $name', ({ kind }) => {
  it('starts with values that its schema takes', () => {
    const names = Object.entries(kind.slots).filter(([, slot]) => slot.type === 'name')
    const named = Object.fromEntries(names.map(([slot]) => [slot, 'someName'] as const))
    const inner = kind.name === 'linkedBody' ? { joint: blankPart(joints[1]!, { on: 'ground' }) } : {}
    const { error } = schemaOfKind(kind).validate(blankPart(kind, { ...named, ...inner }), { convert: false, abortEarly: false })
    expect(error?.details.map(({ message }) => message) ?? []).toEqual([])
  })

  it('says only slots that it has', () => {
    const said = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot.split('.')[0]!] : []))
    expect(said.filter((slot) => !(slot in kind.slots))).toEqual([])
  })

  it('explains itself and names every slot', () => {
    expect(kind.about.length).toBeGreaterThan(5)
    for (const slot of Object.values(kind.slots)) expect(slot.label).not.toBe('')
    expect(referencePage('x', [kind])).toContain(`### \`${kind.name}\``)
  })

  it('has limits that leave something between them', () => {
    const wrong = Object.entries(kind.slots).filter(([, slot]) => {
      if (slot.type !== 'number') return false
      const { least = slot.above ?? -Infinity, most = Infinity, otherwise = least } = slot
      return !(least <= most && otherwise >= least && otherwise <= most)
    })
    expect(wrong.map(([slot]) => slot)).toEqual([])
  })
})

describe('lists of kinds', () => {
  it('hold each name once', () => {
    for (const list of [joints, chains, [...forces, ...drives], shapes, laws, cues] as readonly (readonly AnyKind[])[]) {
      const names = list.map((kind) => kind.name)
      expect(new Set(names).size).toBe(names.length)
    }
  })
})

/** A kind with one slot of every type. */
const leaf = {
  name: 'leaf',
  says: 'a leaf',
  about: 'For tests.',
  slots: { size: number({ label: 'size', unit: 'm', above: 0, most: 2 }) },
} as const satisfies Kind
const whole = {
  name: 'whole',
  says: 'Of {size} at {place}, {rate#} times a second.',
  about: 'For tests.',
  slots: {
    size: number({ label: 'size', unit: 'm', least: 0, otherwise: 0.5 }),
    count: number({ label: 'count', unit: '', whole: true }),
    rate: number({ label: 'rate', unit: 'Hz', optional: true }),
    place: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    mood: choice({ label: 'mood', options: { calm: 'calm', rough: 'rough' } }),
    on: toggle({ label: 'on' }),
    title: name({ label: 'title', of: 'text' }),
    inner: part({ label: 'inner', kinds: [leaf] }),
    leaves: parts({ label: 'leaves', kinds: [leaf] }),
  },
} as const satisfies Kind

const good = {
  kind: 'whole',
  count: 3,
  place: [0, 1, 2],
  mood: 'calm',
  on: true,
  title: 'x',
  inner: { kind: 'leaf', size: 1 },
  leaves: { a: { kind: 'leaf', size: 0.5 }, b: { kind: 'leaf', size: 1.5 } },
}
const wrongWith = (change: object) =>
  problemsOf(schemaOfKind(whole), { ...good, ...change }, (path) => findSlot([whole], { ...good, ...change }, path))

describe('a schema made from slots', () => {
  it('takes what fits', () => expect(wrongWith({})).toEqual([]))

  it.each<[what: string, change: object, where: string, words: RegExp]>([
    ['a number of the wrong type', { count: '3' }, 'count', /plain number/],
    ['a fraction of a whole', { count: 2.5 }, 'count', /whole number/],
    ['a number below its limit', { size: -1 }, 'size', /below its limit of 0 m/],
    ['a missing slot', { count: undefined }, 'count', /count is missing/],
    ['a short vector', { place: [1, 2] }, 'place', /3 are wanted/],
    ['a word that is no choice', { mood: 'clam' }, 'mood', /not known/],
    ['a word for a switch', { on: 'yes' }, 'on', /on/],
    ['a limit that may not be reached', { inner: { kind: 'leaf', size: 0 } }, 'inner.size', /must be more than 0 m/],
    ['an unknown kind inside', { inner: { kind: 'twig' } }, 'inner.kind', /not known/],
    ['a bad name of a part', { leaves: { 'A b': { kind: 'leaf', size: 1 } } }, 'leaves.A b', /usable name/],
    ['infinity', { size: Infinity }, 'size', /finite/],
  ])('explains %s', (_what, change, where, words) => {
    const problem = wrongWith(change).find((one) => one.where === where)
    expect(problem?.what).toMatch(words)
    expect(problem?.remedy).not.toBe('')
  })

  it('names the choice that was meant', () => {
    expect(wrongWith({ mood: 'clam' })[0]!.remedy).toContain('Did you mean calm?')
  })

  it('finds several things at once', () => {
    expect(wrongWith({ count: 'a', place: [], mood: 1 }).length).toBeGreaterThanOrEqual(3)
  })
})

describe('walking a part', () => {
  it('finds every number with its path, defaults too, optional ones only where they are', () => {
    const paths = everyNumber([whole], good).map(({ path, value }) => `${path}=${value}`)
    expect(paths).toEqual([
      'size=0.5',
      'count=3',
      'place.0=0',
      'place.1=1',
      'place.2=2',
      'inner.size=1',
      'leaves.a.size=0.5',
      'leaves.b.size=1.5',
    ])
  })

  it('finds every part', () => {
    expect(everyPart([whole], 'w', good).map(({ path }) => path)).toEqual(['w', 'w.inner', 'w.leaves.a', 'w.leaves.b'])
  })

  it('finds the slot that a path leads to', () => {
    expect(findSlot([whole], good, ['leaves', 'b', 'size'])?.label).toBe('size')
    expect(findSlot([whole], good, ['nothing'])).toBeUndefined()
  })

  it('mentions fields that nothing reads, with the name that was meant', () => {
    const found = strangers(everyPart([whole], 'w', { ...good, inner: { kind: 'leaf', sise: 1 } }))
    expect(found).toMatchObject([{ where: 'w.inner.sise', remedy: 'Did you mean size?' }])
  })

  it('fills in what was left out', () => {
    expect(valuesOf(whole, good)).toMatchObject({ size: 0.5, count: 3 })
  })
})

describe('a sentence', () => {
  it('is cut into words and slots, with and without their unit', () => {
    expect(pieces(whole.says)).toEqual([
      { text: 'Of ' },
      { slot: 'size', shows: 'withUnit' },
      { text: ' at ' },
      { slot: 'place', shows: 'withUnit' },
      { text: ', ' },
      { slot: 'rate', shows: 'bare' },
      { text: ' times a second.' },
    ])
  })
})

describe('another kind in the same place', () => {
  const lists: Readonly<Record<string, readonly AnyKind[]>> = { joints, chains, forces, drives, shapes, laws, tunings, feedforwards, filters, shapers, stops, cues } // prettier-ignore

  it.each(Object.entries(lists))(
    'is taken by the schema, with nothing that it does not know: any of %s after any other',
    (_name, kinds) => {
      for (const before of kinds)
        for (const after of kinds) {
          const names = Object.entries({ ...before.slots, ...after.slots }).filter(([, slot]) => slot.type === 'name')
          const given = { ...blankPart(before), ...Object.fromEntries(names.map(([slot]) => [slot, 'someName'] as const)) }
          const made = blankPart(after, given)
          expect(strangers(everyPart(kinds, 'it', made))).toEqual([])
          const { error } = schemaOfKind(after).validate(made, { convert: false, abortEarly: false })
          expect(error?.details.map(({ message }) => `${before.name} to ${after.name}: ${message}`) ?? []).toEqual([])
        }
    },
  )

  it('keeps what fits and its own words, fills the rest, and leaves behind what nothing here would know', () => {
    const made = blankPart(whole, { title: 'kept', size: 2, stray: 1, label: 'Groß', place: 3, mood: 'loud', on: 'yes' })
    expect('stray' in made).toBe(false)
    expect(made).toMatchObject({
      kind: 'whole',
      label: 'Groß',
      title: 'kept',
      size: 2,
      on: false,
      place: [0, 0, 0],
      mood: 'calm',
      inner: { kind: 'leaf', size: 1 },
    })
    expect('rate' in made).toBe(false)
  })
})

describe('the type of a part', () => {
  it('is that of its slots, field by field, through the parts inside it', () => {
    const made = partOf(whole, blankPart(whole))
    expectTypeOf(made.size).toEqualTypeOf<number | undefined>()
    expectTypeOf(made.count).toEqualTypeOf<number>()
    expectTypeOf(made.place).toEqualTypeOf<readonly [number, number, number]>()
    expectTypeOf(made.mood).toEqualTypeOf<'calm' | 'rough'>()
    expectTypeOf(made.inner.size).toEqualTypeOf<number>()
    expectTypeOf<(typeof made.leaves)[string]['kind']>().toEqualTypeOf<'leaf'>()
    expectTypeOf(valuesOf(whole, made).size).toEqualTypeOf<number>()
    expect(valuesOf(whole, made)).toMatchObject({ size: 0.5, mood: 'calm', rate: undefined })
  })

  it('of a kind that is known by its list only is any part, with what all of the list say', () => {
    expectTypeOf<PartOf<Kind>>().toExtend<Part>()
    expectTypeOf<PartOf<(typeof joints)[number]>['on']>().toEqualTypeOf<string>()
    for (const joint of joints) expect(Object.keys(joint.slots)).toEqual(expect.arrayContaining(['on', 'at', 'turned']))
  })

  it('of loops, cues and trials is what documents say of them', () => {
    expectTypeOf<PartOf<typeof loop>>().toExtend<LoopPart>()
    expectTypeOf<PartOf<typeof trial>>().toExtend<Omit<TrialPart, 'cues' | 'overrides' | 'realism'>>()
    for (const cue of cues) expect(Object.keys(cue.slots)).toEqual(expect.arrayContaining(['at'] satisfies (keyof CuePart)[]))
  })
})
