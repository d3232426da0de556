import { wrap } from 'comlink'
import type { Remote } from 'comlink'
import { useEffect } from 'react'
import { create } from 'zustand'
import { contentHash } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import type { ModelReport } from '@calm-hand/core/simulation'
import type { Inspector } from '../workers/machine.worker'

interface Reports {
  /** By content of the machine. */
  readonly done: Readonly<{ [hash: string]: ModelReport }>
  readonly failed: Readonly<{ [hash: string]: string }>
}

const useReports = create<Reports>(() => ({ done: {}, failed: {} }))
/** A drag makes many machines; only the one that stays for this long is checked. */
const settleMs = 250
/** Reports hold curves: the oldest go. */
const mostKept = 12

let inspector: Remote<Inspector> | undefined
const asked = new Set<string>()

function startedInspector(): Remote<Inspector> {
  inspector ??= wrap<Inspector>(new Worker(new URL('../workers/machine.worker.ts', import.meta.url), { type: 'module' }))
  return inspector
}

export interface ReportState {
  readonly report: ModelReport | undefined
  readonly failure: string | undefined
}

/** The report of a machine, once it has been made; nothing while it is being made. */
export function useReport(machine: Part, layers: readonly MechanismLayerName[]): ReportState {
  const hash = contentHash({ machine, layers })
  const report = useReports((reports) => reports.done[hash])
  const failure = useReports((reports) => reports.failed[hash])
  useEffect(() => {
    const timer = window.setTimeout(() => void makeReport(hash, machine, layers), settleMs)
    return () => window.clearTimeout(timer)
    // the hash says everything about the machine
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [hash])
  return { report, failure }
}

async function makeReport(hash: string, machine: Part, layers: readonly MechanismLayerName[]): Promise<void> {
  if (asked.has(hash)) return
  asked.add(hash)
  try {
    const report = await startedInspector().report(machine, layers)
    useReports.setState(({ done }) => ({
      done: Object.fromEntries([...Object.entries(done).slice(1 - mostKept), [hash, report]]),
    }))
  } catch (error) {
    useReports.setState(({ failed }) => ({ failed: { ...failed, [hash]: (error as Error).message } }))
  }
}
