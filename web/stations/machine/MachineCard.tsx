import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { layers, machineFacts } from '@calm-hand/core/machine'
import { useOpen } from '../../state/project'
import { Findings } from './Findings'
import { digitsOf, shownUnit, withUnit } from '../../units'
import { RealismLayers } from './RealismLayers'

/** Findings first, then what follows from the numbers, then the realism layers with their stand-ins. */
export function MachineCard({ machine }: { readonly machine: Part }) {
  const problems = useOpen((project) => project.problems)
  const note = useOpen((project) => project.document.note)
  const facts = machineFacts(machine)
  const rows: [string, number, string][] = [
    ['total mass', facts.mass, 'kg'],
    ['weight', facts.weight, 'N'],
    ['hover thrust a rotor', facts.hoverThrust, 'N'],
    ['hover speed a rotor', facts.hoverSpeed, 'rad/s'],
    ['most thrust, all rotors', facts.mostThrust, 'N'],
    ['thrust to weight', facts.thrustToWeight, ''],
    ['centre of mass, x', facts.centre[0]!, 'm'],
    ['centre of mass, z', facts.centre[2]!, 'm'],
    ['inertia, roll', facts.inertia[0]!, 'kg·m²'],
    ['inertia, pitch', facts.inertia[1]!, 'kg·m²'],
    ['inertia, yaw', facts.inertia[2]!, 'kg·m²'],
  ]
  return (
    <>
      <Findings>
        {facts.thrustToWeight < 1.4 && problems.length === 0 && (
          <div className="finding border-ochre mb-2">
            <b className="font-semibold text-ochre-text">Little thrust is left.</b> At hover the rotors already give{' '}
            <span className="number">{digitsOf(100 / facts.thrustToWeight, '', 3)} %</span> of their most.
          </div>
        )}
        {problems.length === 0 && (
          <div className="finding border-kelp">
            It can hover, using <span className="number">{digitsOf(100 / facts.thrustToWeight, '', 3)} %</span> of its most
            thrust.
          </div>
        )}
      </Findings>
      <section className="section" aria-label="What follows">
        <h2 className="pb-1.5">What follows</h2>
        {problems.length > 0 && <p className="note pb-1">From the last numbers without a problem.</p>}
        <dl>
          {rows.map(([words, value, unit]) => (
            <div key={words} className="ledger-row">
              <dt>{words}</dt>
              <dd className="number font-medium" data-fact={words}>
                {digitsOf(value, unit)}
              </dd>
              <dd className="number text-mist">{shownUnit(unit)}</dd>
            </div>
          ))}
        </dl>
        <MassBar machine={machine} total={facts.mass} />
      </section>
      <RealismLayers
        layers={layers}
        about="Each can be switched in a trial. The design model keeps only those that are linear."
        note={note}
      />
    </>
  )
}

/** One segment a body, in proportion. */
function MassBar({ machine, total }: { readonly machine: Part; readonly total: number }) {
  const bodies = Object.entries(machine.bodies as Readonly<Record<string, Part>>)
  return (
    <div
      className="flex gap-px pt-2"
      role="img"
      aria-label={bodies.map(([name, body]) => `${labelOf(body, name)} ${withUnit(body.mass as number, 'kg', 3)}`).join(', ')}
    >
      {bodies.map(([name, body], i) => (
        <div key={name} style={{ flexGrow: (body.mass as number) / total, flexBasis: 0 }} className="min-w-0">
          <div className="h-2.5 bg-kelp" style={{ opacity: 1 - i * 0.16 }} />
          <span className="note block truncate">{labelOf(body, name)}</span>
        </div>
      ))}
    </div>
  )
}
