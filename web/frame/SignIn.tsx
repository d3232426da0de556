import { useState } from 'react'
import { askAccess } from '../state/access'
import { change } from '../state/server'
import { Mark } from './Mark'

/** The door of a server that others may reach. */
export function SignIn() {
  const [passphrase, setPassphrase] = useState('')
  const [wrong, setWrong] = useState<string>()
  const [asking, setAsking] = useState(false)
  const enter = async () => {
    setAsking(true)
    const problem = await change('POST', 'session', { passphrase })
    setAsking(false)
    if (problem === undefined) {
      await askAccess()
      window.location.reload() // everything is asked for anew; what was not saved is kept in the browser
    } else setWrong(`${problem.what} ${problem.remedy}`)
  }
  return (
    <main className="h-full grid place-items-center p-6">
      <form
        className="bg-chalk border border-line rounded-md p-6 w-[380px]"
        onSubmit={(event) => {
          event.preventDefault()
          void enter()
        }}
      >
        <Mark />
        <h1 className="pt-3">Calm Hand</h1>
        <label className="block pt-3">
          <span className="note">Passphrase</span>
          <input
            autoFocus
            type="password"
            autoComplete="current-password"
            className="number w-full text-[15px] h-9 bg-transparent border-b border-line-2 outline-none focus:border-kelp"
            aria-invalid={wrong !== undefined}
            value={passphrase}
            onChange={(event) => setPassphrase(event.target.value)}
          />
        </label>
        {wrong !== undefined && (
          <p role="alert" className="text-[12.5px] text-coral-text pt-2">
            {wrong}
          </p>
        )}
        <button className="button main mt-4" disabled={asking || passphrase === ''}>
          {asking ? 'Opening ...' : 'Open'}
        </button>
        <p className="note pt-4">Who runs this server has it: it was printed at its first start.</p>
      </form>
    </main>
  )
}
