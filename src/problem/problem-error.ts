import type { SENTENCES } from './catalogue/sentences.js'
import type { WORKBOOK_SENTENCES } from './catalogue/workbook-sentences.js'
import { type Place, printPlace } from './place.js'

export type { Path, Place } from './place.js'

/** All sentences, wherever they are loaded. */
type Sentences = typeof SENTENCES & typeof WORKBOOK_SENTENCES

/** The codes of problems. */
export type ProblemCode = keyof Sentences

/** Those whose sentences are always loaded with others. */
export type CommonCode = keyof typeof SENTENCES

/** The parameters of the sentence of a code. */
export type ProblemParams<C extends ProblemCode> = Parameters<Sentences[C]>[0]

/** A problem as data: its code determines `params`. */
export type Problem = {
  [C in ProblemCode]: {
    code: C
    params: Readonly<ProblemParams<C>>
    /** What is wrong and the fix: one sentence, lower case, without the place. */
    message: string
    place: Place
  }
}[ProblemCode]

/** Makes problems with the sentences of a catalogue. */
export function sayer<S extends { readonly [code in ProblemCode]?: (params: never) => string }>(
  sentences: S,
): <C extends keyof S & ProblemCode>(code: C, params: Parameters<Sentences[C]>[0], place?: Place) => Problem {
  return (code, params, place = {}) => {
    const sentence = sentences[code] as unknown as (p: unknown) => string
    return { code, params, message: sentence(params), place } as Problem
  }
}

/**
 * Thrown for invalid input; carries all problems that were found. Its message has a line for each:
 * place and sentence.
 */
export class ProblemError extends Error {
  readonly problems: readonly Problem[]
  constructor(problems: readonly Problem[]) {
    super(problems.map(problemLine).join('\n'))
    this.name = 'ProblemError'
    this.problems = problems
  }
}

/** Place and sentence in one line. */
export function problemLine({ place, message }: Problem): string {
  const where = printPlace(place)
  return where === '' ? message : `${where}: ${message}`
}

/** Throws one error with all the problems, if there are any. */
export function refuse(problems: readonly Problem[]): void {
  if (problems.length > 0) throw new ProblemError(problems)
}
