import { SENTENCES } from './sentences.js'

/** A step in the report tree: a key or a 0-based position in a list. */
export type Path = readonly (string | number)[]

/** Where something went wrong; every part is left out when it is not known. */
export interface Place {
  /** The file as the user named it. */
  file?: string
  /** 1-based. */
  line?: number
  /** 1-based, in UTF-16 units. */
  column?: number
  /** The place in the report tree. */
  path?: Path
  /** The text that was read (an expression, or a line of the file). */
  text?: string
  /** Start of the span in `text`, 0-based. */
  from?: number
  /** End of the span in `text`, 0-based, exclusive. */
  to?: number
}

export type ProblemCode = keyof typeof SENTENCES

/** What went wrong, as data. */
export interface Problem {
  code: ProblemCode
  params: Readonly<Record<string, unknown>>
  /** What, and the way out: one sentence, lower case. The place is told by `place`. */
  message: string
  place: Place
}

/** Says problems in the sentences of a catalogue. */
export function sayer<S extends { readonly [code in ProblemCode]?: (params: never) => string }>(
  sentences: S,
): <C extends keyof S & ProblemCode>(code: C, params: Parameters<(typeof SENTENCES)[C]>[0], place?: Place) => Problem {
  return (code, params, place = {}) => {
    const sentence = sentences[code] as unknown as (p: unknown) => string
    return { code, params: params as Record<string, unknown>, message: sentence(params), place }
  }
}

/** Says any problem there is. */
export const problem = /* @__PURE__ */ sayer(SENTENCES)

/** Thrown by everything that cannot go on; carries every problem that was found, not the first alone. */
export class ProblemError extends Error {
  readonly problems: readonly Problem[]
  constructor(problems: readonly Problem[]) {
    super(problems.map((p) => p.message).join('\n'))
    this.name = 'ProblemError'
    this.problems = problems
  }
}

/** Throws one error with all the problems, if there are any. */
export function refuse(problems: readonly Problem[]): void {
  if (problems.length > 0) throw new ProblemError(problems)
}
