import { describe, expect, it } from 'vitest'
import { poles } from '../linear'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import { arx, recursiveArx } from './index'

// Ljung, System Identification, 2nd ed.; Åström & Wittenmark, Adaptive Control; computed twice, see the file
const { inputs, expected } = reference<
  {
    u: number[]
    y: number[]
    y_noise_free: number[]
    rls: { P0: number }
    rls_forgetting: { lambda_: number; P0: number }
  },
  Record<'theta_ls' | 'theta_rls_final' | 'theta_rls_forgetting_final' | 'std_errors' | 'theta_noise_free', number[]> & {
    residual_variance: number
  }
>('id-arx')
const orders = { outputs: 2, inputs: 2 }
const thetaOf = ({ a, b }: { a: readonly number[]; b: readonly number[] }) => [...a, ...b]

describe('a model from a record', () => {
  it('has the coefficients, variance and errors of least squares', () => {
    const fit = expectDone(arx(inputs.u, inputs.y, orders, 1))
    expect(thetaOf(fit)).toBeNear(expected.theta_ls, { relative: 1e-6 })
    expect(fit.residualVariance).toBeNear(expected.residual_variance, { relative: 1e-6 })
    expect([...fit.standardErrors]).toBeNear(expected.std_errors, { relative: 1e-6 })
  })

  it('finds the truth where nothing disturbs it, with its poles', () => {
    const fit = expectDone(arx(inputs.u, inputs.y_noise_free, orders, 1))
    expect(thetaOf(fit)).toBeNear(expected.theta_noise_free, { absolute: 1e-8 })
    const [one] = poles(fit.system)!
    expect(one!.re).toBeNear(0.75, { absolute: 1e-8 })
  })

  it('comes to the same sample by sample, and forgets where it is told to', () => {
    const all = expectDone(recursiveArx(inputs.u, inputs.y, orders, 1, { forgetting: 1, startVariance: inputs.rls.P0 }))
    expect(thetaOf(all)).toBeNear(expected.theta_rls_final, { relative: 1e-6 })
    const { lambda_: forgetting, P0: startVariance } = inputs.rls_forgetting
    const late = expectDone(recursiveArx(inputs.u, inputs.y, orders, 1, { forgetting, startVariance }))
    expect(thetaOf(late)).toBeNear(expected.theta_rls_forgetting_final, { relative: 1e-6 })
  })

  it('is refused where the push did nothing, or the record is short', () => {
    const still = new Array<number>(40).fill(1)
    expect(arx(still, still, orders, 1)).toMatchObject({ kind: 'refused', problems: [{ remedy: /change more often/ }] })
    expect(arx([1, 2], [1, 2], orders, 1)).toMatchObject({ kind: 'refused', problems: [{ what: /too few/ }] })
    expect(arx([1], [1, 2], orders, 1)).toMatchObject({ kind: 'refused', problems: [{ what: /equal length/ }] })
    expect(recursiveArx(inputs.u, inputs.y, orders, 1, { forgetting: 0, startVariance: 1 })).toMatchObject({ kind: 'refused' })
  })
})
