import { SENTENCES } from './catalogue/sentences.js'
import { type Place, printPlace } from './place.js'

export type { Path, Place } from './place.js'

/** The codes of problems: what went wrong, for programs. */
export type ProblemCode = keyof typeof SENTENCES

/** What the sentence of a code is said with. */
export type ProblemParams<C extends ProblemCode> = Parameters<(typeof SENTENCES)[C]>[0]

/** What went wrong, as data: its code tells what `params` hold. */
export type Problem = {
  [C in ProblemCode]: {
    code: C
    params: Readonly<ProblemParams<C>>
    /** What, and the way out: one sentence, lower case. The place is told by `place`. */
    message: string
    place: Place
  }
}[ProblemCode]

/** Says problems in the sentences of a catalogue. */
export function sayer<S extends { readonly [code in ProblemCode]?: (params: never) => string }>(
  sentences: S,
): <C extends keyof S & ProblemCode>(code: C, params: Parameters<(typeof SENTENCES)[C]>[0], place?: Place) => Problem {
  return (code, params, place = {}) => {
    const sentence = sentences[code] as unknown as (p: unknown) => string
    return { code, params, message: sentence(params), place } as Problem
  }
}

/** Says any problem there is. */
export const problem = /* @__PURE__ */ sayer(SENTENCES)

/**
 * Thrown by everything that cannot go on; carries every problem that was found, not the first
 * alone. Its message has a line for each: the place, and the sentence.
 */
export class ProblemError extends Error {
  readonly problems: readonly Problem[]
  constructor(problems: readonly Problem[]) {
    super(problems.map(problemLine).join('\n'))
    this.name = 'ProblemError'
    this.problems = problems
  }
}

/** Where, and what: one line. */
export function problemLine({ place, message }: Problem): string {
  const where = printPlace(place)
  return where === '' ? message : `${where}: ${message}`
}

/** Throws one error with all the problems, if there are any. */
export function refuse(problems: readonly Problem[]): void {
  if (problems.length > 0) throw new ProblemError(problems)
}
