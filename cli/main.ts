import { Command, CommanderError } from 'commander'
import { account } from './commands/account'
import type { AccountOptions } from './commands/account'
import { check, listDocument } from './commands/documents'
import { linearizeMachine, tuneLoop } from './commands/design'
import type { LinearizeOptions, TuneOptions } from './commands/design'
import { dynamics } from './commands/dynamics'
import { linearToolbox } from './commands/linear'
import { exportMachine } from './commands/exportMachine'
import type { ExportOptions } from './commands/exportMachine'
import { newDocument } from './commands/new'
import type { NewOptions } from './commands/new'
import { runTrial } from './commands/run'
import type { RunOptions } from './commands/run'
import { badInput } from './output'
import type { Result } from './output'

/** Runs one command line; gives the exit status. */
export async function main(words: readonly string[]): Promise<number> {
  let result: Result | undefined
  const program = new Command('calm-hand')
    .description('Motion control from the command line: the same core as the interface.')
    .exitOverride()
  program.configureOutput({ writeErr: () => undefined })
  const keep = (made: Result | Promise<Result>) => Promise.resolve(made).then((one) => void (result = one))
  const add = (usage: string, about: string, example: string) =>
    program
      .command(usage)
      .description(about)
      .option('--json', 'one JSON value on standard output')
      .addHelpText('after', `\nExample:\n  npx calm-hand ${example}`)

  add('check <doc>', 'reads a document and lists every problem', 'check demo/lamplighter.json').action((doc: string) =>
    keep(check(doc)),
  )
  add('list <doc>', 'machines, loops, trials, signals with units and roles', 'list demo/lamplighter.json').action((doc: string) =>
    keep(listDocument(doc)),
  )
  add('run <doc>', 'runs a trial', 'run demo/lamplighter.json --trial galleryRise --csv rise.csv')
    .requiredOption('--trial <name>')
    .option('--seed <number>')
    .option('--set <path=value>', 'another value for a number; repeatable', (one: string, all: string[]) => [...all, one], [])
    .option('--realism <layers>', 'full, design, or such as full,-sensorErrors')
    .option('--csv <file>', 'the record as CSV')
    .option('--degrees', 'angles of the CSV in degrees; its header says so')
    .option('--stdin', 'many value sets, one JSON a line in, one result a line out')
    .action((doc: string, options: RunOptions) => keep(runTrial(doc, options)))
  add(
    'account <doc>',
    'why simulation and prediction of a trial differ, share by share',
    'account demo/lens-float.json --trial smallLift --signal lensFloat.lens.travel',
  )
    .requiredOption('--trial <name>')
    .option('--signal <path>', 'a column that has a prediction; what the trial asks for unless given')
    .option('--from <s>')
    .option('--to <s>')
    .option('--against <record>', 'a measured record as CSV instead: which numbers of the machine explain its difference')
    .action((doc: string, options: AccountOptions) => keep(account(doc, options)))
  add('linearize <doc>', 'the exact linear form about where a machine works', 'linearize demo/lamplighter.json --loop height')
    .option('--machine <name>')
    .option('--loop <name>', 'the plant that this loop sees')
    .option('--trim', 'find the operating point (always done)')
    .option('--at <point>', 'a point by name, positions to start from and to hold, what is fixed and what runs on, as JSON')
    .action((doc: string, options: LinearizeOptions) => keep(linearizeMachine(doc, options)))
  add(
    'tune <doc>',
    'gains from crossover and phase margin, a time constant, the edge of swinging, an experiment, or what it shall keep',
    'tune demo/lamplighter.json --loop height --crossover 4.2 --phase-margin 58',
  )
    .requiredOption('--loop <name>')
    .option('--crossover <rad/s>')
    .option('--phase-margin <degrees>')
    .option('--time-constant <s>', 'instead: how fast the closed loop shall follow')
    .option('--edge', 'instead: from the edge at which it would swing for ever')
    .option('--relay <amplitude>', 'instead: by a relay experiment on the linear model')
    .option('--step <size>', 'instead: by a step of the open loop')
    .option('--table <name>', 'of an experiment')
    .option('--meet', 'instead: what the loop shall keep by its sentence, and which of it binds')
    .option('--step-size <size>', 'of the reference, for what is asked of the command; 1 unless given')
    .option('--write <file>', 'writes the changed document')
    .action((doc: string, options: TuneOptions) => keep(tuneLoop(doc, options)))
  add('linear <request>', 'the linear toolbox, by a JSON request', 'linear docs/examples/margins.json').action(
    (request: string) => keep(linearToolbox(request)),
  )

  add(
    'new <robot>',
    'a document with the machine of a robot description (URDF)',
    'new docs/examples/pendulum.urdf --out pendulum.json',
  )
    .requiredOption('--out <file>')
    .option('--base <how>', 'fixed to ground, or free of it', 'fixed')
    .action((robot: string, options: NewOptions) => keep(newDocument(robot, options)))
  add(
    'export <doc>',
    'a machine as a robot description (URDF), or its linear form as matrices (JSON and CSV)',
    'export demo/boat-shed-arm.json --as urdf --to out',
  )
    .requiredOption('--as <form>', 'urdf or matrices')
    .requiredOption('--to <folder>')
    .option('--machine <name>')
    .action((doc: string, options: ExportOptions) => keep(exportMachine(doc, options)))
  add(
    'dynamics <robot> <request>',
    'rigid-body answers for a robot description (URDF)',
    'dynamics docs/examples/pendulum.urdf docs/examples/pendulum.json',
  ).action((robot: string, request: string) => keep(dynamics(robot, request)))

  try {
    await program.parseAsync(words, { from: 'user' })
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error
    if (error.exitCode === 0) return 0
    result = badInput('command line', error.message.replace(/^error: /, ''), '`npx calm-hand help` lists the commands.')
  }
  return result === undefined ? 0 : say(result, words.includes('--json'))
}

function say({ value, text, status }: Result, asJson: boolean): number {
  if (asJson && value !== undefined) process.stdout.write(`${JSON.stringify(value)}\n`)
  else if (text !== '') (status === 2 ? process.stderr : process.stdout).write(`${text}\n`)
  return status
}
