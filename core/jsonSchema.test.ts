import { Ajv2020 } from 'ajv/dist/2020.js'
import { describe, expect, it } from 'vitest'
import { replaceAt } from './document'
import { documentJsonSchema, groups } from './index'
import type { AnyKind } from './kinds'
import { demoNames, demoText } from './tests/demo'

// the reference library for JSON Schema in this ecosystem checks what our own schema says
const validate = new Ajv2020({ strict: true, allowUnionTypes: true, allErrors: true }).compile(documentJsonSchema())
const written = (name: string) => JSON.parse(demoText(name)) as { machines: object }

describe('the published schema', () => {
  it.each(demoNames)('takes the demo document %s as it is written', (name) => {
    expect(validate(written(name)) ? [] : validate.errors).toEqual([])
  })

  it.each<[string, string, unknown]>([
    ['a number out of its bounds', 'machines.ramp.bodies.innerLeaf.mass', -1],
    ['a number as text', 'machines.ramp.bodies.innerLeaf.mass', '31 kg'],
    ['a vector too short', 'machines.ramp.bodies.innerLeaf.centre', [1, 2]],
    ['an unknown kind', 'machines.ramp.bodies.innerLeaf.joint.kind', 'hinge'],
    ['a name that is none', 'machines', { 'Big Ramp': {} }],
  ])('refuses %s', (_, path, value) => {
    expect(validate(replaceAt(written('boarding-ramp'), path, value))).toBe(false)
  })

  it('takes a formula where a number may stand', () => {
    expect(validate(replaceAt(written('boarding-ramp'), 'machines.ramp.bodies.innerLeaf.mass', '= 2 * leaf'))).toBe(true)
  })

  it('needs one meaning for each kind name', () => {
    const seen = new Map<string, AnyKind>()
    const walk = (kinds: readonly AnyKind[]): void => {
      for (const kind of kinds) {
        const before = seen.get(kind.name)
        if (before !== undefined) {
          expect(before).toBe(kind)
          continue
        }
        seen.set(kind.name, kind)
        for (const slot of Object.values(kind.slots)) if ('kinds' in slot) walk(slot.kinds)
      }
    }
    walk(Object.values(groups).flat())
    expect(seen.size).toBeGreaterThan(60)
  })
})
