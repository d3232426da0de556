/** What a unit measures, as powers of the base units of the International System and of the angle. */
export interface Measure {
  /** SI value of one, radians for angles. */
  readonly size: number
  /** Powers of m, kg, s, A, K and rad. */
  readonly powers: readonly number[]
}

const none = [0, 0, 0, 0, 0, 0]
const [m, kg, s, A, K, rad] = none.map((_, i) => none.map((__, k) => (i === k ? 1 : 0))) as [
  number[],
  number[],
  number[],
  number[],
  number[],
  number[],
]
const combined = (...of: readonly (readonly [readonly number[], number])[]) => of.reduce((sum, [powers, times]) => sum.map((one, i) => one + times * powers[i]!), none) // prettier-ignore
const newton = combined([kg, 1], [m, 1], [s, -2])
const joule = combined([newton, 1], [m, 1])
const watt = combined([joule, 1], [s, -1])
const volt = combined([watt, 1], [A, -1])
const ohm = combined([volt, 1], [A, -1])

/** Units of the SI Brochure (BIPM, 9th ed., 2019, tables 2, 4, 7 and 8), and those of the trade: rpm, turns, bar. */
const named: Readonly<Record<string, Measure>> = {
  ...prefixed('m', m, ['k', 'c', 'm', 'µ', 'n']),
  ...prefixed('g', kg, ['k', 'm'], 1e-3),
  t: { size: 1e3, powers: kg },
  ...prefixed('s', s, ['m', 'µ', 'n']),
  min: { size: 60, powers: s },
  h: { size: 3600, powers: s },
  ...prefixed('A', A, ['m', 'k']),
  K: { size: 1, powers: K },
  ...prefixed('rad', rad, ['m', 'µ']),
  '°': { size: Math.PI / 180, powers: rad },
  deg: { size: Math.PI / 180, powers: rad },
  turn: { size: 2 * Math.PI, powers: rad },
  turns: { size: 2 * Math.PI, powers: rad },
  rpm: { size: Math.PI / 30, powers: combined([rad, 1], [s, -1]) },
  ...prefixed('Hz', combined([s, -1]), ['k', 'M', 'm']),
  ...prefixed('N', newton, ['k', 'm', 'M']),
  Nm: { size: 1, powers: joule },
  ...prefixed('J', joule, ['k', 'm']),
  ...prefixed('W', watt, ['k', 'm']),
  ...prefixed('V', volt, ['k', 'm']),
  ...prefixed('Ω', ohm, ['k', 'm', 'M']),
  ...prefixed('H', combined([ohm, 1], [s, 1]), ['m', 'µ']),
  ...prefixed('F', combined([s, 1], [ohm, -1]), ['m', 'µ']),
  ...prefixed('Pa', combined([newton, 1], [m, -2]), ['k', 'M']),
  bar: { size: 1e5, powers: combined([newton, 1], [m, -2]) },
  l: { size: 1e-3, powers: combined([m, 3]) },
  '%': { size: 0.01, powers: none },
  '1': { size: 1, powers: none },
}

function prefixed(name: string, powers: readonly number[], prefixes: readonly string[], size = 1): Record<string, Measure> {
  const sizes: Readonly<Record<string, number>> = { M: 1e6, k: 1e3, c: 1e-2, m: 1e-3, µ: 1e-6, n: 1e-9 }
  const all = prefixes.map((prefix): [string, Measure] => [`${prefix}${name}`, { size: size * sizes[prefix]!, powers }])
  return Object.fromEntries([[name, { size, powers }], ...all])
}

const raised: Readonly<Record<string, string>> = { '²': '2', '³': '3', '⁴': '4', '⁻': '-', '¹': '1' }

/** Reads a unit: `N·m·s/rad`, `g·cm²`, `1/√Hz`, `N·m/(rad/s)`. Nothing where it is none. */
export function measureOf(text: string): Measure | undefined {
  const bracket = /^(.*)\/\s*\((.*)\)$/.exec(text)
  if (bracket !== null) {
    const [above, below] = [measureOf(bracket[1]!), measureOf(bracket[2]!)]
    if (above === undefined || below === undefined) return undefined
    return { size: above.size / below.size, powers: combined([above.powers, 1], [below.powers, -1]) }
  }
  let [size, powers, sign]: [number, readonly number[], number] = [1, none, 1]
  for (const [i, part] of text
    .trim()
    .replace(/μ/g, 'µ')
    .split(/([·*/\s]+)/)
    .entries()) {
    if (i % 2 === 1) sign = part.includes('/') ? -1 : 1
    if (i % 2 === 1 || part === '') continue
    const plain = part.replace(/[²³⁴⁻¹]+/g, (marks) => `^${[...marks].map((mark) => raised[mark]).join('')}`)
    const [, root, name, power = '1'] = /^(√?)([^^]+?)(?:\^(-?\d+))?$/.exec(plain) ?? []
    const found = named[name ?? '']
    if (found === undefined) return undefined
    const times = sign * Number(power) * (root === '√' ? 0.5 : 1)
    size *= found.size ** times
    powers = combined([powers, 1], [found.powers, times])
  }
  return { size, powers }
}

/** Size of one of a unit in another that measures the same; nothing where they do not. A turn a second is a hertz. */
export function sizeIn(typed: string, si: string): number | undefined {
  const [one, other] = [measureOf(typed), measureOf(si)]
  if (one === undefined || other === undefined) return undefined
  if (one.powers.every((power, i) => power === other.powers[i])) return one.size / other.size
  const isTurning = other.powers[5] === 1 && one.powers[5] === 0 && other.powers[2]! < 0
  const isFrequency = isTurning && one.powers.every((power, i) => i === 5 || power === other.powers[i])
  if (isFrequency) return (2 * Math.PI * one.size) / other.size
  const isCounted = one.powers[5] === 1 && other.powers[5] === 0 && other.powers[2]! < 0
  return isCounted && one.powers.every((power, i) => i === 5 || power === other.powers[i])
    ? one.size / (2 * Math.PI) / other.size
    : undefined
}
