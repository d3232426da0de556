import { useMemo, useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import { stepForms } from '@calm-hand/core/simulation'
import type { ModelReport, StepForms } from '@calm-hand/core/simulation'
import { ChoiceField } from '../../../sentence'
import { digitsOf, shownUnit, toShown, withUnit } from '../../../units'

interface StepGridProps {
  readonly machine: Part
  readonly report: ModelReport | undefined
  /** Unit of each position by name. */
  readonly units: Readonly<Record<string, string>>
}

const width = 128
const height = 74

/** A step of one input, and how every coordinate answers: a grid of small charts. */
export function StepGrid({ machine, report, units }: StepGridProps) {
  const plain = (name: string) => shortName(name, machine)
  const point = report?.point.kind === 'done' ? report.point.value : undefined
  const [asked, setAsked] = useState<string>()
  const inputs = point?.inputs ?? []
  const input = inputs.find(({ name }) => name === asked) ?? inputs[0]
  const seconds = report?.seconds
  const steps = useMemo(() => {
    if (point === undefined || input === undefined) return []
    const outputs = point.system.outputs.filter((name) => name in units)
    return stepForms(point.system, input.name, outputs, input.step, seconds)
  }, [point, input, units, seconds])
  if (report === undefined) return <p className="note p-4">Stepping its inputs ...</p>
  if (point === undefined) return <p className="note p-4">It does not rest anywhere yet, so there is nothing to step from.</p>
  if (input === undefined) return <p className="note p-4">It has no drive. Add one, and step it here.</p>
  const wrong = steps.filter(({ wrongWay }) => wrongWay).map(({ output }) => plain(output))
  return (
    <div className="px-3 pt-2 h-full overflow-auto" tabIndex={0} aria-label="Step of each input">
      <p className="text-[12.5px] leading-[22px]">
        Give{' '}
        <ChoiceField
          label="input"
          value={input.name}
          options={Object.fromEntries(inputs.map(({ name }) => [name, plain(name)]))}
          onChoose={setAsked}
        />{' '}
        <span className="number">{withUnit(input.step, input.unit, 2)}</span> more, and look for{' '}
        <span className="number">{digitsOf(steps[0]?.t.at(-1) ?? 0, 's', 2)} s</span>. {formsInWords(steps, plain)}{' '}
        {wrong.length > 0 && <b className="font-semibold text-ochre-text">{wrong.join(', ')} first goes the wrong way.</b>}
      </p>
      <ul className="flex flex-wrap gap-x-3 gap-y-1">
        {steps.map((step) => (
          <li key={step.output}>
            <SmallChart name={plain(step.output)} step={step} unit={units[step.output]!} />
          </li>
        ))}
      </ul>
    </div>
  )
}

function SmallChart({ name, step, unit }: { readonly name: string; readonly step: StepForms; readonly unit: string }) {
  const values = step.y.map((value) => toShown(value, unit))
  const [least, most] = [Math.min(0, ...values), Math.max(0, ...values)]
  const isStill = most === least
  const span = most - least || 1
  const end = step.t.at(-1)!
  const x = (t: number) => (width * t) / end
  const y = (value: number) => (isStill ? height / 2 : 4 + ((height - 8) * (most - value)) / span)
  const told = step.final ?? step.y.at(-1)!
  const where = step.final === undefined ? `after ${digitsOf(end, 's', 2)} s is at` : 'ends at'
  const words = `${name} ${where} ${digitsOf(told, unit, 3)} ${shownUnit(unit)}${step.wrongWay ? ', after a start the wrong way' : ''}`
  return (
    <figure aria-label={words}>
      <figcaption className="text-[11px] leading-4 flex justify-between w-[128px]">
        <span className="truncate">{name}</span>
        <span className="number text-mist">{Math.abs(told) < 1e-12 ? withUnit(0, unit) : withUnit(told, unit, 2)}</span>
      </figcaption>
      <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true" className="border border-line">
        <line x1="0" x2={width} y1={y(0)} y2={y(0)} stroke="var(--line-2)" />
        <path
          d={`M${step.t.map((t, k) => `${x(t).toFixed(1)} ${y(values[k]!).toFixed(1)}`).join(' L')}`}
          fill="none"
          stroke={step.wrongWay ? 'var(--ochre)' : 'var(--kelp)'}
          strokeWidth="1.6"
        />
        {step.transfer !== undefined && (
          <path
            d={`M${step.t.map((t, k) => `${x(t).toFixed(1)} ${y(toShown(step.transfer![k]!, unit)).toFixed(1)}`).join(' L')}`}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1"
            strokeDasharray="2 4"
          />
        )}
        {step.sampled.map(({ t, y: value }) => (
          <circle key={t} cx={x(t)} cy={y(toShown(value, unit))} r="1.3" fill="var(--slate)" />
        ))}
      </svg>
    </figure>
  )
}

/** Share of the largest excursion up to which forms of a model are called the same. */
const same = 1e-6

/** What the line, the dots and the dashes are, and whether they say the same. */
function formsInWords(steps: readonly StepForms[], plain: (name: string) => string): string {
  const [first] = steps
  if (first === undefined) return ''
  const drawn = first.transfer === undefined ? 'Dots: held and sampled.' : 'Dots: held and sampled; dashes: as transfer function.'
  const worst = steps.reduce((a, b) => (b.disagreement > a.disagreement ? b : a))
  if (worst.disagreement <= same) return `${drawn} They agree.`
  return `${drawn} At ${plain(worst.output)} they differ by ${digitsOf(100 * worst.disagreement, '', 2)} %: coefficients of this order lose digits.`
}
