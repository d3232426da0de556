import { describe, expect, it } from 'vitest'
import { startFromFiles } from './fileStart'

describe('a project from files', () => {
  it.each(['hull.stl', 'HULL.OBJ', 'lens.glb'])('says of the mesh %s alone what to give with it', async (path) => {
    const started = await startFromFiles([{ path, file: new File(['solid hull'], path) }])
    expect(started).toMatchObject({
      kind: 'refused',
      problems: [{ where: path, what: 'A mesh alone is no machine.', remedy: /robot description/ }],
    })
  })

  it('says when there is nothing', async () => {
    expect(await startFromFiles([])).toMatchObject({ kind: 'refused', problems: [{ what: 'There is no file in it.' }] })
  })
})
