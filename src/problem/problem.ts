import { SENTENCES } from './catalogue/sentences.js'
import { sayer } from './problem-error.js'

// Its own file, so that code that only throws and catches does not load every sentence.
export {
  type CommonCode,
  type Path,
  type Place,
  type Problem,
  type ProblemCode,
  ProblemError,
  type ProblemParams,
  problemLine,
  refuse,
  sayer,
} from './problem-error.js'

/** Makes any problem. */
export const problem = /* @__PURE__ */ sayer(SENTENCES)
