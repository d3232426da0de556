import { Suspense, lazy, useMemo } from 'react'
import { formulaNames } from '@calm-hand/core'
import { useSettled } from '../state/project'
import type { FormulaEditorProps } from '../text/FormulaEditor'

/** An editor is large: it comes when a formula is opened. */
const FormulaEditor = lazy(async () => ({ default: (await import('../text/FormulaEditor')).FormulaEditor }))

interface FormulaFieldProps extends Omit<FormulaEditorProps, 'names'> {
  readonly path: string
}

/** The formula at a path while it is typed, with the names that may stand in it. */
export function FormulaField({ path, ...props }: FormulaFieldProps) {
  const document = useSettled((settled) => settled)
  const names = useMemo(() => formulaNames(document, path), [document, path])
  return (
    <div>
      <span className="note">{props.label}</span>
      <Suspense fallback={<p className="number text-[15px] leading-[34px] border-b border-line-2">{props.value}</p>}>
        <FormulaEditor {...props} names={names} />
      </Suspense>
    </div>
  )
}
