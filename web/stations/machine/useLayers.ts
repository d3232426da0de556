import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { layersOfMachine } from '@calm-hand/core/machine'
import type { MechanismLayer, MechanismLayerName } from '@calm-hand/core/machine'

export interface LayerChoice {
  /** Those that matter to the machine. */
  readonly all: readonly MechanismLayer[]
  readonly on: readonly MechanismLayerName[]
  readonly off: ReadonlySet<string>
  readonly onSwitch: (name: string) => void
}

/** Which realism layers are on, as the URL says: `?off=friction,stops`. */
export function useLayers(machine: Part): LayerChoice {
  const [search, setSearch] = useSearchParams()
  const structure = structureOf(machine)
  // layers follow from kinds and fields alone: a drag of a number must not work them out anew
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const all = useMemo(() => layersOfMachine(machine), [structure])
  const said = search.get('off') ?? ''
  return useMemo(() => {
    const off = new Set(said.split(',').filter((name) => all.some((layer) => layer.name === name)))
    const onSwitch = (name: string) => {
      const next = new Set(off)
      if (!next.delete(name)) next.add(name)
      const params = new URLSearchParams(search)
      if (next.size === 0) params.delete('off')
      else params.set('off', [...next].join(','))
      setSearch(params, { replace: true })
    }
    return { all, on: all.map(({ name }) => name).filter((name) => !off.has(name)), off, onSwitch }
  }, [all, said, search, setSearch])
}

/** Kinds of all parts of a machine, and which fields they have. */
function structureOf(machine: Part): string {
  return Object.entries(machine)
    .flatMap(([group, parts]) =>
      typeof parts === 'object' && parts !== null && !Array.isArray(parts)
        ? Object.values(partsIn(parts)).map((part) => `${group} ${part.kind} ${Object.keys(part).join(' ')}`)
        : [],
    )
    .join('\n')
}
