import { Suspense, lazy, useEffect, useMemo, useRef } from 'react'
import { formulaNames } from '@calm-hand/core'
import { useOpen } from '../state/project'

/** An editor is large: it comes when a formula is opened. */
const FormulaEditor = lazy(async () => ({ default: (await import('../text/FormulaEditor')).FormulaEditor }))

interface FormulaFieldProps {
  readonly path: string
  readonly label: string
  readonly value: string
  readonly problem: string | undefined
  readonly onChange: (text: string) => void
  readonly onTake: () => void
}

/** The formula at a path while it is typed, with the names that may stand in it. */
export function FormulaField({ path, label, value, problem, onChange, onTake }: FormulaFieldProps) {
  const document = useOpen((project) => project.document)
  // offers stand still while the formula itself goes into the document
  const listed = formulaNames(document, path).join(' ')
  const names = useMemo(() => listed.split(' '), [listed])
  const latest = useRef(onTake)
  useEffect(() => {
    latest.current = onTake
  })
  const take = useMemo(() => () => latest.current(), [])
  return (
    <div>
      <span className="note">{label}</span>
      <Suspense fallback={<p className="number text-[15px] leading-[34px] border-b border-line-2">{value}</p>}>
        <FormulaEditor label={label} value={value} names={names} problem={problem} onChange={onChange} onTake={take} />
      </Suspense>
    </div>
  )
}
