import type { Atom } from './sum'

/** The atoms of some sums: letters as they are made, sines and cosines of sums of letters. */
export class Atoms {
  private readonly known = new Map<string, Atom>()

  get(key: string): Atom {
    return this.known.get(key)!
  }

  letter(key: string, latex: string): string {
    if (!this.known.has(key)) this.known.set(key, { key, latex })
    return key
  }

  /** The sine or cosine of an angle whose first letter counts positively; `sign` is what that costs. */
  signedTurn(of: 'sin' | 'cos', angle: ReadonlyMap<string, number>): { key: string; sign: 1 | -1 } {
    const sorted = [...angle].sort(([a], [b]) => (a < b ? -1 : 1))
    const isNegative = (sorted[0]?.[1] ?? 1) < 0
    const turned = new Map(sorted.map(([letter, times]) => [letter, isNegative ? -times : times]))
    const words = [...turned].map(([letter, times]) => `${times}${letter}`).join('+')
    const key = `${of}(${words})`
    if (!this.known.has(key))
      this.known.set(key, { key, latex: `\\${of}${this.angleLatex(turned)}`, turn: { of, angle: turned } })
    return { key, sign: isNegative && of === 'sin' ? -1 : 1 }
  }

  turned(of: 'sin' | 'cos', angle: ReadonlyMap<string, number>): string {
    return this.signedTurn(of, angle).key
  }

  private angleLatex(angle: ReadonlyMap<string, number>): string {
    const terms = [...angle].map(([letter, times], i) => {
      const size = Math.abs(times) === 1 ? '' : String(Math.abs(times))
      return `${times < 0 ? '-' : i === 0 ? '' : '+'}${size}${this.get(letter).latex}`
    })
    return terms.length === 1 && !terms[0]!.startsWith('-') ? ` ${terms[0]!}` : `(${terms.join('')})`
  }
}
