import { sayer } from './problem.js'
import { RARE_SENTENCES } from './rare-sentences.js'

/** Says what parts of the runtime have to say that most pages do not need. */
export const problem = /* @__PURE__ */ sayer(RARE_SENTENCES)
