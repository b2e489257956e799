import { Command, CommanderError, Option } from 'commander'
import { OUTPUTS } from '../output/registry.js'
import type { Io } from './io.js'

/**
 * Exit codes: done; findings, or a count that differs from the expected one; wrong use or bad
 * input.
 */
export const DONE = 0
export const FINDINGS = 1
export const REFUSED = 2

/**
 * Runs the tool and returns its exit code; throws nothing. Each command is loaded when it is
 * called.
 */
export async function main({
  argv,
  io,
  version,
}: {
  argv: readonly string[]
  io: Io
  version: string
}): Promise<number> {
  const outcome = { code: DONE }
  const program = createProgram(io, version, outcome)
  // An option of every command, at any position.
  const debug = argv.includes('--debug')
  const start = io.clock()
  try {
    const args = argv.filter((text) => text !== '--debug')
    await program.parseAsync(withoutHelp(args, program), { from: 'user' })
    if (debug) io.err(`took ${Math.round(io.clock() - start)} ms\n`)
    return outcome.code
  } catch (error) {
    if (debug && error instanceof Error) io.err(`${error.stack}\n`)
    if (error instanceof CommanderError && (error.exitCode === 0 || error.code === 'commander.help'))
      return error.exitCode === 0 ? DONE : REFUSED
    // Loaded here, so that the tool starts faster.
    const [{ printProblem }, { ProblemError, problem }, { atOption }] = await Promise.all([
      import('../problem/print.js'),
      import('../problem/problem.js'),
      import('./settings.js'),
    ])
    if (error instanceof CommanderError) {
      const { argumentProblem } = await import('./argument-problems.js')
      io.err(`${printProblem(argumentProblem(error, program, argv))}\n`)
      return REFUSED
    }
    if (error instanceof ProblemError) {
      for (const p of error.problems) io.err(`${printProblem(atOption(p))}\n`)
      if (error.problems.length > 1) io.err(`${error.problems.length} problems; nothing was written\n`)
      return REFUSED
    }
    const why = error instanceof Error ? error.message : String(error)
    io.err(`${printProblem(problem('internal', { why }))}\n`)
    return REFUSED
  }
}

/** `help` with an unknown command reports that command, as a call without help does. */
function withoutHelp(argv: readonly string[], program: Command): string[] {
  const [first = ''] = argv
  const isKnown =
    first.startsWith('-') || first === 'help' || program.commands.some((command) => command.name() === first)
  return argv.filter((argument) => isKnown || (argument !== '--help' && argument !== '-h'))
}

/** The text of `acuarela --help`; the build stores it in a file, so that it is printed at once. */
export function helpText(io: Io, version: string): string {
  return createProgram(io, version, { code: DONE }).configureHelp({ helpWidth: 80 }).helpInformation()
}

function createProgram(io: Io, version: string, outcome: { code: number }): Command {
  const program = new Command('acuarela')
  program
    .description(
      'Says threshold, gradient and rank rules for sales reports once, and paints tables, heatmaps and charts with them.',
    )
    .version(version)
    .option('--debug', 'of any command: the stack of an error, and how long it took, on standard error')
    // Errors of the argument parser are reported as problems of the catalogue.
    .configureOutput({ writeOut: io.out, writeErr: io.err, outputError: () => undefined })
    .exitOverride()
  addPaint(program, io)
  addQuestions(program, io, outcome)
  addStarters(program, io)
  return program
}

function addPaint(program: Command, io: Io): void {
  shared(
    program.command('paint').argument('<report>', 'a report file, such as spring.acuarela.yaml; - is standard input'),
  )
    .description('render a report')
    .option(
      '--to <formats>',
      `${OUTPUTS.map(({ key }) => key).join(', ')}, or several with commas; default: by the ending of --out`,
    )
    .option('--out <path>', 'a file, or a folder for several; default: standard output')
    .option('--since <date>', "mark what changed its status since an earlier date, as in '1 month' or 2025-05-31")
    .option('--exhibit <name>', 'this exhibit alone; may be given several times', collect)
    .option('--each <key>', 'a page for each value of a key, as in --each region; into a folder')
    .addOption(new Option('--theme <theme>', 'of html and png').choices(['auto', 'light', 'dark']))
    .addOption(new Option('--paper <size>', 'of pdf, and of html when it is printed').choices(['A4', 'Letter']))
    .option('--static', 'html without a script: no controls, filters or explanations')
    .option('--with-data', 'of html: a CSV file of all cells beside it')
    .option('--with-why', 'of ods: annotations on painted cells that say what painted them')
    .option('--fragment', 'html to be pasted into a page or a mail: styles on the elements, no script')
    .option('--width <places>', 'of text: columns of a line; 0 leaves every table whole')
    .option('--color', 'colours in text, even if standard output is not a terminal')
    .option('--no-color', 'no colours, like the variable NO_COLOR')
    .option('--watch', 'paint again whenever the report or its data change, until stopped')
    .option('--verbose', 'print the control totals of each source, with the rows that were read and left out')
    .addHelpText('after', PAINT_EXAMPLES)
    .action(async (report: string, options: object) =>
      (await import('./commands/paint.js')).paintCommand(report, options, io),
    )
}

/** The commands that answer questions about a report. */
function addQuestions(program: Command, io: Io, outcome: { code: number }): void {
  asking(program.command('rules').argument('<report>'))
    .description('print every rule as a sentence, with an explanation and its results')
    .option('--brief', 'the sentences alone, one a line')
    .option('--cells [rule]', 'the cells that this rule, or each, was applied to, painted or not')
    .addHelpText('after', RULES_EXAMPLES)
    .action(async (report: string, options: object) =>
      (await import('./commands/rules.js')).rulesCommand(report, options, io),
    )
  asking(
    program
      .command('say')
      .argument('<report>')
      .argument('<sentence>', "a rule, as in 'margin of each shop: below 40% → behind'"),
  )
    .description('read a rule as a sentence, and tell the cells that it would change')
    .option('--write', 'add it to the file, as the first rule')
    .option('--before <rule>', 'the rule in front of which it stands')
    .option('--after <rule>', 'the rule behind which it stands')
    .option('--name <name>', 'its name')
    .addHelpText('after', SAY_EXAMPLES)
    .action(async (report: string, sentence: string, options: object) =>
      (await import('./commands/say.js')).sayCommand(report, sentence, options, io),
    )
  asking(
    program
      .command('why')
      .argument('<report>', 'a report file')
      .argument('<exhibit.measure>', 'a shown measure, or a row key whose headings are painted: shops.revenue')
      .argument('[key=value...]', 'the keys of the cell; without any, the total'),
  )
    .description('explain why a cell looks as it does, and list the rows behind it')
    .option('--rows [count]', 'the rows that the cell is made of; without a count the first 20')
    .addHelpText('after', WHY_EXAMPLES)
    .action(async (report: string, target: string, places: string[], options: object) =>
      (await import('./commands/why.js')).whyCommand(report, target, places, options, io),
    )
  asking(program.command('tally').argument('<report>'))
    .description('count the cells of each status and each part of a rule')
    .option(
      '--against <change>',
      'a parameter, as in target=70000, another report, or painted data that were saved as json: what changes',
      collect,
    )
    .option('--bars', 'with --since, or painted data: cells whose bar has another length, too')
    .option('--since <date>', "what changed since an earlier date, as in '1 month' or 2025-05-31")
    .option('--expect <count>', "what must hold, as in 'behind <= 3'; else the exit code is 1", collect)
    .addHelpText('after', TALLY_EXAMPLES)
    .action(async (report: string, options: object) => {
      outcome.code = (await (await import('./commands/tally.js')).tallyCommand(report, options, io)) ? DONE : FINDINGS
    })
  asking(program.command('rehearse').argument('<report>'))
    .description('try every rule on values around its limits, zero and missing')
    .option('--rule <name>', 'this rule alone')
    .option('--value <value>', 'a value of your own; may be given several times', collect)
    .addHelpText('after', '\nExample:\n  acuarela rehearse spring.acuarela.yaml --rule offPlan --value 5000\n')
    .action(async (report: string, options: object) =>
      (await import('./commands/rehearse.js')).rehearseCommand(report, options, io),
    )
  asking(program.command('proof').argument('<report>'))
    .description('find what is wrong or risky in rules and styles, each with a fix')
    .option('--all', 'ignored findings, too, with their reasons')
    .option('--fix', 'make the fixes that need no decision, in the file, and say what was done')
    .option('--dry-run', 'with --fix: show what the file would change, and write nothing')
    .addHelpText('after', '\nExample:\n  acuarela proof spring.acuarela.yaml\nExit code 1 where something was found.\n')
    .action(async (report: string, options: object) => {
      outcome.code = (await (await import('./commands/proof.js')).proofCommand(report, options, io)) ? DONE : FINDINGS
    })
}

/** The commands that need no report. */
function addStarters(program: Command, io: Io): void {
  program
    .command('sketch')
    .argument(
      '<data...>',
      'CSV, TSV, JSON, NDJSON or Parquet files or OpenDocument spreadsheets; the first is summarised, the others are joined to it',
    )
    .description('start a report file from data')
    .option('--out <path>', 'the report file; default: standard output')
    .option('--force', 'overwrite an existing file')
    .option('--brief', 'without comments')
    .option('--ask', 'ask what the data leave open')
    .option('--no-limit', 'lift the limits on data')
    .addOption(quiet())
    .addHelpText('after', SKETCH_EXAMPLES)
    .action(async (data: string[], options: object) =>
      (await import('./commands/sketch.js')).sketchCommand(data, options, io),
    )
  program
    .command('edit')
    .argument('<files...>', 'a report file; or data files, of which a starter report is made')
    .description('edit a report by pointing: serves the workbench to the browser of this machine')
    .option('--port <number>', 'of 127.0.0.1; default: a free one')
    .option('--no-open', 'print the address without opening a browser')
    .addHelpText('after', EDIT_EXAMPLES)
    .action(async (files: string[], options: object) =>
      (await import('./commands/edit.js')).editCommand(files, options, io),
    )
  program
    .command('demo')
    .description('make the data of Brezal Nurseries and paint its spring report')
    .option('--out <folder>', 'where to write', 'out')
    .addOption(quiet())
    .addHelpText('after', '\nExample:\n  acuarela demo --out out\n')
    .action(async (options: object) => (await import('./commands/demo.js')).demoCommand(options, io))
  program
    .command('completion')
    .argument('<shell>', 'bash, zsh or fish')
    .description('print what a shell needs to complete commands and options')
    .addHelpText('after', COMPLETION_EXAMPLES)
    .action(async (shell: string) => (await import('./commands/completion.js')).completionCommand(shell, program, io))
}

/** Options of the commands that answer questions about a report. */
function asking(command: Command): Command {
  return shared(command)
    .option('--json', 'results as data')
    .option('--color', 'colours, even if standard output is not a terminal')
    .option('--no-color', 'no colours, like the variable NO_COLOR')
}

/** Options of every command on a report. */
function shared(command: Command): Command {
  return command
    .option('--set <name=value>', 'set a parameter; may be given several times', collect)
    .option('--where <condition>', 'filter the rows, as in "region = \'Coast\'"')
    .option('--period <period>', "replace the report's period, as in 'last 3 months'")
    .option('--as-of <date>', "replace the report's date: 2025-06-30, latest or today")
    .option('--no-limit', 'lift the limits on data: 10,000 columns, lines of a million cells, gzip of 200 to 1')
    .addOption(quiet())
}

function quiet(): Option {
  return new Option('--quiet', 'print results and problems alone')
}

function collect(value: string, before: string[] = []): string[] {
  return [...before, value]
}

const RULES_EXAMPLES = `
Examples:
  acuarela rules spring.acuarela.yaml
  acuarela rules spring.acuarela.yaml --brief
  acuarela rules spring.acuarela.yaml --cells againstTarget
`
const SAY_EXAMPLES = `
Examples:
  acuarela say spring.acuarela.yaml 'margin of each shop: below 40% → behind'
  acuarela say spring.acuarela.yaml 'margin: top 3 -> bold' --after againstTarget --write
`
const WHY_EXAMPLES = `
Examples:
  acuarela why spring.acuarela.yaml shops.revenue region=Coast shop=Larkmoor
  acuarela why spring.acuarela.yaml shops.revenue shop=Larkmoor quarter=2025-Q2 --rows 50
`

const COMPLETION_EXAMPLES = `
Examples:
  acuarela completion bash >> ~/.bashrc
  acuarela completion zsh >> ~/.zshrc
  acuarela completion fish > ~/.config/fish/completions/acuarela.fish
`

const EDIT_EXAMPLES = `
Examples:
  acuarela edit spring.acuarela.yaml
  acuarela edit sales.csv budget.csv
It listens on 127.0.0.1 alone, for the browser that has its address.
`

const SKETCH_EXAMPLES = `
Examples:
  acuarela sketch sales.csv --out sales.acuarela.yaml
  acuarela sketch sales.csv budget.csv > both.acuarela.yaml
  acuarela sketch sales.csv --ask --out sales.acuarela.yaml
What it writes can be painted at once, and is meant to be changed.
`

const TALLY_EXAMPLES = `
Examples:
  acuarela tally spring.acuarela.yaml --against targetLevel=110%
  acuarela tally spring.acuarela.yaml --since '1 month' --expect 'fell <= 2'
  acuarela tally spring.acuarela.yaml --expect 'shops.behind <= 3'
`

const PAINT_EXAMPLES = `
Examples:
  acuarela paint spring.acuarela.yaml
  acuarela paint spring.acuarela.yaml --out spring.html
  acuarela paint spring.acuarela.yaml --to pdf --each region --out pages --paper A4
  acuarela paint spring.acuarela.yaml --to html,json --out out --set targetLevel=110%
  acuarela paint spring.acuarela.yaml --to json --where "region = 'Coast'"
Without --to and --out the report is printed as text.
Exit codes: 0 done, 2 wrong use or bad input.
`
