import Joi from 'joi'
import { Failure, TextField, useJoiForm } from '../form'
import { askAccess } from '../state/access'
import { change } from '../state/server'
import { Mark } from './Mark'

interface Entry {
  readonly passphrase: string
}

const entry: Joi.ObjectSchema<Entry> = Joi.object({ passphrase: Joi.string().max(1000) })

/** The door of a server that others may reach. */
export function SignIn() {
  const form = useJoiForm(entry, { passphrase: '' })
  const { isSubmitting } = form.formState
  const enter = async ({ passphrase }: Entry) => {
    const problem = await change('POST', 'session', { passphrase })
    if (problem !== undefined) return form.setError('root', { message: `${problem.what} ${problem.remedy}` })
    await askAccess()
    window.location.reload() // everything is asked for anew; what was not saved is kept in the browser
  }
  return (
    <main className="h-full grid place-items-center p-6">
      <form
        className="bg-chalk border border-line rounded-md p-6 w-[380px] grid gap-4"
        onSubmit={(event) => void form.handleSubmit(enter)(event)}
      >
        <div>
          <Mark />
          <h1 className="pt-3">Calm Hand</h1>
        </div>
        <TextField
          form={form}
          name="passphrase"
          label="Passphrase"
          input={{ autoFocus: true, type: 'password', autoComplete: 'current-password' }}
        />
        <Failure form={form} />
        <button className="button main justify-self-start" disabled={isSubmitting}>
          {isSubmitting ? 'Opening ...' : 'Open'}
        </button>
        <p className="note">Who runs this server has it: it was printed at its first start.</p>
      </form>
    </main>
  )
}
