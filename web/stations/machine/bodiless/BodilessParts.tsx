import type { Part } from '@calm-hand/core/document'
import {
  equationOutput,
  equationState,
  equations,
  expectations,
  figure,
  fixableNames,
  inputNames,
  nominalSignal,
  nominalState,
  outputNames,
  plainInput,
  signalSensor,
} from '@calm-hand/core/machine'
import { LedgerRow } from '../LedgerRow'
import { OperatingPoints } from '../OperatingPoints'
import { Parameters } from '../Parameters'
import { PartGroup } from '../PartGroup'
import { SharedSlots } from '../SharedSlots'

interface BodilessPartsProps {
  readonly path: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

/** States, inputs and outputs as sentences, the matrices of a linear model, and what is asked of the machine. */
export function BodilessParts({ path, machine, chosen, onChoose }: BodilessPartsProps) {
  const isTyped = machine.kind === equations.name
  const [first] = fixableNames(machine)
  const fresh = {
    signal: first ?? '',
    input: inputNames(machine)[0] ?? '',
    thenSignal: outputNames(machine)[1] ?? first ?? '',
    size: 3,
  }
  const groups = { path, machine, chosen, onChoose, fresh }
  return (
    <div>
      <SharedSlots path={path} />
      <PartGroup title="Inputs" group="inputs" kinds={[plainInput]} {...groups} />
      <PartGroup title="States" group="states" kinds={[isTyped ? equationState : nominalState]} {...groups} />
      <PartGroup title="Outputs" group="outputs" kinds={[isTyped ? equationOutput : nominalSignal]} {...groups} />
      {!isTyped && (
        <section aria-label="Matrices" className="px-4 py-2 border-b border-line">
          <h3 className="pb-1">Matrices</h3>
          <p className="note pb-1">x′ = A (x − x₀) + B (u − u₀), y = y₀ + C (x − x₀) + D (u − u₀)</p>
          {['a', 'b', 'c', 'd'].map((slot) => (
            <LedgerRow key={slot} path={`${path}.${slot}`} />
          ))}
          {machine.sampleTime !== undefined && <LedgerRow path={`${path}.sampleTime`} />}
        </section>
      )}
      <PartGroup title="Sensors" group="sensors" kinds={[signalSensor]} {...groups} />
      <OperatingPoints {...groups} />
      <PartGroup title="Expectations" group="expectations" kinds={expectations} {...groups} />
      <PartGroup title="Figure" group="figure" kinds={[figure]} {...groups} />
      <Parameters />
    </div>
  )
}
