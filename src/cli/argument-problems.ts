import type { Command, CommanderError } from 'commander'
import { nearest } from '../problem/nearest.js'
import { type Problem, problem } from '../problem/problem.js'

/**
 * Turns an error of the argument parser into a problem of the catalogue, with the nearest name and
 * a fix. `argv` is what was typed.
 */
export function argumentProblem({ code, message }: CommanderError, program: Command, argv: readonly string[]): Problem {
  const called = program.commands.find((command) => argv.includes(command.name())) ?? program
  const command = called === program ? 'acuarela' : `acuarela ${called.name()}`
  // The parser puts names in quotes.
  const [name = '', second = ''] = [...message.matchAll(/'([^']*)'/g)].map(([, text]) => text)
  switch (code) {
    case 'commander.unknownCommand': {
      const candidates = program.commands.map((other) => other.name())
      return problem('unknown-command', { name, nearest: nearest(name, candidates), known: candidates })
    }
    case 'commander.unknownOption': {
      const candidates = called
        .createHelp()
        .visibleOptions(called)
        .flatMap(({ long }) => long ?? [])
      return problem('unknown-option', { name, nearest: nearest(name, candidates), command })
    }
    case 'commander.missingArgument':
      return problem('argument-missing', { name, command })
    case 'commander.optionMissingArgument':
      return problem('option-value-missing', { option: name, command })
    case 'commander.invalidArgument': {
      const option = called.options.find(({ flags }) => flags === name)
      const candidates = option?.argChoices ?? []
      const params = {
        option: option?.long ?? name,
        found: second,
        nearest: nearest(second, candidates),
        known: candidates,
      }
      return problem('option-value', params)
    }
    case 'commander.excessArguments': {
      const most = called.registeredArguments.length
      const surplus = argv.filter((text) => !text.startsWith('-') && text !== called.name())[most] ?? ''
      return problem('argument-surplus', { found: surplus, most, command })
    }
    default:
      return problem('bad-arguments', { why: message.replace(/^error: /, ''), command })
  }
}
