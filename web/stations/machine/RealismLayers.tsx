interface Layer {
  readonly name: string
  readonly label: string
  readonly standIn: string
  readonly inDesign: boolean
}

/** What each layer of realism is, what stands in when it is off, and the machine's own note. */
export function RealismLayers({
  layers,
  about,
  note,
}: {
  readonly layers: readonly Layer[]
  readonly about?: string
  readonly note: string
}) {
  return (
    <>
      <section className="section" aria-label="Realism layers">
        <h2 className="pb-1">Realism layers</h2>
        {about !== undefined && <p className="note pb-1.5">{about}</p>}
        <ul>
          {layers.map(({ name, label, standIn, inDesign }) => (
            <li key={name} className="py-1 text-[12.5px] leading-4">
              <b className="font-semibold">{label}</b>
              {inDesign && <span className="text-kelp"> in the design</span>}
              <span className="note block">off: {standIn}</span>
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
