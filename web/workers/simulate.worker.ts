import { expose, transfer } from 'comlink'
import type { Document, Problem } from '@calm-hand/core/document'
import { recordPieceBytes } from '@calm-hand/core/document'
import { packRecord } from '@calm-hand/core/formats'
import { judgedRun, layerNamesOn, verdictsOf } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { browserDatabase } from '../state/browserDatabase'
import { createLastProgram } from './lastProgram'
import { sentOf } from './sentRecord'
import type { SentRecord } from './sentRecord'

export type RunAnswer =
  | { readonly kind: 'run'; readonly record: SentRecord; readonly compileMs: number; readonly runMs: number }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }

const programs = createLastProgram()

/** Compiles and runs a trial away from the interface. Stopping is done by ending the worker. */
const simulator = {
  async run(
    projectId: string,
    given: Document,
    trial: string,
    progress: (share: number) => void,
    onKept: (isKept: boolean) => void,
  ): Promise<RunAnswer> {
    const began = performance.now()
    const ready = await programs(given, trial)
    if (ready.kind === 'refused') return { kind: 'refused', problems: ready.problems }
    const { document, program, simulation } = ready.value
    const compiled = performance.now()
    const part = document.trials[trial]!
    const record = judgedRun(document, program, simulation, {
      trial,
      seed: part.seed,
      layers: layerNamesOn(part),
      goOn: (share) => {
        progress(share)
        return true
      },
    })
    const { sent, buffers } = sentOf(record)
    const answer: RunAnswer = { kind: 'run', record: sent, compileMs: compiled - began, runMs: performance.now() - compiled }
    const packed = packRecord(record)
    void keepRunHere(projectId, record, packed, madeOf(given, record)).then(onKept)
    return transfer(answer, buffers)
  },
}

/** Puts a record into this browser, in packed pieces, until the server has it; whether the browser keeps it. */
async function keepRunHere(
  project: string,
  { hash, trial }: RunRecord,
  packed: Uint8Array<ArrayBuffer>,
  made: string,
): Promise<boolean> {
  try {
    const pieces: Blob[] = []
    for (let from = 0; from < packed.length; from += recordPieceBytes) {
      const piece = new Blob([packed.subarray(from, from + recordPieceBytes)])
      pieces.push(await new Response(piece.stream().pipeThrough(new CompressionStream('gzip'))).blob())
    }
    const run = { project, hash, trial, madeAt: new Date().toISOString(), pieces, made, delivered: 0 }
    await (await browserDatabase()).put('runs', run)
    return true
  } catch {
    return false
  }
}

/** What made a run, and how its checks came out. */
function madeOf(document: Document, record: RunRecord): string {
  const verdicts = verdictsOf(document, record.trial, record).map(({ check, outcome, margin, unit }) => ({
    ...{ check, outcome, unit },
    ...(margin !== undefined && Number.isFinite(margin) ? { margin } : {}),
  }))
  return JSON.stringify({ document, verdicts })
}

export type Simulator = typeof simulator
expose(simulator)
