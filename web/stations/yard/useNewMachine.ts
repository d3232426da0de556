import Joi from 'joi'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import { done } from '@calm-hand/core/document'
import { useJoiForm } from '../../form'
import { judge } from '../../state/judge'
import { createProject } from '../../state/server'
import type { StoredProject } from '../../state/server'
import { keepMeshes, startFromFiles } from './fileStart'
import type { GivenFile } from './fileStart'
import { addressOf, plainMachine, starters } from './newMachine'
import type { Writing } from './newMachine'
import { freeAddress } from './yardEdits'

/** What a new machine can begin with. */
export interface Start {
  readonly label: string
  readonly document: () => Promise<Outcome<Document>>
}

export const starts: readonly Start[] = [
  ...starters.map(({ name, load }) => ({ label: name, document: async () => done(await load()) })),
  { label: 'One body', document: () => Promise.resolve(done(plainMachine())) },
]

/** What could not be taken along is told, but not sixty times. */
const mostToasts = 3

interface Name {
  readonly title: string
}

const named: Joi.ObjectSchema<Name> = Joi.object({ title: Joi.string().trim().max(60) })

/** A new machine on its way: what it begins with, its name, and what is wrong with it so far. */
export function useNewMachine(projects: readonly StoredProject[]) {
  const [chosen, setChosen] = useState<Start>()
  const [written, setWritten] = useState<{ writing: Writing; text: string }>()
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const form = useJoiForm(named, { title: '' })
  const navigate = useNavigate()

  const choose = (start: Start) => {
    setChosen(start)
    setWritten(undefined)
    setProblems([])
    if (form.getValues('title') === '') form.setValue('title', start.label, { shouldValidate: true })
  }
  const forget = () => {
    setChosen(undefined)
    setWritten(undefined)
    setProblems([])
    form.reset()
  }
  const readFiles = async (given: readonly GivenFile[]) => {
    setChosen(undefined)
    const start = await startFromFiles(given)
    if (start.kind === 'refused') return setProblems(start.problems)
    choose({
      label: start.value.label,
      document: async () => {
        const kept = await keepMeshes(start.value)
        if (kept.kind === 'refused') return kept
        for (const { where, what, remedy } of kept.value.left.slice(0, mostToasts)) toast(`${where}: ${what} ${remedy}`)
        return done(kept.value.document)
      },
    })
  }
  const write = (writing: Writing, text: string) => {
    choose({ label: writing.label, document: () => Promise.resolve(writing.document(text)) })
    setWritten({ writing, text })
  }
  const copy = ({ document }: StoredProject) =>
    choose({ label: `${document.title} copy`, document: () => Promise.resolve(done(document)) })
  const make = async ({ title }: Name) => {
    if (chosen === undefined) return
    const outcome = await madeDocument(chosen, title)
    const ids = projects.map(({ id }) => id)
    const made = outcome.kind === 'done' ? await createProject(freeAddress(ids, addressOf(title)), outcome.value) : outcome
    if (made.kind === 'refused') setProblems(made.problems)
    else void navigate(`/${made.value}/machine`)
  }
  return { chosen, written, problems, form, choose, readFiles, write, copy, make, forget }
}

export type NewMachineState = ReturnType<typeof useNewMachine>

/** The document under its new name, checked here so that what is wrong is told before anything is sent. */
async function madeDocument(start: Start, title: string): Promise<Outcome<Document>> {
  const outcome = await start.document()
  if (outcome.kind === 'refused') return outcome
  const document = { ...outcome.value, title, tray: {} }
  const checked = await judge(document)
  return checked.kind === 'refused' ? checked : done(document)
}
