import { create } from 'zustand'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import type { RecordAccount } from '@calm-hand/core/identification'
import { runHash } from '@calm-hand/core/simulation'
import { answerTo, inPieces } from '../compute'

/** How the run changes with every number, and the account made of it. */
export interface Accounted {
  readonly account: RecordAccount
  readonly ranked: readonly (readonly [string, Float64Array])[]
  readonly seconds: number
}

export type AgainstState =
  | { readonly kind: 'none' }
  | { readonly kind: 'working'; readonly step: string; readonly share: number }
  | { readonly kind: 'done'; readonly found: Accounted }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }
  | { readonly kind: 'failed'; readonly what: string }

interface Against {
  /** What it is about. */
  readonly key: string
  readonly trial: string
  readonly state: AgainstState
}

const none: Against = { key: '', trial: '', state: { kind: 'none' } }

/** The last account against a record that was asked for. */
export const useAgainst = create<Against>(() => none)

/** Which record, over which window. */
export interface AskedRecord {
  readonly record: string
  readonly from: number
  readonly to: number
}

/** Numbers that are looked at in one piece. */
const pieceSize = 6

/** What an account depends on: the run, the record as it is mapped, the window. */
export function againstKey(document: Document, trial: string, { record, from, to }: AskedRecord): string {
  return JSON.stringify([runHash(document, trial), partsIn(document.trials[trial]!.records)[record] ?? '', from, to])
}

/** Works out which numbers explain a record: slopes piece by piece, several at once, then the fit. */
export async function workOutAgainst(
  document: Document,
  written: Document,
  trial: string,
  asked: AskedRecord,
  said?: readonly string[],
): Promise<void> {
  const key = againstKey(document, trial, asked)
  const before = useAgainst.getState()
  const known = before.key === key && before.state.kind === 'done' ? before.state.found.ranked : undefined
  const isWanted = () => useAgainst.getState().key === key && useAgainst.getState().state.kind === 'working'
  const tell = (state: AgainstState) => isWanted() && useAgainst.setState({ state })
  useAgainst.setState({ key, trial, state: { kind: 'working', step: 'Getting ready', share: 0 } })
  const began = performance.now()
  const ask = { document, lane: 'study', rank: 1 } as const
  const about = [written, trial, asked.record, asked.from, asked.to] as const
  try {
    const ranked = known === undefined ? await slopes() : { kind: 'done' as const, value: known }
    if (ranked === undefined) return
    if (ranked.kind === 'refused') return void tell(ranked)
    tell({ kind: 'working', step: 'Fitting', share: 1 })
    const account = await answerTo({
      ...ask,
      name: 'recordAccounted',
      rest: [...about, ranked.value, said],
      subject: `fit ${key}`,
    })
    if (account.kind === 'refused') return void tell(account)
    tell({ kind: 'done', found: { account: account.value, ranked: ranked.value, seconds: (performance.now() - began) / 1000 } })
  } catch (error) {
    tell({ kind: 'failed', what: (error as Error).message })
  }

  async function slopes(): Promise<Outcome<Accounted['ranked']> | undefined> {
    const plan = await answerTo({ ...ask, name: 'recordPlan', rest: [...about], subject: `plan ${key}` })
    if (plan.kind === 'refused') return plan
    const { candidates } = plan.value
    const firsts = Array.from({ length: Math.ceil(candidates / pieceSize) }, (_, i) => i * pieceSize)
    const found: (readonly [string, Float64Array])[] = []
    let looked = 0
    let refused: Outcome<never> | undefined
    await inPieces(firsts, isWanted, async (first) => {
      const subject = `slopes ${key} ${first}`
      const made = await answerTo({ ...ask, name: 'recordSlopes', rest: [...about, [first, pieceSize]], subject })
      if (made.kind === 'refused') refused = made
      if (made.kind === 'refused' || refused !== undefined) return false
      found.push(...made.value)
      looked += Math.min(pieceSize, candidates - first)
      tell({ kind: 'working', step: `${looked} of ${candidates} numbers`, share: looked / candidates })
      return true
    })
    if (!isWanted()) return undefined
    return refused ?? { kind: 'done', value: found }
  }
}

export function cancelAgainst(): void {
  useAgainst.setState(none)
}
