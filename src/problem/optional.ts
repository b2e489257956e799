import { OPTIONAL_SENTENCES } from './catalogue/optional-sentences.js'
import { sayer } from './problem.js'

/** Says what parts of the runtime have to say that most pages do not need. */
export const problem = /* @__PURE__ */ sayer(OPTIONAL_SENTENCES)
