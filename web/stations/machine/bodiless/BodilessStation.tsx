import { useMemo, useState } from 'react'
import { partAt, partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { outputNames } from '@calm-hand/core/machine'
import { MachineSwitch } from '../../../frame/MachineSwitch'
import { PanelBoundary } from '../../../frame/PanelBoundary'
import { ThreePanels } from '../../../frame/ThreePanels'
import { useAskedPlace } from '../../../frame/places'
import { useOpen } from '../../../state/project'
import { useReport } from '../../../state/reports'
import { LettersTab } from '../LettersTab'
import { LookTabs } from '../LookTabs'
import { ModelCard } from '../ModelCard'
import { MachineList } from '../MachineList'
import { useLayers } from '../useLayers'
import { useSaving } from '../useSaving'
import { StepGrid } from '../mechanism/StepGrid'
import { BodilessParts } from './BodilessParts'
import { FigureStage } from './FigureStage'
import { InfluenceSketch } from './InfluenceSketch'
import { SignalGrid } from './SignalGrid'

const looks = { letGo: 'Let it go', step: 'Step its inputs', read: 'Read it' } as const

/** A machine without bodies: what acts on what, its equations or matrices, its figure and curves, and its checks. */
export function BodilessStation({ name }: { readonly name: string }) {
  const path = `machines.${name}`
  const document = useOpen((project) => project.valid)
  const valid = document.machines[name]!
  const edited = useOpen((project) => partAt(project.document, path))!
  const [chosen, setChosen] = useState('')
  useAskedPlace(([, , group, part]) => part !== undefined && setChosen(`${group}.${part}`))
  const [look, setLook] = useState<keyof typeof looks>('letGo')
  const layers = useLayers(valid)
  const report = useReport(document, name, layers.on)
  const units = useMemo(() => unitsOf(valid), [valid])
  const [figure] = Object.values(partsIn(valid.figure))
  const curves = (
    <PanelBoundary name="The curves">
      <LookTabs
        looks={looks}
        look={look}
        onLook={setLook}
        content={{
          letGo: <SignalGrid machine={valid} report={report.answer} names={outputNames(valid)} units={units} />,
          step: <StepGrid machine={valid} report={report.answer} units={units} />,
          read: <LettersTab name={name} document={document} written={edited} report={report.answer} />,
        }}
      />
    </PanelBoundary>
  )
  useSaving(name, valid, report.answer)
  return (
    <ThreePanels
      name="bodiless"
      widths={[324, 304]}
      index={
        <>
          <MachineSwitch />
          <PanelBoundary name="The sketch">
            <InfluenceSketch
              machine={valid}
              system={report.answer?.point.kind === 'done' ? report.answer.point.value.system : undefined}
              chosen={chosen}
              onChoose={setChosen}
            />
          </PanelBoundary>
          <PanelBoundary name="The parts">
            <BodilessParts path={path} machine={edited} chosen={chosen} onChoose={setChosen} />
          </PanelBoundary>
          <MachineList name={name} />
        </>
      }
      stage={
        figure === undefined ? (
          curves
        ) : (
          <div className="h-full grid grid-cols-[minmax(0,1fr)] grid-rows-[1fr_330px] min-h-0 bg-chalk">
            <PanelBoundary name="The 3D view">
              <FigureStage name={name} machine={valid} figure={figure} report={report.answer} />
            </PanelBoundary>
            <div className="border-t border-line min-h-0">{curves}</div>
          </div>
        )
      }
      card={<ModelCard machine={valid} report={report} playing={undefined} onPlay={() => undefined} layers={layers} />}
    />
  )
}

function unitsOf(machine: Part): Record<string, string> {
  return Object.fromEntries(
    [machine.states, machine.outputs].flatMap((group) =>
      Object.entries(partsIn(group)).map(([name, { unit }]) => [name, unit as string]),
    ),
  )
}
