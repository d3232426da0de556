import { useState } from 'react'
import { Camera } from 'lucide-react'
import { Popover } from 'radix-ui'
import { download } from '../../state/download'
import type { PictureChoices } from '../../scene'
import { filmOf, mostStills, stillTimes } from './film'

interface PicturePopoverProps {
  /** The beginning of the names of files. */
  readonly name: string
  /** s, of the run; nothing where there is none to film. */
  readonly end: number | undefined
  readonly picture: (choices: PictureChoices) => Promise<Blob>
}

/** px: what screens can make. */
const [leastSide, mostSide] = [64, 8192]

/** The 3D view as a picture of any size, or a run as a film of stills. */
export function PicturePopover({ name, end, picture }: PicturePopoverProps) {
  const [size, setSize] = useState({ width: '1920', height: '1080' })
  const [transparent, setTransparent] = useState(false)
  const [rate, setRate] = useState('10')
  const [window, setWindow] = useState<{ readonly from?: string; readonly to?: string }>({})
  const [failure, setFailure] = useState<string>()
  const [width, height] = [Number(size.width), Number(size.height)]
  const isSize = [width, height].every((one) => Number.isInteger(one) && one >= leastSide && one <= mostSide)
  const [from, to] = [Number(window.from ?? 0), Number(window.to ?? (end ?? 0).toFixed(2))]
  const film = { from, to: Math.min(to, end ?? 0), rate: Number(rate) }
  const stills = film.rate > 0 && from < to ? stillTimes(film).length : 0
  const wrong = !isSize
    ? `A side has a whole number of ${leastSide} to ${mostSide} points.`
    : end !== undefined && stills > mostStills
      ? `That is ${stills} stills, more than ${mostStills}: take fewer a second, or a shorter part.`
      : undefined
  const choices: PictureChoices = { width, height, transparent }
  const trying = (work: () => Promise<void>) => {
    setFailure(undefined)
    void work().catch((error: Error) => setFailure(error.message))
  }
  const field = (label: string, value: string, put: (value: string) => void) => (
    <label className="flex items-center gap-1.5">
      {label}
      <input
        className="w-[64px] h-7 px-1.5 number border border-line-2 rounded bg-transparent"
        inputMode="decimal"
        value={value}
        onChange={(event) => put(event.target.value.replace(',', '.'))}
      />
    </label>
  )
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button className="button small border-transparent" aria-label="Picture or film of the 3D view" title="Picture or film">
          <Camera size={15} />
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover z-40 w-[372px] p-3 grid gap-2 text-[12.5px]" align="end" side="top" sideOffset={8}>
          <div className="flex items-center gap-3">
            {field('Width', size.width, (next) => setSize({ ...size, width: next }))}
            {field('Height', size.height, (next) => setSize({ ...size, height: next }))}
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-kelp"
                checked={transparent}
                onChange={(event) => setTransparent(event.target.checked)}
              />
              transparent
            </label>
          </div>
          <button
            className="button small justify-self-start"
            disabled={!isSize}
            onClick={() => trying(async () => download(`${name}-3d.png`, await picture(choices)))}
          >
            Save the picture
          </button>
          {end !== undefined && (
            <>
              <div className="flex items-center gap-3 border-t border-line pt-2">
                {field('From', window.from ?? '0', (next) => setWindow({ ...window, from: next }))}
                {field('to', window.to ?? end.toFixed(2), (next) => setWindow({ ...window, to: next }))} s
              </div>
              <div className="flex items-center gap-3">
                {field('Stills a second', rate, setRate)}
                <button
                  className="button small"
                  disabled={wrong !== undefined || stills === 0}
                  onClick={() =>
                    trying(async () => {
                      const made = await filmOf({ ...choices, ...film }, picture)
                      if (made !== undefined) download(`${name}-film.zip`, made)
                    })
                  }
                >
                  Save {stills} stills
                </button>
              </div>
            </>
          )}
          {(failure ?? wrong) !== undefined && (
            <p role="alert" className="text-coral-text">
              {failure ?? wrong}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
