import { expose, transfer } from 'comlink'
import type { Document, Problem } from '@calm-hand/core/document'
import { trialLayers } from '@calm-hand/core/machine'
import { compile, layersOf, start } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'

export type RunAnswer =
  | { readonly kind: 'run'; readonly record: RunRecord; readonly compileMs: number; readonly runMs: number }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }

/** Compiles and runs a trial away from the interface. Stopping is done by ending the worker. */
const simulator = {
  run(document: Document, trial: string, progress: (share: number) => void): RunAnswer {
    const began = performance.now()
    const program = compile(document, trial)
    if (program.kind === 'refused') return { kind: 'refused', problems: program.problems }
    const simulation = start(program.value)
    const compiled = performance.now()
    const part = document.trials[trial]!
    const layers = layersOf(part as never)
    const machine = document.machines[part.machine as string]!
    const record = simulation.run({
      trial,
      seed: part.seed as number,
      layers: trialLayers(machine)
        .map(({ name }) => name)
        .filter((layer) => layers.has(layer)),
      goOn: (share) => {
        progress(share)
        return true
      },
    })
    const answer: RunAnswer = { kind: 'run', record, compileMs: compiled - began, runMs: performance.now() - compiled }
    return transfer(answer, [record.time.buffer, ...record.columns.map(({ values }) => values.buffer)] as ArrayBuffer[])
  },
}

export type Simulator = typeof simulator
expose(simulator)
