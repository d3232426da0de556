import { Plus, X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { machineNumbers } from '@calm-hand/core/machine'
import type { SpreadChoice, SpreadState } from '../../state/spreads'
import { ChoiceField } from '../../sentence'
import { parameterWords } from '../parameterWords'

interface SpreadSectionProps {
  readonly machine: Part
  readonly parameters: Document['parameters']
  readonly choice: SpreadChoice
  readonly state: SpreadState
  readonly onChoose: (choice: SpreadChoice) => void
}

const shares = Object.fromEntries([5, 10, 20, 30, 50].map((percent) => [String(percent / 100), `± ${percent} %`]))

/** Numbers of the machine that are not known well, how far they may lie off, and what that does to the loop. */
export function SpreadSection({ machine, parameters, choice, state, onChoose }: SpreadSectionProps) {
  const spreads = Object.keys(partsIn(machine.allocations)).length > 0
  const numbers = machineNumbers(machine).filter(({ value }) => value !== 0)
  const called: Readonly<Record<string, string>> = {
    ...parameterWords(parameters),
    ...Object.fromEntries(numbers.map(({ path, words }) => [path, words])),
  }
  const left = Object.fromEntries(Object.entries(called).filter(([path]) => !choice.paths.includes(path)))
  return (
    <section className="section text-[12.5px]" aria-label="Spread">
      <h3 className="pb-1">Spread</h3>
      <p>
        Numbers of the machine within{' '}
        <ChoiceField
          label="how far they may lie off"
          value={String(choice.share)}
          options={shares}
          onChoose={(share) => onChoose({ ...choice, share: Number(share) })}
        />{' '}
        of what they are said to be, all gains as they are{spreads && '; allocation knows none of it'}.
      </p>
      <ul>
        {choice.paths.map((path) => (
          <li key={path} className="flex items-center gap-2 pl-2 border-l-2 border-line my-0.5">
            <span className="grow truncate" title={called[path]}>
              {called[path] ?? path}
            </span>
            <button
              className="text-mist p-0.5"
              aria-label={`${called[path] ?? path} is known`}
              onClick={() => onChoose({ ...choice, paths: choice.paths.filter((one) => one !== path) })}
            >
              <X size={13} />
            </button>
          </li>
        ))}
      </ul>
      <p className="flex items-center gap-1 text-kelp">
        <Plus size={13} />
        <ChoiceField
          label="another number that varies"
          value=""
          options={{ '': 'a number', ...left }}
          onChoose={(path) => path !== '' && onChoose({ ...choice, paths: [...choice.paths, path] })}
        />
      </p>
      <Outcome state={state} />
    </section>
  )
}

function Outcome({ state: { spread, late } }: { readonly state: SpreadState }) {
  if (spread === undefined) return late ? <p className="note">Working out the spread ...</p> : null
  if (typeof spread === 'string') return <p className="finding border-ochre">{spread}</p>
  const { count, worst, unstable, without } = spread
  const list = (all: readonly string[]) =>
    all.length > 2 ? `${all.slice(0, 2).join('; ')}; and ${all.length - 2} more` : all.join('; ')
  return (
    <div className={late ? 'opacity-60' : ''} role="status">
      {unstable.length > 0 && (
        <p className="finding border-coral mt-1">
          Unstable in {unstable.length} of {count} cases: {list(unstable)}.
        </p>
      )}
      {without.length > 0 && (
        <p className="finding border-ochre mt-1">
          No design can be judged in {without.length} cases: {list(without)}.
        </p>
      )}
      {worst !== undefined && (
        <p className="finding border-kelp mt-1">
          Of {count} cases the least in hand is{' '}
          <b className="number font-medium">{((worst.phaseMargin * 180) / Math.PI).toFixed(1)}°</b>: {worst.words}.
        </p>
      )}
    </div>
  )
}
