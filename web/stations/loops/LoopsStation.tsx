import { useCallback, useEffect, useLayoutEffect, useMemo, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { runHash } from '@calm-hand/core/simulation'
import { PanelBoundary } from '../../frame/PanelBoundary'
import { MachineSwitch } from '../../frame/MachineSwitch'
import { ThreePanels } from '../../frame/ThreePanels'
import { offerActions } from '../../frame/actions'
import { drawnInTurn } from '../../frame/inTurn'
import { useAskedPlace } from '../../frame/places'
import { pinRun } from '../../state/edits'
import { edit, useOpen, useProject } from '../../state/project'
import { useSpread } from '../../state/spreads'
import type { SpreadChoice } from '../../state/spreads'
import { freeLetter } from '../../tray/letters'
import { chooseMachine, useMachineName } from '../../state/chosenMachine'
import { useAnswer } from '../../compute'
import { fourHalves } from '../../compute/loops/combinations'
import type { LoopView } from '../../compute/loops/loopView'
import type { Way } from '../../compute/loops/ways'
import { EmptyStation } from '../EmptyStation'
import { AddLoop } from './AddLoop'
import { Ladder } from './ladder/Ladder'
import { LoopCard as Card } from './LoopCard'
import { LoopCharts as Charts } from './LoopCharts'
import { LoopSentence } from './LoopSentence'
import { PhaseAccount as Account } from './PhaseAccount'
import { KeptAnswerList } from './KeptAnswerList'
import { SpreadSection } from './SpreadSection'
import { retune } from './retune'
import { useKept } from './useKept'
import type { KeptAnswer } from './useKept'

// ladder and sentence follow the hand; what was worked out is drawn piece by piece
const [LoopCard, LoopCharts, PhaseAccount] = [drawnInTurn(Card), drawnInTurn(Charts), drawnInTurn(Account)]

/** What holds it steady: ladder, the loop as a sentence, its curves, what a change bought. */
export function LoopsStation() {
  const { project, loop: asked } = useParams()
  const navigate = useNavigate()
  const machine = useMachineName()
  const loop = useOpen((open) => {
    // one that was just removed may still be in the last document without problems
    const there = Object.keys(open.valid.loops).filter((name) => name in open.document.loops)
    return there.find((name) => name === asked) ?? there.find((name) => open.valid.loops[name]!.machine === machine)
  })
  if (loop !== undefined) return <Loops loop={loop} />
  return (
    <>
      <MachineSwitch />
      <EmptyStation title="No loop yet" action={<AddLoop onAdded={(name) => void navigate(`/${project}/loops/${name}`)} />}>
        Check at the machine what holds it still, then let a loop hold one of its quantities. It starts with all gains 0.
      </EmptyStation>
    </>
  )
}

function Loops({ loop }: { readonly loop: string }) {
  const { project } = useParams()
  useAskedPlace()
  const navigate = useNavigate()
  const document = useOpen((open) => open.valid)
  const machine = document.loops[loop]!.machine
  useEffect(() => chooseMachine(project!, machine), [project, machine])
  // the one that is chosen is no other page to come back from
  const choose = useCallback(
    (name: string) => void (name !== loop && navigate(`/${project}/loops/${name}`)),
    [navigate, project, loop],
  )
  const [asks, setAsks] = useState<string>()
  const { answer: view, of, failure } = useAnswer('loopView', document, [loop, asks], { subject: loop })
  const [choice, setChoice] = useSpreadChoice()
  // as it is written matters only to a spread: its parameters vary
  const written = useOpen((open) => (choice.paths.length > 0 ? open.document : open.valid))
  const state = useSpread(document, written, loop, choice, view?.asked, view?.window)
  const [comparing, setComparing] = useState(false)
  const kept = useKept(of ?? document, loop, view)
  const compared = comparing && view?.now !== undefined ? view : undefined
  const ways = useAnswer('ways', document, compared && [loop, compared.asked, compared.window, fourHalves], {
    subject: loop,
    rank: 2,
  })
  const waysNow = ways.answer ?? noWays
  const before = useDrawnLoop(project!, loop, view)
  const drawn = view === undefined && failure !== undefined ? undefined : before
  const isOwn = drawn?.view === view
  const paler = isOwn ? '' : 'opacity-50'

  useLayoutEffect(
    () =>
      offerActions('loops', [
        { name: 'Pin this design', keys: 'P', group: 'Loops', does: () => pinDesign(loop) },
        { name: 'Keep this answer on the chart', keys: 'K', group: 'Loops', does: kept.keep },
        { name: 'Retune stale loops', group: 'Loops', does: () => void retune(document) },
        { name: 'Compare feedback and feedforward', keys: 'F', group: 'Loops', does: () => setComparing((on) => !on) },
      ]),
    [loop, kept.keep, document],
  )
  return (
    <ThreePanels
      name="loops"
      widths={[288, 320]}
      index={
        <div className="h-full flex flex-col min-h-0">
          <MachineSwitch onChoose={() => void navigate(`/${project}/loops`)} />
          <div className="grow min-h-0">
            <Ladder document={document} chosen={loop} onChoose={choose} />
          </div>
        </div>
      }
      stage={
        drawn === undefined ? (
          <Waiting failure={failure} />
        ) : (
          <div
            inert={!isOwn}
            aria-busy={!isOwn}
            className={`h-full grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto] bg-chalk ${paler}`}
          >
            <LoopSentence loop={drawn.loop} view={drawn.view} />
            <PanelBoundary name="The charts">
              <LoopCharts
                {...{ document, loop: drawn.loop, view: drawn.view, comparing }}
                kept={isOwn ? kept.answers : noAnswers}
                ways={isOwn ? waysNow : noWays}
                spread={!isOwn || typeof state.spread === 'string' ? undefined : state.spread}
                onAsk={setAsks}
              />
            </PanelBoundary>
            <div>
              <KeptAnswerList kept={kept} />
              <PhaseAccount view={drawn.view} />
            </div>
          </div>
        )
      }
      card={
        drawn === undefined ? null : (
          <div inert={!isOwn} className={paler}>
            <LoopCard
              loop={drawn.loop}
              view={drawn.view}
              comparing={comparing}
              ways={isOwn ? waysNow : noWays}
              onCompare={setComparing}
              onPin={() => pinDesign(loop)}
              onKeep={kept.keep}
            >
              <SpreadSection
                machine={document.machines[machine]!}
                parameters={document.parameters}
                {...{ choice, state }}
                onChoose={setChoice}
              />
            </LoopCard>
          </div>
        )
      }
    />
  )
}

const noWays: readonly Way[] = []
const noAnswers: readonly KeptAnswer[] = []

/** The loop that is drawn: the chosen one, or, until that is worked out for the first time, the one before. */
function useDrawnLoop(project: string, loop: string, view: LoopView | undefined) {
  const [last, setLast] = useState<{ readonly project: string; readonly loop: string; readonly view: LoopView }>()
  if (view !== undefined && (last?.view !== view || last.loop !== loop)) setLast({ project, loop, view })
  const isThere = useOpen(({ document, valid }) => last !== undefined && last.loop in document.loops && last.loop in valid.loops)
  if (view !== undefined) return { loop, view }
  return isThere && last?.project === project ? last : undefined
}

/** Before a loop is worked out for the first time. */
function Waiting({ failure }: { readonly failure: string | undefined }) {
  if (failure === undefined) return <p className="p-6 text-mist">Working this loop out ...</p>
  return (
    <p role="alert" className="p-6 text-coral-text">
      This loop cannot be worked out: {failure} Undo the last edit, or load the page anew.
    </p>
  )
}

/** Kept in the address, so that it can be linked and survives a reload. */
function useSpreadChoice(): [SpreadChoice, (choice: SpreadChoice) => void] {
  const [search, setSearch] = useSearchParams()
  const paths = search.get('spread')
  const share = Number(search.get('within') ?? usualShare)
  const choice = useMemo(
    () => ({ paths: paths === null || paths === '' ? [] : paths.split(','), share: share > 0 && share < 1 ? share : usualShare }),
    [paths, share],
  )
  const choose = (next: SpreadChoice) => {
    const kept = new URLSearchParams(search)
    if (next.paths.length === 0) kept.delete('spread')
    else kept.set('spread', next.paths.join(','))
    kept.set('within', String(next.share))
    setSearch(kept, { replace: true })
  }
  return [choice, choose]
}

const usualShare = 0.2

/** Pins all loops as they are, under the hash of the run they would give. */
function pinDesign(loop: string): void {
  const { project } = useProject.getState()
  if (project === undefined) return
  const trial = Object.keys(project.valid.trials)[0]
  if (trial === undefined) {
    toast('A pinned design is known by a run: add a trial first.')
    return
  }
  const letter = freeLetter(project.valid.tray)
  const { tuning } = project.valid.loops[loop] as unknown as { tuning: { kind: string; crossover?: number } }
  const title = tuning.kind === 'requirement' ? `${loop} at ${tuning.crossover?.toPrecision(3)} rad/s` : `${loop}, typed gains`
  edit(pinRun(letter, { title, trial, run: runHash(project.valid, trial), loops: project.valid.loops }))
}
