import { useEffect, useMemo, useState } from 'react'
import { findAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { floatingBody, mechanism } from '@calm-hand/core/machine'
import { PanelBoundary } from '../../frame/PanelBoundary'
import { ThreePanels } from '../../frame/ThreePanels'
import { offerActions } from '../../frame/actions'
import { useAskedPlace } from '../../frame/places'
import { useOpen } from '../../state/project'
import { withoutLifters } from '@calm-hand/core'
import { edit } from '../../state/project'
import { Bodies } from './Bodies'
import { MachineCard } from './MachineCard'
import { MachineStage } from './MachineStage'
import { Rigging } from './Rigging'
import { BodilessStation } from './bodiless/BodilessStation'
import { MechanismStation } from './mechanism/MechanismStation'

/** What the machine is made of: rigging and ledgers, 3D, findings and layers; by its kind. */
export function MachineStation() {
  const name = useOpen((project) => Object.keys(project.document.machines)[0]!)
  const kind = useOpen((project) => project.document.machines[name]!.kind)
  if (kind === floatingBody.name) return <LifterStation name={name} />
  return kind === mechanism.name ? <MechanismStation key={name} name={name} /> : <BodilessStation key={name} name={name} />
}

function LifterStation({ name }: { readonly name: string }) {
  const [chosen, setChosen] = useState('hull')
  useAskedPlace(
    ([, , group, part]) => group !== undefined && setChosen(group === 'bodies' || group === 'sensors' ? part! : group),
  )
  const valid = useOpen((project) => findAt(project.valid, `machines.${name}`)) as Part
  const edited = useOpen((project) => findAt(project.document, `machines.${name}`)) as Part
  const bodies = useMemo(() => Object.keys(edited.bodies as object), [edited])
  const chooseNext = useMemo(
    () => () =>
      setChosen(
        (now) => [...bodies, 'rotors', 'sensors'][([...bodies, 'rotors', 'sensors'].indexOf(now) + 1) % (bodies.length + 2)]!,
      ),
    [bodies],
  )
  useEffect(() => offerActions('machine', [{ name: 'Next part', keys: 'N', group: 'Machine', does: chooseNext }]), [chooseNext])
  return (
    <ThreePanels
      name="machine"
      widths={[304, 304]}
      index={
        <>
          <Rigging machine={edited} chosen={chosen} onChoose={setChosen} />
          <Bodies name={name} machine={edited} chosen={chosen} onChoose={setChosen} />
          <AsBodies />
        </>
      }
      stage={
        <PanelBoundary name="The 3D view">
          <MachineStage machine={valid} name={name} chosen={chosen} />
        </PanelBoundary>
      }
      card={<MachineCard machine={valid} />}
    />
  )
}

/** A lifter written as what it is made of: everything that bodies on joints have is then open to it. */
function AsBodies() {
  return (
    <div className="px-4 py-3 text-[12.5px]">
      <button className="button small" onClick={() => edit({ label: 'Write as bodies on joints', apply: withoutLifters })}>
        Write it as bodies on joints
      </button>
      <p className="note pt-1">
        The same flight, with rotors one by one, readings, pushes and operating points. What is pinned was flown before; undo
        brings all of it back.
      </p>
    </div>
  )
}
