import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { removePart, setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { partName } from '@calm-hand/core/kinds'
import { withRenamedParameter } from '@calm-hand/core'
import { SlotAt } from '../../sentence'
import { unitAsWritten } from '../../units'

type Order = 'as written' | 'name' | 'value'

const none: Readonly<Record<string, Part>> = {}

/** Numbers with names: edited in place, sorted and filtered, usable in any number as a formula. */
export function Parameters() {
  const written = useOpen((project) => project.document.parameters ?? none)
  const worked = useOpen((project) => project.valid.parameters ?? none)
  const problems = useOpen((project) => project.problems)
  const [order, setOrder] = useState<Order>('as written')
  const [sought, setSought] = useState('')
  const names = Object.keys(written).filter((name) => name.toLowerCase().includes(sought.trim().toLowerCase()))
  const valueOf = (name: string) => (worked[name]?.value as number | undefined) ?? 0
  if (order === 'name') names.sort((a, b) => a.localeCompare(b))
  if (order === 'value') names.sort((a, b) => valueOf(b) - valueOf(a))
  return (
    <section aria-label="Parameters">
      <div className="flex items-center justify-between px-4 pt-2.5 pb-1 border-b border-line">
        <h3>Parameters</h3>
        <button
          className="text-[12px] text-kelp font-semibold flex items-center gap-1"
          onClick={() => edit(addParameter(written))}
        >
          <Plus size={13} /> Add
        </button>
      </div>
      {Object.keys(written).length === 0 && (
        <p className="note px-4 py-2">Give a number a name, then use it anywhere: type = 2 * name into any number.</p>
      )}
      {Object.keys(written).length > 5 && (
        <div className="flex gap-2 px-4 py-1.5">
          <input
            className="grow min-w-0 h-7 px-2 border border-line rounded-md bg-transparent text-[12.5px]"
            placeholder="Find a parameter"
            aria-label="Find a parameter"
            value={sought}
            onChange={(event) => setSought(event.target.value)}
          />
          <select
            className="h-7 border border-line rounded-md bg-transparent text-[12.5px]"
            aria-label="Order of the parameters"
            value={order}
            onChange={(event) => setOrder(event.target.value as Order)}
          >
            {(['as written', 'name', 'value'] as const).map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </div>
      )}
      {names.map((name) => {
        const path = `parameters.${name}`
        const problem = problems.find(({ where }) => where.startsWith(`${path}.`))
        return (
          <div key={name} className="px-4 py-0.5 border-b border-line text-[12.5px]" data-parameter={name}>
            <div className="flex items-center gap-2 min-h-[26px]">
              <NameField name={name} taken={Object.keys(written)} />
              <SlotAt path={`${path}.value`} unit={unitAsWritten(written[name]!.unit as string)} shows="bare" />
              <UnitField path={path} unit={written[name]!.unit as string} name={name} />
              <button
                className="text-mist hover:text-coral-text"
                aria-label={`Remove ${name}`}
                onClick={() => edit(removePart(path, `Remove ${name}`))}
              >
                <X size={13} />
              </button>
            </div>
            {problem !== undefined && (
              <p role="alert" className="text-[12px] leading-4 text-coral-text pb-1.5">
                {problem.what} {problem.remedy}
              </p>
            )}
          </div>
        )
      })}
    </section>
  )
}

/** The name, which may change: formulas follow. A name that cannot be one, or is taken, is put back. */
function NameField({ name, taken }: { readonly name: string; readonly taken: readonly string[] }) {
  const rename = (field: HTMLInputElement) => {
    const next = field.value.trim()
    if (next === name) return
    if (!partName.test(next) || taken.includes(next)) {
      field.value = name
      return
    }
    edit({ label: `Rename ${name}`, apply: (document) => withRenamedParameter(document, name, next) })
  }
  return (
    <input
      className="number grow min-w-0 bg-transparent border-b border-transparent focus:border-kelp outline-none"
      aria-label={`Name of ${name}`}
      key={name}
      defaultValue={name}
      onBlur={(event) => rename(event.target)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  )
}

/** The unit in which the engineer wants to read the number, which itself is SI. */
function UnitField({ path, unit, name }: { readonly path: string; readonly unit: string; readonly name: string }) {
  return (
    <input
      className="number text-mist w-[52px] bg-transparent border-b border-transparent focus:border-kelp outline-none"
      aria-label={`Unit of ${name}`}
      key={unit}
      defaultValue={unit}
      onBlur={(event) =>
        event.target.value !== unit && edit(setValue(`${path}.unit`, event.target.value.trim(), `Set unit of ${name}`))
      }
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  )
}

function addParameter(written: Readonly<Record<string, Part>>) {
  let name = 'value1'
  for (let i = 2; name in written; i++) name = `value${i}`
  const part: Part = { kind: 'parameter', value: 1, unit: '' }
  return setValue('parameters', { ...written, [name]: part }, `Add ${name}`)
}
