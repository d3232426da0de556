import Joi from 'joi'
import { Dialog } from 'radix-ui'
import { Failure, TextField, useJoiForm } from '../../form'
import { saveProject } from '../../state/server'
import type { StoredProject } from '../../state/server'

interface ProjectWords {
  readonly title: string
  readonly about: string
  readonly note: string
}

const words: Joi.ObjectSchema<ProjectWords> = Joi.object({
  title: Joi.string().trim().max(60),
  about: Joi.string().trim().max(120).allow(''),
  note: Joi.string().trim().max(20_000).allow(''),
})

/** The words that a project is known by. */
export function YardWords({ project, onDone }: { readonly project: StoredProject; readonly onDone: () => void }) {
  const { title, about, note } = project.document
  const form = useJoiForm(words, { title, about, note })
  const keep = async (typed: ProjectWords) => {
    const answer = await saveProject(project.id, {
      revision: project.revision,
      document: { ...project.document, ...typed },
      label: `Name it ${typed.title}`,
      save: crypto.randomUUID(),
      follows: [],
    })
    if (answer.kind === 'saved') return onDone()
    const message =
      answer.kind === 'refused'
        ? `${answer.problems[0]!.what} ${answer.problems[0]!.remedy}`
        : answer.kind === 'stale'
          ? 'It has been changed elsewhere just now. Close this, and open it again.'
          : answer.what
    form.setError('root', { message })
  }
  return (
    <form className="grid gap-3" onSubmit={(event) => void form.handleSubmit(keep)(event)}>
      <TextField form={form} name="title" label="Name" />
      <TextField form={form} name="about" label="In a few words" />
      <TextField form={form} name="note" label="Note" rows={5} />
      <Failure form={form} />
      <div className="flex justify-end gap-2">
        <Dialog.Close className="button">Leave</Dialog.Close>
        <button className="button main" disabled={form.formState.isSubmitting}>
          Keep
        </button>
      </div>
    </form>
  )
}
