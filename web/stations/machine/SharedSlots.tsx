import { useEffect } from 'react'
import { findAt, partAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { everyPart } from '@calm-hand/core/kinds'
import type { Slot } from '@calm-hand/core/kinds'
import { machineKinds } from '@calm-hand/core/machine'
import { SlotAt } from '../../sentence'
import { clearMarks, useMarks } from '../../state/marks'
import { useOpen } from '../../state/project'

/** What can be said of several parts at once. */
const shared: readonly Slot['type'][] = ['number', 'vector', 'choice', 'toggle']

/** The slots that all marked parts have, each edited for all of them as one step. */
export function SharedSlots({ path }: { readonly path: string }) {
  const document = useOpen((project) => project.document)
  const marked = useMarks().filter((one) => one.startsWith(`${path}.`) && findAt(document, one) !== undefined)
  useEffect(() => clearMarks, [path])
  if (marked.length < 2) return null
  const [first, ...rest] = marked as [string, ...string[]]
  const slots = commonSlots(partAt(document, path)!, path, marked)
  return (
    <section className="border-b border-line bg-kelp-tint px-4 py-2 text-[12.5px]" aria-label="Edited together">
      <div className="flex items-baseline gap-2 pb-1">
        <h3 className="grow">{marked.length} edited together</h3>
        <button className="text-kelp font-semibold" onClick={clearMarks}>
          Unmark
        </button>
      </div>
      {slots.length === 0 && <p className="note">They have nothing in common that could be set.</p>}
      {slots.flatMap(({ name, slot }) => {
        const also = rest.map((one) => `${one}.${name}`)
        const components = slot.type === 'vector' ? slot.components.map((_, i) => i) : [undefined]
        return components.map((component) => {
          const at = component === undefined ? '' : `.${component}`
          const values = marked.map((one) => JSON.stringify(findAt(document, `${one}.${name}${at}`)))
          const differ = values.some((value) => value !== values[0])
          return (
            <div key={name + at} className="flex items-baseline justify-between gap-2 min-h-[24px]">
              <span>
                {slot.label}{' '}
                {component === undefined || slot.type !== 'vector' ? (
                  ''
                ) : (
                  <span className="note">{slot.components[component]}</span>
                )}
              </span>
              <span>
                {differ && slot.type !== 'number' && slot.type !== 'vector' && <span className="note pr-1.5">now differ</span>}
                <SlotAt
                  path={`${first}.${name}`}
                  also={also}
                  {...(component === undefined ? {} : { component })}
                  {...(differ ? { words: 'differ' } : {})}
                />
              </span>
            </div>
          )
        })
      })}
    </section>
  )
}

/** Slots of one name, sort and unit in every part. */
function commonSlots(machine: Part, path: string, marked: readonly string[]): { readonly name: string; readonly slot: Slot }[] {
  const found = everyPart(machineKinds, path, machine)
  const [first, ...rest] = marked.map((one) => found.find((part) => part.path === one)?.kind)
  return Object.entries(first?.slots ?? {})
    .filter(([name, slot]) => shared.includes(slot.type) && rest.every((kind) => isSame(kind?.slots[name], slot)))
    .map(([name, slot]) => ({ name, slot }))
}

function isSame(a: Slot | undefined, b: Slot): boolean {
  if (a === undefined || a.type !== b.type || a.label !== b.label) return false
  return !('unit' in a) || !('unit' in b) || a.unit === b.unit
}
