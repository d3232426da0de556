/** out += m x, with m row by row. Four rows side by side: one alone would wait for its own last addition. */
export function addProduct(m: Float64Array, x: Float64Array, out: Float64Array): void {
  const n = x.length
  let i = 0
  for (; i + 3 < out.length; i += 4) {
    let [s0, s1, s2, s3] = [out[i]!, out[i + 1]!, out[i + 2]!, out[i + 3]!]
    for (let j = 0, at = i * n; j < n; j++, at++) {
      const share = x[j]!
      s0 += m[at]! * share
      s1 += m[at + n]! * share
      s2 += m[at + 2 * n]! * share
      s3 += m[at + 3 * n]! * share
    }
    out[i] = s0
    out[i + 1] = s1
    out[i + 2] = s2
    out[i + 3] = s3
  }
  for (; i < out.length; i++) {
    let total = out[i]!
    for (let j = 0; j < n; j++) total += m[i * n + j]! * x[j]!
    out[i] = total
  }
}
