/** A process as tuning rules see it: gain / ((lag s + 1)(second s + 1)) with a delay; integrating: gain/s in place of the first lag. */
export interface SimpleProcess {
  /** At rest; of an integrating process the slope that one unit of push makes, per s; twice integrating, per s². */
  readonly gain: number
  readonly integrators: 0 | 1 | 2
  /** s; unused where the process integrates */
  readonly lag: number
  /** s; 0 for none */
  readonly second: number
  /** s */
  readonly delay: number
}

/** A law of the ideal form: gain (e + 1/integralTime ∫e + rateTime de/dt); no integral where its time is Infinity. */
export interface IdealGains {
  readonly gain: number
  /** s */
  readonly integralTime: number
  /** s */
  readonly rateTime: number
}

/**
 * The half rule: of the largest lag left out, half goes to the last one kept and half to the delay; smaller lags go to the
 * delay whole. `lags` in s, in any order. Skogestad, Journal of Process Control 13 (2003), section 2.
 */
export function halfRule(
  lags: readonly number[],
  delay: number,
  kept: 0 | 1 | 2,
): { readonly kept: readonly number[]; readonly delay: number } {
  const sorted = [...lags].sort((a, b) => b - a)
  const [first, rest] = [sorted.slice(0, kept), sorted.slice(kept)]
  const [largest = 0, ...smaller] = rest
  if (kept === 0) return { kept: [], delay: delay + rest.reduce((sum, lag) => sum + lag, 0) }
  const last = first.length - 1
  return {
    kept: first.map((lag, i) => (i === last ? lag + largest / 2 : lag)),
    delay: delay + largest / 2 + smaller.reduce((sum, lag) => sum + lag, 0),
  }
}

/**
 * Gains for a closed-loop time constant, which should be at least the delay. Series form turned into the ideal one.
 * Skogestad, Journal of Process Control 13 (2003), table 1; twice integrating as there, equation 27 (from memory).
 */
export function skogestad({ gain, integrators, lag, second, delay }: SimpleProcess, timeConstant: number): IdealGains {
  const pace = timeConstant + delay
  if (integrators === 2) return ideal(1 / (4 * gain * pace * pace), 4 * pace, 4 * pace)
  if (integrators === 1) return ideal(1 / (gain * pace), 4 * pace, second)
  return ideal(lag / (gain * pace), Math.min(lag, 4 * pace), second)
}

/** From gain (1 + 1/(τI s))(1 + τD s) to the ideal form. */
function ideal(gain: number, integralTime: number, rateTime: number): IdealGains {
  const f = 1 + rateTime / integralTime
  return { gain: gain * f, integralTime: integralTime * f, rateTime: rateTime / f }
}

/**
 * Gains from the gain and period at which a proportional loop swings for ever. Ziegler & Nichols, Transactions of the ASME
 * 64 (1942). They leave little damping (common practice, no source: a quarter of each swing is left).
 */
export function zieglerNichols(ultimateGain: number, period: number, law: 'P' | 'PI' | 'PID'): IdealGains {
  switch (law) {
    case 'P':
      return { gain: 0.5 * ultimateGain, integralTime: Infinity, rateTime: 0 }
    case 'PI':
      return { gain: 0.45 * ultimateGain, integralTime: period / 1.2, rateTime: 0 }
    case 'PID':
      return { gain: 0.6 * ultimateGain, integralTime: period / 2, rateTime: period / 8 }
    default:
      return law satisfies never
  }
}

/**
 * The same with more damping. B. D. Tyreus & W. L. Luyben, Industrial & Engineering Chemistry Research 31 (1992), from
 * memory; P as by Ziegler and Nichols.
 */
export function tyreusLuyben(ultimateGain: number, period: number, law: 'P' | 'PI' | 'PID'): IdealGains {
  switch (law) {
    case 'P':
      return zieglerNichols(ultimateGain, period, 'P')
    case 'PI':
      return { gain: ultimateGain / 3.2, integralTime: 2.2 * period, rateTime: 0 }
    case 'PID':
      return { gain: ultimateGain / 2.2, integralTime: 2.2 * period, rateTime: period / 6.3 }
    default:
      return law satisfies never
  }
}

/** A lag (or, with `lag` Infinity, an integrator) with delay, as a step shows it. */
export interface ReactionCurve {
  /** At rest, or of an integrator the slope, for one unit of push. */
  readonly gain: number
  /** s; Infinity for an integrator */
  readonly lag: number
  /** s */
  readonly delay: number
}

/** Gains from the slope and delay of a step. Ziegler & Nichols, Transactions of the ASME 64 (1942), the second table. */
export function reactionTable({ gain, lag, delay }: ReactionCurve, law: 'P' | 'PI' | 'PID'): IdealGains {
  const slope = lag === Infinity ? gain : gain / lag
  const one = 1 / (slope * delay)
  switch (law) {
    case 'P':
      return { gain: one, integralTime: Infinity, rateTime: 0 }
    case 'PI':
      return { gain: 0.9 * one, integralTime: delay / 0.3, rateTime: 0 }
    case 'PID':
      return { gain: 1.2 * one, integralTime: 2 * delay, rateTime: 0.5 * delay }
    default:
      return law satisfies never
  }
}

/** Gains for a lag with delay. G. H. Cohen & G. A. Coon, Transactions of the ASME 75 (1953), from memory. */
export function cohenCoon({ gain, lag, delay }: ReactionCurve, law: 'P' | 'PI' | 'PID'): IdealGains {
  const r = delay / lag
  const one = 1 / (gain * r)
  switch (law) {
    case 'P':
      return { gain: one * (1 + r / 3), integralTime: Infinity, rateTime: 0 }
    case 'PI':
      return { gain: one * (0.9 + r / 12), integralTime: (delay * (30 + 3 * r)) / (9 + 20 * r), rateTime: 0 }
    case 'PID':
      return {
        gain: one * (4 / 3 + r / 4),
        integralTime: (delay * (32 + 6 * r)) / (13 + 8 * r),
        rateTime: (4 * delay) / (11 + 2 * r),
      }
    default:
      return law satisfies never
  }
}
