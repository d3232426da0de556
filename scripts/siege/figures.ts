/** One figure of the siege: what was found, against what is to hold. */
export interface Figure {
  readonly what: string
  readonly found: string
  readonly holds: boolean
  /** It depends on how fast the machine is: told, but no test fails by it. */
  readonly isTimed?: boolean
}

export function atMost(what: string, found: number, limit: number, unit = ''): Figure {
  return {
    what,
    found: `${Number(found.toPrecision(3))}${unit} (at most ${limit}${unit})`,
    holds: found <= limit,
    isTimed: / m?s$/.test(unit),
  }
}

export function none(what: string, found: number, of: number): Figure {
  return { what, found: `${found} of ${of}`, holds: found === 0 }
}

/** Something that is told and judged by nobody. */
export function told(what: string, found: string): Figure {
  return { what, found, holds: true }
}

/** The value below which a share of all lies. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0
}

export function printed(title: string, figures: readonly Figure[]): string {
  const width = Math.max(...figures.map(({ what }) => what.length))
  return [
    `\n${title}`,
    ...figures.map(({ what, found, holds }) => `  ${holds ? 'holds' : 'FAILS'}  ${what.padEnd(width)}  ${found}`),
  ].join('\n')
}
