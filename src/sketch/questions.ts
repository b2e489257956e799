import { checkShape } from '../shape/shape.js'
import type { ColumnFacts } from './facts.js'
import { rangeText } from './facts.js'
import { planOf, type SketchAnswers, type SketchSource } from './plan.js'
import { means } from './words.js'

/** Something that the data leave open, with the guess that `sketch` makes without an answer. */
export interface SketchQuestion {
  /** The key of the answer in `answers`. */
  name: keyof SketchAnswers
  message: string
  choices: readonly { value: string; label: string }[]
  guess: string
}

/** More choices than these are no question. */
const MAX_CHOICES = 9

/**
 * What `sketch` is unsure of: the column that the report is about, the date, the rows, and whether
 * more is better. Empty if the data say it all.
 *
 * @throws ProblemError for data of another shape.
 */
export function sketchQuestions(data: readonly SketchSource[]): SketchQuestion[] {
  checkShape({ list: { keys: { file: 'text', source: 'anything' } }, min: 1 }, data, ['data'])
  const plan = planOf(data, {})
  const [home] = plan.sources
  const { keys, measures } = plan
  const of = (...roles: string[]): ColumnFacts[] =>
    home.roles.flatMap(({ role, facts }) => (roles.includes(role) ? [facts] : []))
  const { main, column } = measures
  const additive = of('amount', 'quantity', 'cost')
  const guess = column?.name
  const dates = of('time', 'date')
  const rows = [...keys.rows, ...keys.others].filter(({ kind }) => kind === 'text')
  const isClear = means(guess ?? main.label, 'amount') || means(guess ?? main.label, 'owed')
  return [
    ...(additive.length > 1 && guess !== undefined && additive.some(({ name }) => name === guess)
      ? [
          {
            name: 'main',
            message: 'Which column is the report about?',
            choices: columnChoices(additive),
            guess,
          } as const,
        ]
      : []),
    ...(dates.length > 1
      ? [
          {
            name: 'date',
            message: 'Which date do the rows happen on?',
            choices: [...columnChoices(dates), { value: 'none', label: 'none: the data have no time' }],
            guess: home.date ?? 'none',
          } as const,
        ]
      : []),
    ...(rows.length > 1 && keys.because === undefined
      ? [
          {
            name: 'rows',
            message: 'What makes the rows of the table?',
            choices: columnChoices(rows),
            guess: keys.rows.at(-1)?.name ?? '',
          } as const,
        ]
      : []),
    ...(main.formula === 'count()' || isClear
      ? []
      : [
          {
            name: 'better',
            message: `Is more ${main.label.toLowerCase()} better?`,
            choices: [
              { value: 'higher', label: 'yes, more is better' },
              { value: 'lower', label: 'no, less is better' },
              { value: 'neither', label: 'neither' },
            ],
            guess: main.better,
          } as const,
        ]),
  ]
}

function columnChoices(columns: readonly ColumnFacts[]): { value: string; label: string }[] {
  return columns
    .slice(0, MAX_CHOICES)
    .map((facts) => ({ value: facts.name, label: `${facts.name} (${rangeText(facts)})` }))
}
