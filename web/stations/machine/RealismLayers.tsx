import { Toggle } from '../../sentence'

interface Layer {
  readonly name: string
  readonly label: string
  readonly standIn: string
  readonly inDesign: boolean
}

interface RealismLayersProps {
  readonly layers: readonly Layer[]
  readonly about?: string
  readonly note: string
  /** Where they can be switched here: which are off, and the switch. */
  readonly off?: ReadonlySet<string>
  readonly onSwitch?: (name: string) => void
}

/** What each layer of realism is, what stands in when it is off, and the machine's own note. */
export function RealismLayers({ layers, about, note, off, onSwitch }: RealismLayersProps) {
  return (
    <>
      <section className="section" aria-label="Realism layers">
        <h2 className="pb-1">Realism layers</h2>
        {about !== undefined && <p className="note pb-1.5">{about}</p>}
        {layers.length === 0 && <p className="note">Nothing here could be left out.</p>}
        <ul>
          {layers.map(({ name, label, standIn, inDesign }) => (
            <li key={name} className="py-1 text-[12.5px] leading-4 flex gap-2.5 items-start">
              {onSwitch !== undefined && <Toggle label={label} on={off?.has(name) !== true} onChange={() => onSwitch(name)} />}
              <span>
                <b className="font-semibold">{label}</b>
                {inDesign && <span className="text-kelp"> in the design</span>}
                <span className="note block">off: {standIn}</span>
              </span>
            </li>
          ))}
        </ul>
      </section>
      <section className="p-4">
        <h2 className="pb-1">Note</h2>
        <p className="text-[12.5px] leading-[18px]">{note}</p>
      </section>
    </>
  )
}
