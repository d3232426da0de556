import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { Part, Problem } from '@calm-hand/core/document'
import { removePart, setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { partName, partOf } from '@calm-hand/core/kinds'
import { parameter, withRenamedParameter } from '@calm-hand/core'
import { SlotAt } from '../../sentence'
import { DataTable } from '../../table'
import type { TableColumn } from '../../table'
import { unitAsWritten } from '../../units'

const none: Readonly<Record<string, Part>> = {}

/** More scroll by themselves. */
const mostAtOnce = 60

/** Numbers with names: edited in place, sorted and filtered, usable in any number as a formula. */
export function Parameters() {
  const written = useOpen((project) => project.document.parameters ?? none)
  const worked = useOpen((project) => project.valid.parameters ?? none)
  const problems = useOpen((project) => project.problems)
  const [sought, setSought] = useState('')
  const names = Object.entries(written).flatMap(([name, part]) =>
    name.toLowerCase().includes(sought.trim().toLowerCase()) ? [{ name, unit: partOf(parameter, part).unit }] : [],
  )
  const valueOf = (name: string) => (worked[name] === undefined ? 0 : partOf(parameter, worked[name]).value)
  const columns: readonly TableColumn<{ readonly name: string; readonly unit: string }>[] = [
    {
      name: 'name',
      leads: true,
      by: ({ name }) => name,
      cell: ({ name }) => <NameField name={name} taken={Object.keys(written)} />,
    },
    {
      name: 'value',
      by: ({ name }) => valueOf(name),
      cell: ({ name, unit }) => <SlotAt path={`parameters.${name}.value`} unit={unitAsWritten(unit)} shows="bare" />,
    },
    {
      name: 'unit',
      className: 'w-[60px]',
      cell: ({ name, unit }) => <UnitField path={`parameters.${name}`} unit={unit} name={name} />,
    },
    {
      name: 'remove',
      head: <span className="sr-only">remove</span>,
      className: 'w-6',
      cell: ({ name }) => (
        <button
          className="text-mist hover:text-coral-text"
          aria-label={`Remove ${name}`}
          onClick={() => edit(removePart(`parameters.${name}`, `Remove ${name}`))}
        >
          <X size={13} />
        </button>
      ),
    },
  ]
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
        </div>
      )}
      {names.length > 0 && (
        <div className={`px-4 ${names.length > mostAtOnce ? 'h-[420px] flex' : ''}`}>
          <DataTable
            caption="Parameters"
            className="text-[12.5px]"
            columns={columns}
            rows={names}
            keyOf={({ name }) => name}
            rowProps={({ name }) => ({ className: 'h-[27px] border-b border-line', 'data-parameter': name })}
            below={({ name }) => problemOf(problems, `parameters.${name}`)}
            {...(names.length > mostAtOnce ? { rowHeight: 27 } : {})}
          />
        </div>
      )}
    </section>
  )
}

/** What is wrong with a parameter, under it. */
function problemOf(problems: readonly Problem[], path: string) {
  const problem = problems.find(({ where }) => where.startsWith(`${path}.`))
  if (problem === undefined) return null
  return (
    <p role="alert" className="text-[12px] leading-4 text-coral-text pb-1.5">
      {problem.what} {problem.remedy}
    </p>
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
