import { less, select } from '../../expression'
import type { Problem } from '../../document'
import { marked, parseCondition } from '../../formula'
import type { Condition } from '../../formula'
import { alongRows } from './alongRows'
import { crossing, unseen } from './room'
import type { Judgement, Looked } from './check'

/** What a condition of a check reads. */
export function signalsIn(text: string): readonly string[] {
  const read = parseCondition(text)
  return read.kind === 'condition' ? read.condition.names : []
}

/** A condition that cannot be read, or that nothing in a run can change. */
export function conditionProblems(where: string, text: string): Problem[] {
  const read = parseCondition(text)
  if (read.kind === 'wrong') return [marked(where, text, read)]
  if (read.condition.names.length > 0) return []
  const always = read.condition.holds(() => 0) === true
  return [
    {
      where,
      what: `The condition ${always ? 'always holds' : 'can never hold'}: it names no signal.`,
      remedy: 'Compare a signal of the run, such as `lamplighter.height > 2`.',
    },
  ]
}

/** A condition over a run, judged at every row. */
export interface Watched {
  /** How much each row has to spare until it would not hold, or how much is missing, negative. */
  readonly room: Float64Array
  readonly unit: string
  /** s: from when on it has held as long as it must; nothing where it never does. */
  readonly since: number | undefined
}

/** The condition along the run, or the judgement that a signal is missing. */
export function watch(text: string, run: Looked): Watched | Judgement {
  const read = parseCondition(text)
  if (read.kind === 'wrong') return { outcome: 'open', unit: '', why: `${read.what} ${read.remedy}` }
  const { condition } = read
  const columns = new Map<string, Float64Array>()
  for (const name of condition.names) {
    const values = run.values(name)
    if (values === undefined) return unseen(name)
    columns.set(name, values)
  }
  const step = run.time.length > 1 ? run.time[1]! - run.time[0]! : 1
  const rows = Math.ceil(condition.lasting / step - 1e-9)
  const room = leastOver(rows, along(text, condition, columns, run.time.length))
  const units = new Set(condition.names.map((name) => run.unitOf(name)))
  const found = room.findIndex((value, row) => row >= rows && value >= 0)
  const since =
    found < 0 ? undefined : found === rows ? run.time[rows]! : crossing(run.time, found, -room[found - 1]!, -room[found]!)
  return { room, unit: units.size === 1 ? [...units][0]! : '', since }
}

function along(text: string, condition: Condition, columns: ReadonlyMap<string, Float64Array>, rows: number): Float64Array {
  const given = condition.names.map((name) => columns.get(name)!)
  return alongRows(`condition ${text}`, given, rows, (inputs, kept) => {
    const lookup = (name: string) => inputs[condition.names.indexOf(name)]!
    const running = less(0.5, kept)
    return { value: condition.room(lookup, running), kept: select(condition.holds(lookup, running), 1, 0) }
  })
}

/** What must last has at each row the least room of this and so many before it. */
function leastOver(rows: number, room: Float64Array): Float64Array {
  if (rows === 0) return room
  const least = new Float64Array(room.length)
  // rows whose room is less than that of all after them: those from `first` to `last`
  const waiting = new Int32Array(room.length)
  let [first, last] = [0, -1]
  for (let row = 0; row < room.length; row++) {
    while (last >= first && room[waiting[last]!]! >= room[row]!) last--
    waiting[++last] = row
    if (waiting[first]! < row - rows) first++
    least[row] = room[waiting[first]!]!
  }
  return least
}
