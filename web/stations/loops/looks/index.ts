import type { ReactNode } from 'react'
import { Forms } from './Forms'
import { Nichols } from './Nichols'
import { Nyquist } from './Nyquist'
import { Locus, PolesAndZeros } from './PoleMaps'
import { RateLanes } from './RateLanes'
import { Sensitivity } from './Sensitivity'
import { TogetherLook } from './TogetherLook'
import type { LookProps } from './look'

/** Ways to look at a loop beside its map, gain and phase. */
export const looks: Readonly<Record<string, { readonly label: string; readonly Look: (props: LookProps) => ReactNode }>> = {
  sensitivity: { label: 'Sensitivity', Look: Sensitivity },
  nyquist: { label: 'Nyquist', Look: Nyquist },
  nichols: { label: 'Nichols', Look: Nichols },
  poles: { label: 'Poles', Look: PolesAndZeros },
  locus: { label: 'Locus', Look: Locus },
  forms: { label: 'Forms', Look: Forms },
  together: { label: 'Together', Look: TogetherLook },
  lanes: { label: 'Lanes', Look: RateLanes },
}
