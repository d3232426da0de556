import { describe, expect, it } from 'vitest'
import { Graph, evaluation } from '../expression'
import { reference } from '../tests/reference'
import { standardAtmosphere } from './atmosphere'

interface Row {
  readonly Z_geometric_m: number
  readonly T_K: number
  readonly P_Pa: number
  readonly rho: number
  readonly a: number
  readonly mu: number
}

describe('the standard atmosphere', () => {
  // U.S. Standard Atmosphere, 1976, table I, by geometric altitude
  const { rows } = reference<unknown, { rows: readonly Row[] }>('air-ussa76').expected

  it.each(rows)('is that of the table at $Z_geometric_m m', ({ Z_geometric_m: z, T_K, P_Pa, rho, a, mu }) => {
    const air = standardAtmosphere(z)
    expect(Object.values(air)).toHaveLength(5)
    // above 80 km the molecular weight varies, which the closed form leaves out
    for (const [value, wanted] of [
      [air.temperature, T_K],
      [air.pressure, P_Pa],
      [air.density, rho],
      [air.soundSpeed, a],
      [air.viscosity, mu],
    ])
      expect(value as number).toBeNear(wanted as number, { relative: 1e-5 })
  })

  it('goes on without a jump where layers meet', () => {
    const earth = 6_356_766
    for (const h of [11_000, 20_000, 32_000, 47_000, 51_000, 71_000]) {
      const z = (earth * h) / (earth - h)
      const [below, above] = [standardAtmosphere(z - 1e-6), standardAtmosphere(z + 1e-6)]
      expect(below.density as number).toBeNear(above.density as number, { relative: 1e-8 })
    }
  })

  it('is the same as an expression', () => {
    const graph = new Graph()
    const { density } = standardAtmosphere(graph.slot(0))
    expect(evaluation(Float64Array.of(5000)).number(density)).toBe(standardAtmosphere(5000).density)
  })
})
