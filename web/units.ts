import { measureOf, sizeIn } from '@calm-hand/core/kinds'

/** Units of display. Core and documents are SI and radians; this file alone converts. */

export interface Unit {
  readonly name: string
  /** SI value of one. */
  readonly size: number
}

/** What a person or the document says of a unit: the SI unit of the core, or one that was chosen to be shown. */
export type UnitSaid = string | Unit

/** For an SI unit of the core: the units a person may type, the first being what is shown. */
const units: Readonly<{ [si: string]: readonly Unit[] }> = {
  kg: [
    { name: 'kg', size: 1 },
    { name: 'g', size: 1e-3 },
  ],
  m: [
    { name: 'm', size: 1 },
    { name: 'cm', size: 1e-2 },
    { name: 'mm', size: 1e-3 },
  ],
  s: [
    { name: 's', size: 1 },
    { name: 'ms', size: 1e-3 },
    { name: 'min', size: 60 },
  ],
  rad: [
    { name: '°', size: Math.PI / 180 },
    { name: 'deg', size: Math.PI / 180 },
    { name: 'rad', size: 1 },
  ],
  'rad/s': [
    { name: 'rad/s', size: 1 },
    { name: 'Hz', size: 2 * Math.PI },
    { name: 'rpm', size: Math.PI / 30 },
    { name: '°/s', size: Math.PI / 180 },
  ],
  // motions, as they are shown: see `motionUnit`
  '°/s': [{ name: '°/s', size: Math.PI / 180 }],
  '°/s²': [{ name: '°/s²', size: Math.PI / 180 }],
  '°/s³': [{ name: '°/s³', size: Math.PI / 180 }],
  Hz: [
    { name: 'Hz', size: 1 },
    { name: 'kHz', size: 1e3 },
  ],
  N: [
    { name: 'N', size: 1 },
    { name: 'kN', size: 1e3 },
  ],
  'm/s': [
    { name: 'm/s', size: 1 },
    { name: 'km/h', size: 1 / 3.6 },
  ],
}

function unitsOf(si: UnitSaid): readonly Unit[] {
  return typeof si === 'string' ? (units[si] ?? [{ name: si, size: 1 }]) : [si]
}

/** The unit that somebody wrote beside a number that is kept in SI: 0.05 with % is shown as 5. */
export function unitAsWritten(name: string): Unit {
  return { name, size: measureOf(name)?.size ?? 1 }
}

export function shownUnit(si: UnitSaid): string {
  return unitsOf(si)[0]!.name
}

/** The unit of one quantity for a unit of another. */
export function unitOver(si: string, other: string): string {
  if (other === '') return si
  return other.includes('·') || other.includes('/') ? `${si}/(${other})` : `${si}/${other}`
}

export function toShown(value: number, si: UnitSaid): number {
  return value / unitsOf(si)[0]!.size
}

/** A number for reading: `digits` significant figures, in the shown unit, without it. */
export function digitsOf(value: number, si: UnitSaid, digits = 4): string {
  if (!Number.isFinite(value)) return String(value)
  const shown = toShown(value, si)
  if (shown !== 0 && (Math.abs(shown) < 1e-4 || Math.abs(shown) >= 1e6)) return shown.toExponential(digits - 1)
  return String(Number(shown.toPrecision(digits)))
}

/** With its unit. */
export function withUnit(value: number, si: UnitSaid, digits = 4): string {
  const unit = shownUnit(si)
  return unit === '' ? digitsOf(value, si, digits) : `${digitsOf(value, si, digits)}${unit === '°' ? '' : ' '}${unit}`
}

/** The same, but a count or a seed, which has no unit, with all its digits. */
export function withUnitOrWhole(value: number, si: UnitSaid, digits = 4): string {
  return si === '' && Number.isInteger(value) ? String(value) : withUnit(value, si, digits)
}

/** Any other unit of the same kind: `kN` for N, `g·cm²` for kg·m². */
function anyUnit(name: string, { name: si }: Unit): Unit | undefined {
  // beside a plain number only a share makes sense
  if (si === '' && name !== '%') return undefined
  const of = si === '' ? '1' : si
  const size = sizeIn(name, of)
  return size === undefined ? undefined : { name, size: size * measureOf(of)!.size }
}

/**
 * The unit in which a motion is shown: what turns turns by degrees, in one view with its angle. Frequencies of modes and
 * loops stay in rad/s.
 */
export function motionUnit(si: string): string {
  return turning[si] ?? si
}

/** The same of a signal of a run: shafts of drives turn too fast for degrees. */
export function signalUnit({ name, unit }: { readonly name: string; readonly unit: string }): string {
  return /^[^.]+\.drives\./.test(name) ? unit : motionUnit(unit)
}

const turning: Readonly<Record<string, string>> = { 'rad/s': '°/s', 'rad/s²': '°/s²', 'rad/s³': '°/s³' }

export type Typed =
  | { readonly kind: 'number'; readonly value: number }
  /** A formula over parameters, in SI: kept as it was typed. */
  | { readonly kind: 'formula'; readonly text: string }
  | { readonly kind: 'wrong'; readonly what: string }

/** Reads what a person typed: a number, with or without a unit of the right sort. */
export function parseTyped(text: string, si: UnitSaid): Typed {
  const match = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(text.replace('−', '-').replace(',', '.'))
  if (text.trimStart().startsWith('=')) return { kind: 'formula', text: text.trim() }
  const known = unitsOf(si)
  const grouped = /\d,\d{3}(?!\d)/.exec(text)
  if (grouped !== null) {
    const [plain, fraction] = [text.replace(',', ''), text.replace(',', '.')].map((one) => one.trim())
    return { kind: 'wrong', what: `“${text}” can be read in two ways. Type ${plain} or ${fraction}.` }
  }
  const example = `for example 1.5${known[0]!.name === '' ? '' : ` ${known[0]!.name}`}`
  if (match === null) return { kind: 'wrong', what: `“${text}” is not a number. Type one, ${example}.` }
  const [, number, unit] = match
  const found = unit === '' ? known[0] : (known.find(({ name }) => name === unit) ?? anyUnit(unit!, known[0]!))
  if (found === undefined) {
    const list = known.map(({ name }) => name).filter((name) => name !== '')
    return {
      kind: 'wrong',
      what:
        list.length === 0
          ? `This is a plain number; “${unit}” does not belong here.`
          : `“${unit}” is not a unit for this. Use ${list.join(', ')}.`,
    }
  }
  return { kind: 'number', value: Number(number) * found.size }
}
