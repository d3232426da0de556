import { describe, expect, it } from 'vitest'
import { digitsOf, parseTyped, shownUnit, toShown, withUnit } from './units'

describe('what a person types', () => {
  // definitions of the International System of Units (BIPM, SI Brochure, 9th ed., 2019, tables 3, 7 and 8)
  it.each([
    ['480 g', 'kg', 0.48],
    ['0.25', 'kg', 0.25],
    ['58', 'rad', (58 * Math.PI) / 180],
    ['58°', 'rad', (58 * Math.PI) / 180],
    ['1.2 rad', 'rad', 1.2],
    ['10 Hz', 'rad/s', 20 * Math.PI],
    ['3000 rpm', 'rad/s', 100 * Math.PI],
    ['40 ms', 's', 0.04],
    ['18 km/h', 'm/s', 5],
    ['2,5 m', 'm', 2.5],
    ['-3e-4', 'm', -3e-4],
    ['−12 cm', 'm', -0.12],
    ['.5', '', 0.5],
    ['2 kN', 'N', 2000],
    ['1.5 turns', 'rad', 3 * Math.PI],
    ['600 1/min', 'rad/s', 20 * Math.PI],
    ['90 °/s', 'rad/s', Math.PI / 2],
    ['90', '°/s', Math.PI / 2],
    ['1 rad/s', '°/s', 1],
    ['250 g·cm²', 'kg·m²', 250e-7],
    ['3 mN·m/°', 'N·m/rad', 0.003 * (180 / Math.PI)],
    ['2 N·m/(rad/s)', 'N·m·s/rad', 2],
    ['5 bar', 'Pa', 5e5],
    ['12 mV·s/rad', 'V·s/rad', 0.012],
    ['3 kN/mm', 'N/m', 3e6],
    ['40 %', '', 0.4],
    ['7 mm', 'm', 0.007],
    ['2 t', 'kg', 2000],
  ])('reads %s as SI', (text, si, value) => {
    const typed = parseTyped(text, si)
    expect(typed.kind).toBe('number')
    expect((typed as { value: number }).value).toBeNear(value, { relative: 1e-15 })
  })

  it.each([
    ['', 'kg', /not a number/],
    ['heavy', 'kg', /for example 1\.5 kg/],
    ['NaN', 'kg', /not a number/],
    ['Infinity', 'm', /not a number/],
    ['3 lb', 'kg', /“lb” is not a unit for this\. Use kg, g\./],
    ['3 kg', 'm', /Use m, cm, mm/],
    ['3 kg', '', /plain number/],
    ['1,500', 'rad/s', /Type 1500 or 1\.500/],
  ])('refuses %s for %s with a remedy', (text, si, words) => {
    const typed = parseTyped(text, si)
    expect(typed.kind).toBe('wrong')
    expect((typed as { what: string }).what).toMatch(words)
  })

  it.each(['kg', 'm', 's', 'rad', 'rad/s', 'Hz', 'N', 'm/s', 'kg·m²', ''])('reads back what it shows in %s', (si) => {
    const typed = parseTyped(withUnit(0.1234, si, 12), si)
    expect((typed as { value: number }).value).toBeNear(0.1234, { relative: 1e-11 })
  })
})

describe('what is shown', () => {
  it('keeps to significant figures, without trailing zeros', () => {
    expect(digitsOf(33.34261, 'N')).toBe('33.34')
    expect(digitsOf(5, 'N')).toBe('5')
    expect(digitsOf(Math.PI / 2, 'rad')).toBe('90')
  })

  it('turns to powers of ten where digits would be lost', () => {
    expect(digitsOf(1.2345e-6, 'm')).toBe('1.234e-6')
    expect(digitsOf(2.5e7, 'N', 3)).toBe('2.50e+7')
    expect(digitsOf(0, 'm')).toBe('0')
  })

  it('says what is not a number', () => {
    expect(digitsOf(NaN, 'm')).toBe('NaN')
  })

  it('sets no space before a degree sign', () => {
    expect(withUnit(Math.PI, 'rad')).toBe('180°')
    expect(withUnit(2, 'm')).toBe('2 m')
    expect(shownUnit('N·s²/rad²')).toBe('N·s²/rad²')
    expect(toShown(Math.PI / 30, 'rad/s')).toBe(Math.PI / 30)
  })
})
