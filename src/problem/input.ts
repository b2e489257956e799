import { INPUT_SENTENCES } from './catalogue/input-sentences.js'
import { sayer } from './problem-error.js'

/** Makes the problems of input, without the sentences of reports, for small pages. */
export const problem = /* @__PURE__ */ sayer(INPUT_SENTENCES)
