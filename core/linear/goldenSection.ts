const golden = (Math.sqrt(5) - 1) / 2

/** Where a hill between two places is highest, by golden sections: each step keeps 62 % of what is left. */
export function highest(height: (x: number) => number, from: number, to: number, steps: number): number {
  let [low, high] = [from, to]
  let [a, b] = [high - golden * (high - low), low + golden * (high - low)]
  let [fa, fb] = [height(a), height(b)]
  for (let i = 0; i < steps; i++) {
    if (fa > fb) {
      ;[high, b, fb] = [b, a, fa]
      a = high - golden * (high - low)
      fa = height(a)
    } else {
      ;[low, a, fa] = [a, b, fb]
      b = low + golden * (high - low)
      fb = height(b)
    }
  }
  return 0.5 * (low + high)
}
