import { Sure } from '../../frame/kept/Sure'
import { moment } from '../../frame/kept/words'
import { afterChange, useBin } from '../../state/kept'
import { change } from '../../state/server'

/** Projects that were taken out of the Yard; nothing while there are none. */
export function Bin() {
  const { data: items } = useBin()
  if (items === undefined || items.length === 0) return null
  return (
    <section aria-label="Bin" className="pt-6">
      <h2 className="text-[15px] font-semibold">Bin</h2>
      <p className="note">What lies here is deleted for good after 30 days.</p>
      <ul>
        {items.map(({ id, title, binnedAt }) => (
          <li key={id} className="flex items-center gap-3 min-h-9 border-b border-line">
            <span className="grow">
              {title}{' '}
              <span className="note">
                {id}, since {moment(binnedAt)}
              </span>
            </span>
            <button
              className="button small"
              onClick={() => void afterChange(change('POST', `bin/${id}`))}
              aria-label={`Take ${title} back`}
            >
              Take it back
            </button>
            <Sure
              label="Delete for good"
              what="With its history and runs."
              onDo={() => void afterChange(change('DELETE', `bin/${id}`))}
            />
          </li>
        ))}
      </ul>
    </section>
  )
}
