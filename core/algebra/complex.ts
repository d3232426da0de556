export interface Complex {
  readonly re: number
  readonly im: number
}

export function complex(re: number, im = 0): Complex {
  return { re, im }
}

export function plusComplex(a: Complex, b: Complex): Complex {
  return { re: a.re + b.re, im: a.im + b.im }
}

export function timesComplex(a: Complex, b: Complex): Complex {
  return { re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re }
}

export function overComplex(a: Complex, b: Complex): Complex {
  // Smith's scaling keeps the squares from overflowing. R. L. Smith, Algorithm 116, CACM 5 (1962).
  if (Math.abs(b.re) >= Math.abs(b.im)) {
    const r = b.im / b.re
    const d = b.re + b.im * r
    return { re: (a.re + a.im * r) / d, im: (a.im - a.re * r) / d }
  }
  const r = b.re / b.im
  const d = b.re * r + b.im
  return { re: (a.re * r + a.im) / d, im: (a.im * r - a.re) / d }
}

/** |a|, without overflow; square root and scaling only, so that every host gives the same bits. */
export function magnitude(a: Complex): number {
  const most = Math.max(Math.abs(a.re), Math.abs(a.im))
  if (!(most > 0 && most < Infinity)) return most
  const [re, im] = [a.re / most, a.im / most]
  return most * Math.sqrt(re * re + im * im)
}

/** Solves a x = b for complex rows, with row pivoting; `undefined` where a is singular. Overwrites its copies only. */
export function solveComplex(a: readonly (readonly Complex[])[], b: readonly (readonly Complex[])[]): Complex[][] | undefined {
  const n = a.length
  const m = a.map((row) => [...row])
  const x = b.map((row) => [...row])
  for (let j = 0; j < n; j++) {
    let pivot = j
    for (let i = j + 1; i < n; i++) if (magnitude(m[i]![j]!) > magnitude(m[pivot]![j]!)) pivot = i
    if (!(magnitude(m[pivot]![j]!) > 0)) return undefined
    ;[m[j], m[pivot]] = [m[pivot]!, m[j]!]
    ;[x[j], x[pivot]] = [x[pivot]!, x[j]!]
    for (let i = 0; i < n; i++) {
      if (i === j) continue
      const factor = overComplex(m[i]![j]!, m[j]![j]!)
      if (factor.re === 0 && factor.im === 0) continue
      const minus = { re: -factor.re, im: -factor.im }
      for (let k = j; k < n; k++) m[i]![k] = plusComplex(m[i]![k]!, timesComplex(minus, m[j]![k]!))
      for (let k = 0; k < x[i]!.length; k++) x[i]![k] = plusComplex(x[i]![k]!, timesComplex(minus, x[j]![k]!))
    }
  }
  return x.map((row, i) => row.map((value) => overComplex(value, m[i]![i]!)))
}
