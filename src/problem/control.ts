import { CONTROL_SENTENCES } from './catalogue/control-sentences.js'
import { sayer } from './problem.js'

/** Says what control totals have to say. */
export const problem = /* @__PURE__ */ sayer(CONTROL_SENTENCES)
