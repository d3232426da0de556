import { X } from 'lucide-react'
import { roleOfLetter, strokes } from '../../chart'
import { keptLetter } from './useKept'
import type { KeptAnswers } from './useKept'

/** What stays on the chart, with what was found of each. */
export function KeptAnswerList({ kept: { answers, dismiss } }: { readonly kept: KeptAnswers }) {
  if (answers.length === 0) return null
  return (
    <section aria-label="Kept answers" className="border-t border-line px-4 py-1.5 text-[12px] leading-[18px]">
      <div className="flex items-center gap-2">
        <h3 className="grow">Kept answers</h3>
        <button className="text-kelp font-semibold" onClick={() => dismiss('all')}>
          Dismiss all
        </button>
      </div>
      <ul>
        {answers.map(({ key, title, words }, i) => {
          const { color, dash } = strokes[roleOfLetter(keptLetter(i))]
          return (
            <li key={key} className="flex items-center gap-2">
              <svg width="26" height="4" aria-hidden="true" className="shrink-0">
                <line x1="0" x2="26" y1="2" y2="2" stroke={`var(${color})`} strokeWidth="2" strokeDasharray={dash} />
              </svg>
              <span className="number whitespace-nowrap">{title}</span>
              <span className="truncate grow" title={words}>
                {words}
              </span>
              <button className="text-mist p-0.5" aria-label={`Dismiss ${title}`} onClick={() => dismiss(key)}>
                <X size={13} />
              </button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
