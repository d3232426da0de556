import { useEffect } from 'react'
import { useLocation } from 'react-router'
import { useProject } from '../state/project'

const product = 'Calm Hand'

/** The page's title names the project and the station, so that tabs can be told apart. */
export function usePageTitle(): void {
  const title = useProject((state) => state.project?.document.title)
  const station = useLocation().pathname.split('/')[2]
  useEffect(() => {
    const word = station === undefined ? '' : `, ${station}`
    window.document.title = title === undefined ? product : `${title}${word} · ${product}`
  }, [title, station])
}
