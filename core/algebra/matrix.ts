/** A real matrix as rows. Sizes are the caller's promise; the functions do not check them. */
export type Matrix = readonly (readonly number[])[]

export function zeros(rows: number, columns: number): number[][] {
  return Array.from({ length: rows }, () => new Array<number>(columns).fill(0))
}

/** A row times a column, as far as the row goes. */
export function along(row: ArrayLike<number>, column: ArrayLike<number>): number {
  let total = 0
  for (let i = 0; i < row.length; i++) total += row[i]! * column[i]!
  return total
}

export function identity(n: number): number[][] {
  return Array.from({ length: n }, (_, i) => Array.from({ length: n }, (__, j) => (i === j ? 1 : 0)))
}

export function multiply(a: Matrix, b: Matrix): number[][] {
  const columns = b[0]?.length ?? 0
  const across = columnByColumn(b, columns)
  const own = new Float64Array(b.length)
  return a.map((row) => rowTimes(row, own, across, new Array<number>(columns), 0))
}

/** The product of two matrices that is known to be symmetric: only one half is worked out. */
export function symmetricProduct(a: Matrix, b: Matrix): number[][] {
  const n = a.length
  const across = columnByColumn(b, n)
  const own = new Float64Array(b.length)
  const product: number[][] = []
  for (let i = 0; i < n; i++) {
    const row = new Array<number>(n)
    for (let j = 0; j < i; j++) row[j] = product[j]![i]!
    product.push(rowTimes(a[i]!, own, across, row, i))
  }
  return product
}

/** A flat copy of one sort: rows come as arrays of several sorts, on which the inner loop would be slow. */
function columnByColumn(b: Matrix, columns: number): Float64Array {
  const inner = b.length
  const across = new Float64Array(inner * columns)
  for (let k = 0; k < inner; k++) {
    const row = b[k]!
    for (let j = 0; j < columns; j++) across[j * inner + k] = row[j]!
  }
  return across
}

/** One row of a product, from a column on. `own` is room for the row. No closures: what they captured would be looked up at every turn. */
function rowTimes(row: readonly number[], own: Float64Array, across: Float64Array, out: number[], first: number): number[] {
  const inner = own.length
  const columns = out.length
  for (let k = 0; k < inner; k++) own[k] = row[k]!
  let j = first
  // four sums side by side: one alone would wait for its own last addition
  for (; j + 3 < columns; j += 4) {
    let [s0, s1, s2, s3] = [0, 0, 0, 0]
    for (let k = 0, from = j * inner; k < inner; k++, from++) {
      const share = own[k]!
      s0 += share * across[from]!
      s1 += share * across[from + inner]!
      s2 += share * across[from + 2 * inner]!
      s3 += share * across[from + 3 * inner]!
    }
    out[j] = s0
    out[j + 1] = s1
    out[j + 2] = s2
    out[j + 3] = s3
  }
  for (; j < columns; j++) {
    let sum = 0
    for (let k = 0, from = j * inner; k < inner; k++, from++) sum += own[k]! * across[from]!
    out[j] = sum
  }
  return out
}

/** A plain array of what stands from a place on; iterating over a typed array would be far slower. */
function plain(values: Float64Array, from: number): number[] {
  const out = new Array<number>(values.length - from)
  for (let i = from; i < values.length; i++) out[i - from] = values[i]!
  return out
}

export function plusMatrix(a: Matrix, b: Matrix): number[][] {
  return a.map((row, i) => row.map((value, j) => value + b[i]![j]!))
}

export function times(a: Matrix, factor: number): number[][] {
  return a.map((row) => row.map((value) => value * factor))
}

/** Without rows a matrix does not tell its columns: give them where that may be. */
export function transpose(a: Matrix, columns = a[0]?.length ?? 0): number[][] {
  return Array.from({ length: columns }, (_, j) => a.map((row) => row[j]!))
}

/** Euclidean length of a list of numbers. */
export function norm(values: readonly number[]): number {
  return Math.sqrt(values.reduce((total, value) => total + value * value, 0))
}

/** Largest absolute row sum. */
export function rowNorm(a: Matrix): number {
  return Math.max(0, ...a.map((row) => row.reduce((total, value) => total + Math.abs(value), 0)))
}

/**
 * Solves a x = b (columns) by elimination with row pivoting. `undefined` where a is singular to working precision: a
 * pivot below `share` of the largest row sum.
 */
export function solve(a: Matrix, b: Matrix, share = 1e-14): number[][] | undefined {
  const n = a.length
  const smallest = share * rowNorm(a)
  const rows = a.map((row, i) => joined(row, b[i]!))
  const width = rows[0]?.length ?? 0
  for (let j = 0; j < n; j++) {
    let pivot = j
    for (let i = j + 1; i < n; i++) if (Math.abs(rows[i]![j]!) > Math.abs(rows[pivot]![j]!)) pivot = i
    if (!(Math.abs(rows[pivot]![j]!) > smallest)) return undefined
    ;[rows[j], rows[pivot]] = [rows[pivot]!, rows[j]!]
    const own = rows[j]!
    for (let i = j + 1; i < n; i++) {
      const row = rows[i]!
      const factor = row[j]! / own[j]!
      if (factor !== 0) for (let k = j; k < width; k++) row[k]! -= factor * own[k]!
    }
  }
  for (let j = n - 1; j >= 0; j--) {
    const own = rows[j]!
    for (let k = n; k < width; k++) own[k]! /= own[j]!
    for (let i = 0; i < j; i++) {
      const row = rows[i]!
      const factor = row[j]!
      if (factor !== 0) for (let k = n; k < width; k++) row[k]! -= factor * own[k]!
    }
  }
  return rows.map((row) => plain(row, n))
}

function joined(a: readonly number[], b: readonly number[]): Float64Array {
  const out = new Float64Array(a.length + b.length)
  out.set(a)
  out.set(b, a.length)
  return out
}

/** All zeros but for a 1 at one place; nothing but zeros where that is -1. */
export function unitVector(size: number, at: number): number[] {
  return Array.from({ length: size }, (_, i) => (i === at ? 1 : 0))
}
