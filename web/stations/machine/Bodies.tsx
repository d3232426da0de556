import { ChevronDown, ChevronRight } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { findKind, labelOf, nameInWords } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { sensors as sensorKinds } from '@calm-hand/core/machine'
import { SlotAt } from '../../sentence'
import { edit } from '../../state/project'
import { AddOfKind } from './AddOfKind'
import { LedgerRow } from './LedgerRow'
import { Parameters } from './Parameters'
import { addPartTo } from './partEdits'

interface BodiesProps {
  readonly name: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

const axes = ['x', 'y', 'z']
const moments = ['inertia, roll', 'inertia, pitch', 'inertia, yaw', 'product xy', 'product xz', 'product yz']

/** What small sensors have: common practice, no source. */
const freshSensor = {
  ...{ rate: 50, noise: 0.02, least: 0.2, most: 10, at: [0, 0, 0] },
  ...{ gyroNoise: 0.004, accelerometerNoise: 0.08, attitudeNoise: 0.002 },
}

/** The machine's parts as sentences; the chosen one unfolds its ledger. */
export function Bodies({ name, machine, chosen, onChoose }: BodiesProps) {
  const path = `machines.${name}`
  const bodies = Object.keys(machine.bodies as object)
  const sensors = Object.entries(machine.sensors as Readonly<Record<string, Part>>)
  return (
    <div>
      {bodies.map((body) => (
        <Row
          key={body}
          open={chosen === body}
          onOpen={() => onChoose(body)}
          title={labelOf((machine.bodies as Readonly<Record<string, Part>>)[body], body)}
          sentence={
            <>
              weighs <SlotAt path={`${path}.bodies.${body}.mass`} />
            </>
          }
        >
          {axes.map((axis, i) => (
            <LedgerRow key={axis} name={`centre of mass, ${axis}`} path={`${path}.bodies.${body}.at`} component={i} />
          ))}
          {moments.map((moment, i) => (
            <LedgerRow key={moment} name={moment} path={`${path}.bodies.${body}.inertia`} component={i} />
          ))}
        </Row>
      ))}
      <Row
        open={chosen === 'rotors'}
        onOpen={() => onChoose('rotors')}
        title="rotors"
        sentence={
          <>
            <SlotAt path={`${path}.rotors.count`} /> on arms of <SlotAt path={`${path}.rotors.armLength`} />
          </>
        }
      >
        {['thrustCoefficient', 'torqueCoefficient', 'lag', 'leastSpeed', 'mostSpeed', 'height', 'radius', 'allocation'].map(
          (slot) => (
            <LedgerRow key={slot} path={`${path}.rotors.${slot}`} />
          ),
        )}
        {(machine.rotors as Part).allocation === 'leastSquares' &&
          ['liftCounts', 'tiltCounts', 'turnCounts'].map((slot) => <LedgerRow key={slot} path={`${path}.rotors.${slot}`} />)}
      </Row>
      <div className="flex items-center justify-between px-4 pt-2">
        <h4 className="font-semibold text-[12.5px]">Sensors</h4>
        <AddOfKind
          to="Sensors"
          kinds={sensorKinds.map((kind) => ({ ...kind, label: nameInWords(kind.name) }))}
          onAdd={(kind) => edit(addPartTo(path, machine, 'sensors', kind, freshSensor).change)}
        />
      </div>
      {sensors.map(([sensor, part]) => (
        <Row
          key={sensor}
          open={chosen === sensor}
          onOpen={() => onChoose(sensor)}
          title={sensor}
          sentence={
            <>
              samples at <SlotAt path={`${path}.sensors.${sensor}.rate`} />
            </>
          }
        >
          {Object.entries((findKind(sensorKinds, part) as AnyKind | undefined)?.slots ?? {})
            .filter(([slot]) => slot !== 'rate')
            .flatMap(([slot, definition]) =>
              definition.type === 'vector'
                ? axes.map((axis, i) => (
                    <LedgerRow
                      key={slot + axis}
                      name={`${definition.label}, ${axis}`}
                      path={`${path}.sensors.${sensor}.${slot}`}
                      component={i}
                    />
                  ))
                : [<LedgerRow key={slot} path={`${path}.sensors.${sensor}.${slot}`} />],
            )}
        </Row>
      ))}
      <Parameters />
      <Row
        open={chosen === 'surroundings'}
        onOpen={() => onChoose('surroundings')}
        title="surroundings"
        sentence={<>gravity, ground, air</>}
      >
        {['gravity', 'ground', 'drag'].map((slot) => (
          <LedgerRow key={slot} path={`${path}.${slot}`} />
        ))}
      </Row>
    </div>
  )
}

interface RowProps {
  readonly open: boolean
  readonly onOpen: () => void
  readonly title: string
  readonly sentence: React.ReactNode
  readonly children: React.ReactNode
}

function Row({ open, onOpen, title, sentence, children }: RowProps) {
  return (
    <section className={`border-b border-line ${open ? 'bg-kelp-tint border-l-[3px] border-l-kelp' : ''}`}>
      <div className="flex items-center gap-1.5 min-h-[34px] pl-3 pr-4">
        <button className="flex items-center gap-1 font-semibold" aria-expanded={open} onClick={onOpen}>
          {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
          {title}
        </button>
        <span>{sentence}</span>
      </div>
      {open && <div className="pl-4 pr-4 pb-2">{children}</div>}
    </section>
  )
}
