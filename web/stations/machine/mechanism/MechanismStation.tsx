import { Plus } from 'lucide-react'
import { useLayoutEffect, useMemo, useState } from 'react'
import { partAt, partsIn } from '@calm-hand/core/document'
import { bodiesOf, coordinateNames, ground, moved } from '@calm-hand/core/machine'
import type { ModelReport, MotionEffort } from '@calm-hand/core/simulation'
import { MachineSwitch } from '../../../frame/MachineSwitch'
import { PanelBoundary } from '../../../frame/PanelBoundary'
import { ThreePanels } from '../../../frame/ThreePanels'
import { offerActions } from '../../../frame/actions'
import { drawnInTurn } from '../../../frame/inTurn'
import { useAskedPlace } from '../../../frame/places'
import { edit, useOpen } from '../../../state/project'
import { useEffort, useReport } from '../../../state/reports'
import { LettersTab } from '../LettersTab'
import { LookTabs } from '../LookTabs'
import { ModelCard as Card } from '../ModelCard'
import { MachineList } from '../MachineList'
import { useLayers } from '../useLayers'
import { useSaving } from '../useSaving'
import { FreeMotion as LetGo } from './FreeMotion'
import { MechanismParts } from './MechanismParts'
import { MechanismRigging as Rigging } from './MechanismRigging'
import { MechanismStage } from './MechanismStage'
import { MissingMeshes } from './MissingMeshes'
import { MotionTab } from './MotionTab'
import { PoseSentence } from './PoseSentence'
import { StepGrid as Steps } from './StepGrid'
import { addBody, keepPose } from './mechanismEdits'
import { usePictured } from './usePictured'
import { usePose } from './usePose'

// what an edit or a report changes is drawn piece by piece
const [MechanismRigging, ModelCard] = [drawnInTurn(Rigging), drawnInTurn(Card)]
const [FreeMotion, StepGrid] = [drawnInTurn(LetGo), drawnInTurn(Steps)]

const looks = { letGo: 'Let it go', step: 'Step its inputs', move: 'Move it', read: 'Read it' } as const

/** A mechanism: rigging and ledgers, the machine in 3D with its pose, what it does when let go, and its checks. */
export function MechanismStation({ name }: { readonly name: string }) {
  const path = `machines.${name}`
  const document = useOpen((project) => project.valid)
  const valid = document.machines[name]!
  const edited = useOpen((project) => partAt(project.document, path))!
  const bodies = useMemo(() => Object.keys(bodiesOf(edited)), [edited])
  const [chosen, setChosen] = useState(bodies[0] ?? '')
  useAskedPlace(([, , group, part]) => part !== undefined && setChosen(group === 'bodies' ? part : `${group}.${part}`))
  const [playing, setPlaying] = useState<number>()
  const pictured = usePictured(valid)
  const coordinates = useMemo(() => coordinateNames(pictured), [pictured])
  const coordinate = coordinates.find((one) => one.startsWith(`${chosen}.`)) ?? coordinates[0]
  const pose = usePose(pictured, coordinate)
  const layers = useLayers(valid)
  const report = useReport(document, name, layers.on)
  const motions = Object.keys(partsIn(valid.motions))
  const [wanted, setMotion] = useState<string>()
  const motion = motions.find((one) => one === wanted) ?? motions[0]
  const [look, setLook] = useState<keyof typeof looks>('letGo')
  const effort = useEffort(document, name, look === 'move' ? motion : undefined, layers.on)
  const [moving, setMoving] = useState(false)
  const units = useMemo(
    () => Object.fromEntries(pose.assembly.positions.map(({ name: one, unit }) => [one, unit])),
    [pose.assembly],
  )
  const swing = useMemo(() => {
    if (moving && effort.answer?.kind === 'done') return throughPoses(effort.answer.value)
    return modeMotion(report.answer, playing, pose.assembly)
  }, [report.answer, playing, pose.assembly, moving, effort.answer])

  useLayoutEffect(
    () =>
      offerActions('machine', [
        {
          name: 'Next body',
          keys: 'N',
          group: 'Machine',
          does: () => setChosen((now) => bodies[(bodies.indexOf(now) + 1) % bodies.length]!),
        },
      ]),
    [bodies],
  )
  const add = () => {
    const { name: added, change } = addBody(path, edited, bodies.includes(chosen) ? chosen : ground)
    edit(change)
    setChosen(added)
  }
  useSaving(name, valid, report.answer)
  return (
    <ThreePanels
      name="mechanism"
      widths={[324, 304]}
      index={
        <>
          <MachineSwitch />
          <PanelBoundary name="The rigging">
            <MechanismRigging machine={valid} freedoms={report.answer?.freedoms} chosen={chosen} onChoose={setChosen}>
              <button className="button small" onClick={add}>
                <Plus size={14} /> Body
              </button>
            </MechanismRigging>
          </PanelBoundary>
          <MissingMeshes />
          <PanelBoundary name="The parts">
            <MechanismParts path={path} machine={edited} chosen={chosen} onChoose={setChosen} />
          </PanelBoundary>
          <MachineList name={name} />
        </>
      }
      stage={
        <div
          className={`h-full grid grid-cols-[minmax(0,1fr)] min-h-0 bg-chalk ${look === 'read' ? 'grid-rows-[1fr_330px]' : 'grid-rows-[1fr_214px]'}`}
        >
          <PanelBoundary name="The 3D view">
            <MechanismStage
              name={name}
              machine={valid}
              pictured={pictured}
              chosen={chosen}
              pose={pose}
              rest={report.answer?.point.kind === 'done' ? report.answer.point.value : undefined}
              swing={swing}
              onChoose={setChosen}
            >
              <PoseSentence
                machine={valid}
                pose={pose}
                onCoordinate={(one) => setChosen(one.split('.')[0]!)}
                onKeep={() => {
                  edit(keepPose(path, edited, motion, pose))
                  setLook('move')
                }}
              />
            </MechanismStage>
          </PanelBoundary>
          <div className="border-t border-line min-h-0">
            <PanelBoundary name="The curves">
              <LookTabs
                looks={looks}
                look={look}
                onLook={setLook}
                content={{
                  letGo: (
                    <FreeMotion
                      machine={valid}
                      report={report.answer}
                      before={report.before}
                      coordinate={coordinate}
                      unit={pose.unit}
                      chosen={chosen}
                    />
                  ),
                  step: <StepGrid machine={valid} report={report.answer} units={units} />,
                  move: (
                    <MotionTab
                      machine={valid}
                      motion={motion}
                      onMotion={setMotion}
                      effort={effort}
                      isPlaying={moving}
                      onPlay={setMoving}
                    />
                  ),
                  read: <LettersTab name={name} document={document} written={edited} report={report.answer} body={chosen} />,
                }}
              />
            </PanelBoundary>
          </div>
        </div>
      }
      card={<ModelCard machine={valid} report={report} playing={playing} onPlay={setPlaying} layers={layers} />}
    />
  )
}

/** A motion in its own time, again and again with a breath between. */
function throughPoses({ time, poses }: MotionEffort): (seconds: number) => readonly number[] {
  const [first, last] = [time[0]!, time.at(-1)!]
  const pause = 0.8 // s
  return (seconds) => {
    const t = first + (seconds % (last - first + pause))
    const at = time.findIndex((one) => one >= t)
    return poses[at < 0 ? poses.length - 1 : at]!
  }
}

/** Largest motion of a mode that is shown, rad or m. */
const shownAmplitude = 0.25
/** Modes are shown at about this pace, rad/s, whatever their own. */
const shownPace = 4

/** Positions over time of one mode about the resting point, slowed or hurried to be seen. */
function modeMotion(
  report: ModelReport | undefined,
  playing: number | undefined,
  assembly: Parameters<typeof moved>[0],
): ((seconds: number) => readonly number[]) | undefined {
  if (report?.point.kind !== 'done' || playing === undefined) return undefined
  const { q, modes, spread } = report.point.value
  const mode = modes[playing]
  if (mode === undefined || q.length !== assembly.positions.length) return undefined
  const freedoms = spread[0]?.length ?? 0
  const independent = mode.shape.slice(0, freedoms)
  const speeds = (phase: number) =>
    spread.map((row) =>
      row.reduce(
        (sum, share, k) =>
          sum + share * (independent[k]!.phase.re * Math.cos(phase) - independent[k]!.phase.im * Math.sin(phase)),
        0,
      ),
    )
  const most = Math.max(
    1e-12,
    ...spread.map((row) => Math.abs(row.reduce((sum, share, k) => sum + Math.abs(share) * independent[k]!.size, 0))),
  )
  return (seconds) =>
    moved(
      assembly,
      q,
      speeds(shownPace * seconds).map((value) => (shownAmplitude * value) / most),
    )
}
