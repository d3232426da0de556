import { machineNumbers } from '@calm-hand/core/machine'
import { useMemo, useState } from 'react'
import { useAnswer } from '../../../compute'
import type { Over } from '../../../compute/loops/looks'
import { Chart, HorizontalMark, Points, VerticalMark } from '../../../chart'
import { ChoiceField } from '../../../sentence'
import { plainAxis } from './axes'
import type { LookProps } from './look'

type Pole = { readonly re: number; readonly im: number }
const places = (all: readonly Pole[]) => all.map(({ re, im }) => ({ x: re, y: im }))

/** The part of the plane that the dominant poles are in, 1/s. */
function planeOf(poles: readonly Pole[], pace: number) {
  const near = poles.filter((pole) => Math.hypot(pole.re, pole.im) < 12 * pace)
  const reach = Math.max(0.2 * pace, ...near.map(({ re, im }) => Math.max(Math.abs(re), Math.abs(im)))) * 1.15
  return { x: plainAxis(-reach, 0.35 * reach, 'real part, 1/s'), y: plainAxis(-reach, reach) }
}

interface PlaneProps {
  readonly title: string
  /** What of it is drawn, in words or as a choice. */
  readonly said: React.ReactNode
  readonly summary: string
  readonly axes: ReturnType<typeof planeOf>
  readonly children: React.ReactNode
}

/** The plane of continuous poles with its two axes. */
function Plane({ title, said, summary, axes, children }: PlaneProps) {
  return (
    <Chart
      {...axes}
      title={title}
      unit="1/s"
      series={[]}
      legend={false}
      summary={summary}
      heading={
        <h3 className="whitespace-nowrap">
          {title} {said}
        </h3>
      }
    >
      <HorizontalMark at={0} />
      <VerticalMark at={0} />
      {children}
    </Chart>
  )
}

/** Poles and zeros of the plant and of the closed loop, as of continuous systems. */
export function PolesAndZeros({ document, loop, now }: LookProps) {
  const map = useAnswer('polesAndZeros', document, [loop], { subject: loop, rank: 2 }).answer
  const { plantPoles, plantZeros, closedPoles } = map ?? noPoles
  const words = closedPoles.map(({ re, im }) => `${re.toPrecision(3)} ${im < 0 ? '-' : '+'} ${Math.abs(im).toPrecision(3)} i`)
  return (
    <Plane
      title="Poles and zeros"
      said={<span className="font-normal text-mist">1/s: × closed loop, grey × and ○ the plant</span>}
      summary={`Closed-loop poles: ${words.join('; ')}.`}
      axes={planeOf([...plantPoles, ...closedPoles], now.analysis.crossover ?? 1)}
    >
      <Points at={places(plantPoles)} shape="cross" tone="mist" />
      <Points at={places(plantZeros)} shape="ring" tone="mist" />
      <Points at={places(closedPoles)} shape="cross" tone="kelp" />
    </Plane>
  )
}

const noPoles = { plantPoles: [], plantZeros: [], closedPoles: [] }

/** Where the closed-loop poles go while a gain, all gains or a number of the machine changes. */
export function Locus({ document, loop, view, now }: LookProps) {
  const [over, setOver] = useState('')
  const { law } = now.design
  const machine = document.machines[now.design.values.machine]!
  const numbers = useMemo(() => machineNumbers(machine).filter(({ value }) => value !== 0), [machine])
  const options = {
    '': 'all gains together, 0.03 to 10 times',
    ...Object.fromEntries(law.gains.map((gain) => [`gain ${gain}`, `${gain}, 0.03 to 10 times`])),
    ...Object.fromEntries(numbers.map(({ path, words }) => [path, `${words}, half to twice`])),
  }
  const chosen = over in options ? over : ''
  const number = numbers.find(({ path }) => path === chosen)
  const changed: Over =
    number !== undefined
      ? { kind: 'number', path: number.path, value: number.value }
      : chosen === ''
        ? { kind: 'gains' }
        : { kind: 'gain', name: chosen.slice('gain '.length) }
  const locus = useAnswer('locus', document, [loop, changed], { subject: loop, rank: 2 }).answer ?? { poles: [] }
  const { closedPoles } = useAnswer('polesAndZeros', document, [loop], { subject: loop, rank: 2 }).answer ?? noPoles
  return (
    <Plane
      title="Root locus"
      said={
        <span className="font-normal text-[12px]">
          over <ChoiceField label="what changes" value={chosen} options={options} onChoose={setOver} />
        </span>
      }
      summary={`Closed-loop poles of ${view.quantity.label} over ${options[chosen as keyof typeof options]}.`}
      axes={planeOf([...closedPoles, ...locus.poles.flat()], 0.25 * (now.analysis.crossover ?? 1))}
    >
      <Points at={places(locus.poles.flat())} shape="dot" tone="slate" />
      <Points at={places(closedPoles)} shape="cross" tone="kelp" />
    </Plane>
  )
}
