import { Fragment } from 'react'
import { pieces } from '@calm-hand/core/kinds'
import { SlotAt } from './SlotAt'

interface SentenceProps {
  readonly says: string
  /** Document path of the part that the sentence is about. */
  readonly path: string
  /** Slots drawn in another way than their kind's own. */
  readonly own?: Readonly<Record<string, React.ReactNode>>
  readonly className?: string
}

/** A kind's sentence with live slots. */
export function Sentence({ className = 'text-[15px] leading-[26px]', ...sentence }: SentenceProps) {
  return (
    <p className={className}>
      <Words {...sentence} />
    </p>
  )
}

/** The same within other words. */
export function Words({ says, path, own = {} }: Omit<SentenceProps, 'className'>) {
  return pieces(says).map((piece, i) => (
    <Fragment key={i}>
      {'text' in piece ? piece.text : (own[piece.slot] ?? <SlotAt path={`${path}.${piece.slot}`} shows={piece.shows} />)}
    </Fragment>
  ))
}
