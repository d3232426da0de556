import { partsIn } from '@calm-hand/core/document'
import { mappedColumn, measuredRecord, signalsOf } from '@calm-hand/core/simulation'
import { ProblemItem } from '../../../frame/ProblemItem'
import { ChoiceField, Sentence, SlotAt } from '../../../sentence'
import { removePart, setValue } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { freeName } from '../../machine/partEdits'
import { FindSignal } from '../FindSignal'
import type { TrialView } from '../useTrialView'
import type { Comparison } from './useComparison'

interface MappingProps {
  readonly view: TrialView
  readonly comparison: Comparison
}

/** What the columns of a file are: signal, unit and sign of each, and what is odd about them. */
export function Mapping({ view, comparison }: MappingProps) {
  const { part, path, told, answer, failure } = comparison
  const columns = told?.columns ?? []
  const names = Object.fromEntries(columns.map(({ name }) => [name, name]))
  const time = (
    <ChoiceField
      label="column of time"
      value={String(part.time)}
      options={names}
      path={`${path}.time`}
      onChoose={(next) => edit(setValue(`${path}.time`, next, 'Set column of time'))}
    />
  )
  const file = <b className="font-medium">{String(part.file)}</b>
  return (
    <section className="section" aria-label="What the columns are">
      <Sentence className="text-[13.5px] leading-[24px]" says={measuredRecord.says} path={path} own={{ file, time }} />
      {told !== undefined && (
        <p className="note">
          <span className="number">{told.rows}</span> rows{told.every > 1 && `, every ${told.every}th of the file`}
          {told.measured !== undefined && <>, as a rule {rateWords(told.measured.step)}</>}
        </p>
      )}
      <table className="w-full text-[12px] table-fixed" aria-label="Columns of the file">
        <colgroup>
          {[25, 33, 14, 12, 16].map((share, i) => (
            <col key={i} style={{ width: `${share}%` }} />
          ))}
        </colgroup>
        <thead>
          <tr className="text-mist text-left">
            {['column', 'signal', 'unit', '±', 'first row'].map((head) => (
              <th key={head} className={`font-normal ${head === 'first row' ? 'text-right' : ''}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {columns.map((column) => (
            <Column key={column.name} {...{ view, comparison }} {...column} />
          ))}
        </tbody>
      </table>
      {answer?.kind === 'refused' && answer.problems.map((problem) => <ProblemItem key={problem.what} problem={problem} />)}
      {failure !== undefined && <p className="finding border-coral">It could not be compared: {failure}</p>}
      {(told?.problems ?? []).map(({ what, remedy }) => (
        <p key={what} className="finding border-ochre my-1">
          {what} {remedy}
        </p>
      ))}
      {(told?.measured?.gaps ?? []).slice(0, 3).map(([from, to]) => (
        <p key={from} className="finding border-slate my-1">
          No rows from <span className="number">{from.toFixed(2)}</span> to <span className="number">{to.toFixed(2)} s</span>:
          left open in charts and in the fit.
        </p>
      ))}
    </section>
  )
}

interface ColumnProps extends MappingProps {
  readonly name: string
  readonly first: string
  readonly isOfWords: boolean
}

function Column({ view, comparison: { part, path, signals }, name, first, isOfWords }: ColumnProps) {
  const document = useOpen((project) => project.valid)
  const mapped = Object.entries(partsIn(part.columns)).find(([, one]) => one.column === name)
  const at = mapped === undefined ? undefined : `${path}.columns.${mapped[0]}`
  const unitOf = (signal: string) => signalsOf(document, view.trial, view.record).find((one) => one.name === signal)?.unit ?? ''
  const take = (signal?: string) => {
    const said = {
      kind: mappedColumn.name,
      column: name,
      ...(signal === undefined ? {} : { signal, unit: unitOf(signal), sign: 'plus' }),
    }
    edit(setValue(at ?? `${path}.columns.${freeName(Object.keys(partsIn(part.columns)), 'c')}`, said, `Say what ${name} is`))
  }
  const known = signals.find((one) => one.name === mapped?.[1].signal)
  const isTime = name === part.time
  const label = isTime
    ? 'time'
    : mapped === undefined
      ? 'not used'
      : isOfWords
        ? 'state lane'
        : (known?.label ?? String(mapped[1].signal))
  return (
    <tr className="h-[23px] align-baseline">
      <th scope="row" className="font-mono font-normal text-left truncate " title={name}>
        {name}
      </th>
      <td>
        {isTime ? (
          label
        ) : isOfWords ? (
          <button className="slot" onClick={() => (at === undefined ? take() : edit(removePart(at, `Leave ${name} out`)))}>
            {label}
          </button>
        ) : (
          <FindSignal view={view} onTake={take}>
            <button
              className={`slot ${mapped === undefined ? 'text-mist' : ''}`}
              aria-label={`signal of ${name}: ${label}`}
              data-path={at === undefined ? undefined : `${at}.signal`}
            >
              {label}
            </button>
          </FindSignal>
        )}
      </td>
      <td>{isTime ? String(part.timeUnit) : at !== undefined && !isOfWords && <SlotAt path={`${at}.unit`} />}</td>
      <td>
        {at !== undefined && !isOfWords && !isTime && (
          <span className="inline-flex gap-1">
            <SlotAt path={`${at}.sign`} />
            <button
              className="text-mist"
              aria-label={`Leave ${name} out`}
              onClick={() => edit(removePart(at, `Leave ${name} out`))}
            >
              ×
            </button>
          </span>
        )}
      </td>
      <td className="number text-right text-mist truncate ">{first}</td>
    </tr>
  )
}

function rateWords(step: number): string {
  const rate = 1 / step
  return rate >= 1 ? `${Number(rate.toPrecision(3))} a second` : `one in ${Number(step.toPrecision(3))} s`
}
