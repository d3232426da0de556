import { ChoiceField } from '../../../sentence'

interface StandOnProps {
  readonly marks: readonly { readonly name: string; readonly words: string }[]
  /** The mark, or nothing: where the camera is. */
  readonly on: string | undefined
  readonly onStand: (on: string | undefined) => void
}

/** Where one stands and looks at the machine from. */
export function StandOn({ marks, on, onStand }: StandOnProps) {
  const options = { '': 'here', ...Object.fromEntries(marks.map(({ name, words }) => [name, words])) }
  return (
    <p className="absolute right-3 bottom-[52px] px-2 py-0.5 bg-chalk border border-line rounded-md text-[12.5px]">
      Stand on{' '}
      <ChoiceField
        label="where one stands"
        value={on ?? ''}
        options={options}
        onChoose={(next) => onStand(next === '' ? undefined : next)}
      />
    </p>
  )
}
