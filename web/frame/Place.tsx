import { useNavigate } from 'react-router'
import { placeInWords } from '@calm-hand/core'
import { useOpen } from '../state/project'
import { placeAddress } from './places'

/** Where something is, in words; leads there. */
export function Place({ where }: { readonly where: string }) {
  const id = useOpen((project) => project.id)
  const document = useOpen((project) => project.document)
  const navigate = useNavigate()
  if (where === '') return null
  return (
    <button className="note block text-left underline decoration-line-2" onClick={() => void navigate(placeAddress(id, where))}>
      {placeInWords(document, where)}
    </button>
  )
}
