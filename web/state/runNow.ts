import { lookedAt } from './project'
import { runTrial } from './runs'

/** Runs a trial of the open project as it is now, also right after an edit that is still looked at. */
export async function runNow(projectId: string, trial: string): Promise<void> {
  const project = await lookedAt(projectId)
  if (project?.valid.trials[trial] !== undefined) await runTrial(projectId, project.valid, trial)
}
