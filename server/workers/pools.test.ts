import { expect, it } from 'vitest'
import { serverBuild } from '../../scripts/serverBuild.mjs'
import { startReaders } from './pools'

it('ends a thread whose file takes longer than it may, and answers the next', async () => {
  const readers = startReaders({ documentMs: 60_000, meshMs: 1 }, await serverBuild())
  const corners = Array.from({ length: 200_000 }, (_, i) => `v ${i % 97} ${i % 89} ${i % 83}`)
  const faces = Array.from({ length: 199_998 }, (_, i) => `f ${i + 1} ${i + 2} ${i + 3}`)
  const large = new TextEncoder().encode([...corners, ...faces].join('\n'))
  const problems = await readers.mesh('large.obj', large)
  expect(problems).toMatchObject([{ where: 'large.obj', what: expect.stringMatching(/took more than/) as string }])
  expect(await readers.body('save', '{}')).toMatchObject({ status: 400 })
  await readers.close()
})
