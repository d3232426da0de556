import type { Change } from '@calm-hand/core'
import { withUnitOrWhole } from '../../units'

interface ChangeListProps {
  readonly changes: readonly Change[]
  /** What is said where there are none. */
  readonly none: string
  /** More of them are counted only. */
  readonly most?: number
}

/** Differences of two states of a document, a line each. */
export function ChangeList({ changes, none, most = 12 }: ChangeListProps) {
  if (changes.length === 0) return <p className="note">{none}</p>
  return (
    <ul className="text-[12.5px] leading-[20px]">
      {changes.slice(0, most).map((change) => (
        <li key={change.path} title={change.path}>
          {changeWords(change)}
        </li>
      ))}
      {changes.length > most && <li className="note">And {changes.length - most} more.</li>}
    </ul>
  )
}

/** Significant figures: what differs is seen. */
const digits = 6

/** One difference in words: "mass of hull: 1.65 kg, then 1.8 kg". */
function changeWords({ words, sort, was, is, unit = '' }: Change): React.ReactNode {
  const said = (value: number | string) => (typeof value === 'number' ? withUnitOrWhole(value, unit, digits) : value)
  switch (sort) {
    case 'added':
      return (
        <>
          <b className="font-medium">{words}</b> came
        </>
      )
    case 'removed':
      return (
        <>
          <b className="font-medium">{words}</b> went
        </>
      )
    case 'renamed':
      return (
        <>
          {was} is called <b className="font-medium">{is}</b>
        </>
      )
    case 'set':
      return (
        <>
          {words}
          {was === undefined && is === undefined ? (
            ' is another'
          ) : (
            <>
              : <span className="number">{was === undefined ? 'nothing' : said(was)}</span>, then{' '}
              <b className="number font-medium">{is === undefined ? 'nothing' : said(is)}</b>
            </>
          )}
        </>
      )
    default:
      return sort satisfies never
  }
}
