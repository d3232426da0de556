import { toast } from 'sonner'
import { change } from '../../state/server'

/** Puts a project into the bin and offers the way back, or says why not; gives whether it is there. */
export async function putIntoBin(id: string, called: string, onTakenBack: () => void): Promise<boolean> {
  const problem = await change('DELETE', `projects/${id}`)
  if (problem !== undefined) {
    toast.error(`${problem.what} ${problem.remedy}`)
    return false
  }
  toast(`${called} is in the bin, for 30 days.`, {
    action: { label: 'Take it back', onClick: () => void change('POST', `bin/${id}`).then(onTakenBack) },
  })
  return true
}
