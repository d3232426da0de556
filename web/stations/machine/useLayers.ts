import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
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
  const all = useMemo(() => layersOfMachine(machine), [machine])
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
