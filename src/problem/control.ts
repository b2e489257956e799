import { CONTROL_SENTENCES } from './catalogue/control-sentences.js'
import { sayer } from './problem-error.js'

/** Makes the messages of control totals. */
export const problem = /* @__PURE__ */ sayer(CONTROL_SENTENCES)
