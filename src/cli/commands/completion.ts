import type { Command, Option } from 'commander'
import { ProblemError, problem } from '../../problem/problem.js'
import type { Io } from '../io.js'

/** A command with its options, for shell completion. */
interface Entry {
  name: string
  description: string
  options: { flag: string; description: string; values: readonly string[] }[]
}

const SHELLS = ['bash', 'zsh', 'fish']

/** `acuarela completion SHELL`: prints a completion script, made from the registered commands. */
export function completionCommand(shell: string, program: Command, io: Io): void {
  if (!SHELLS.includes(shell)) throw new ProblemError([problem('not-one-of', { found: shell, known: SHELLS })])
  const entries = program.commands.map(
    (command): Entry => ({ name: command.name(), description: command.description(), options: optionsOf(command) }),
  )
  if (shell === 'fish') io.out(fish(entries))
  else io.out(shell === 'zsh' ? `autoload -U +X bashcompinit && bashcompinit\n${bash(entries)}` : bash(entries))
}

function optionsOf(command: Command): Entry['options'] {
  const completions = command.options.flatMap(({ long, description, argChoices }: Option) =>
    long == null ? [] : [{ flag: long, description, values: argChoices ?? [] }],
  )
  return [...completions, { flag: '--help', description: 'how it is used', values: [] }]
}

function bash(entries: readonly Entry[]): string {
  const cases = entries.map(
    ({ name, options }) => `        ${name}) words="${options.map(({ flag }) => flag).join(' ')}" ;;`,
  )
  const values = new Map(
    entries.flatMap(({ options }) =>
      options.filter(({ values }) => values.length > 0).map(({ flag, values }) => [flag, values]),
    ),
  )
  return `_acuarela() {
  local current="\${COMP_WORDS[COMP_CWORD]}" words=""
  case "\${COMP_WORDS[COMP_CWORD-1]}" in
${[...values].map(([flag, choices]) => `    ${flag}) COMPREPLY=($(compgen -W "${choices.join(' ')}" -- "$current")); return ;;`).join('\n')}
  esac
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "${entries.map(({ name }) => name).join(' ')}" -- "$current"))
    return
  fi
  case "$current" in
    -*)
      case "\${COMP_WORDS[1]}" in
${cases.join('\n')}
      esac
      COMPREPLY=($(compgen -W "$words" -- "$current"))
      ;;
    *) COMPREPLY=($(compgen -f -- "$current")) ;;
  esac
}
complete -o filenames -F _acuarela acuarela
`
}

function fish(entries: readonly Entry[]): string {
  const quoted = (text: string): string => `'${text.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}'`
  const lines = entries.flatMap(({ name, description, options }) => [
    `complete -c acuarela -n __fish_use_subcommand -a ${name} -d ${quoted(description)}`,
    ...options.map(({ flag, description: text, values }) => {
      const choices = values.length === 0 ? '' : ` -x -a ${quoted(values.join(' '))}`
      return `complete -c acuarela -n ${quoted(`__fish_seen_subcommand_from ${name}`)} -l ${flag.slice(2)} -d ${quoted(text)}${choices}`
    }),
  ])
  return `${lines.join('\n')}\n`
}
