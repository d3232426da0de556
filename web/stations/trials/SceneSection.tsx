import { useState } from 'react'
import { X } from 'lucide-react'
import { partsIn, replaceAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { blankPart, findKind, labelOf } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { meshShape, surroundings } from '@calm-hand/core/machine'
import { mark, obstacles, scene as sceneKind } from '@calm-hand/core/scene'
import { Folded } from '../../frame/Folded'
import { AddMenu } from '../../frame/AddMenu'
import { ChoiceField, Sentence } from '../../sentence'
import { addPart, removePart } from '../../state/edits'
import { labelled } from '../../state/labels'
import { edit, useOpen } from '../../state/project'
import { LedgerRows } from '../machine/LedgerRows'
import { freeName } from '../machine/partEdits'
import { StandingMesh } from './StandingMesh'
import type { TrialView } from './useTrialView'

type Labelled = AnyKind & { readonly label: string }

const groups: readonly { readonly group: string; readonly label: string; readonly kinds: readonly Labelled[] }[] = [
  { group: 'obstacles', label: 'Obstacles', kinds: obstacles },
  { group: 'surroundings', label: 'Ground and air', kinds: surroundings },
  { group: 'marks', label: 'Marks', kinds: [mark] },
]

/** What a new scene is chosen by. */
const fresh = '+'

/** What is around the machine in this trial, and in others that share the scene. */
export function SceneSection({ view }: { readonly view: TrialView }) {
  const scenes = useOpen((project) => project.document.scenes) ?? none
  const chosen = useOpen((project) => project.document.trials[view.trial]?.scene) ?? ''
  const sharing = useOpen((project) => Object.values(project.document.trials).filter(({ scene }) => scene === chosen).length)
  const options = { '': 'the surroundings of the machine', ...labelled(scenes), [fresh]: 'a new scene' }
  const choose = (name: string) => {
    const next = name === fresh ? freeName(Object.keys(scenes), 'scene') : name
    edit({
      label: 'Set the scene',
      apply: (document) => {
        const made = name === fresh ? replaceAt(document, `scenes.${next}`, { kind: sceneKind.name }) : document
        return replaceAt(made, `trials.${view.trial}.scene`, next === '' ? undefined : next)
      },
    })
  }
  const scene = scenes[chosen]
  const [hasAdded, setAdded] = useState(false)
  return (
    <section className="section" aria-label="Scene">
      <div className="flex items-center">
        <h3 className="grow">Scene</h3>
        {scene !== undefined && <AddToScene path={`scenes.${chosen}`} scene={scene} onAdded={() => setAdded(true)} />}
      </div>
      <p className="text-[13px] leading-[24px]">
        Around it is <ChoiceField label="scene" value={chosen} options={options} onChoose={choose} />.
      </p>
      {sharing > 1 && chosen !== '' && <p className="note">{sharing} trials share it.</p>}
      {scene !== undefined && <SceneParts key={String(hasAdded)} path={`scenes.${chosen}`} scene={scene} startsOpen={hasAdded} />}
    </section>
  )
}

const none: Readonly<Record<string, Part>> = {}

interface ScenePartProps {
  readonly path: string
  readonly scene: Part
}

function AddToScene({ path, scene, onAdded }: ScenePartProps & { readonly onAdded: () => void }) {
  const add = (group: string, kind: Labelled) => {
    const name = freeName(Object.keys(partsIn(scene[group])), kind.name)
    // a wall to keep clear of is one that can be seen
    const size = 'size' in kind.slots ? { size: [1, 1, 1] } : {}
    edit(addPart(`${path}.${group}.${name}`, blankPart(kind, size), `Add a ${kind.label}`))
    onAdded()
  }
  return <AddMenu label="Part" says="Add to the scene" groups={groups} onAdd={(kind, group) => add(groups[group]!.group, kind)} />
}

/** What was just added is seen. */
function SceneParts({ path, scene, startsOpen }: ScenePartProps & { readonly startsOpen: boolean }) {
  const all = groups.flatMap(({ group, kinds }) =>
    Object.entries(partsIn(scene[group])).flatMap(([name, part]) => {
      const kind = findKind(kinds, part)
      return kind === undefined ? [] : [{ at: `${path}.${group}.${name}`, name, part, kind }]
    }),
  )
  if (all.length === 0) return <p className="note">Nothing stands there yet.</p>
  return (
    <Folded title={all.length === 1 ? '1 part' : `${all.length} parts`} startsOpen={startsOpen}>
      <ul>
        {all.map(({ at, name, part, kind }) => (
          <li key={at} className="py-0.5" data-scene-part={name}>
            <div className="flex items-start">
              <Sentence
                says={`${labelOf(part, name)}: ${kind.says}`}
                path={at}
                className="grow text-[13px] leading-[24px] [&_.slot]:whitespace-normal"
              />
              <button
                className="size-6 grid place-items-center text-mist shrink-0"
                aria-label={`Remove ${name} from the scene`}
                onClick={() => edit(removePart(at, `Remove ${name}`))}
              >
                <X size={14} />
              </button>
            </div>
            <LedgerRows kind={kind} without={kind.name === meshShape.name ? [...saidIn(kind), 'mesh'] : saidIn(kind)} path={at} />
            {kind.name === meshShape.name && <StandingMesh path={at} isHere={part.mesh !== undefined} />}
          </li>
        ))}
      </ul>
    </Folded>
  )
}

function saidIn({ says, slots }: AnyKind): string[] {
  return Object.keys(slots).filter((slot) => slots[slot]!.type !== 'vector' && says.includes(`{${slot}}`))
}
