import { OPTIONAL_SENTENCES } from './catalogue/optional-sentences.js'
import { sayer } from './problem-error.js'

/** Makes the problems of optional parts of the runtime. */
export const problem = /* @__PURE__ */ sayer(OPTIONAL_SENTENCES)
