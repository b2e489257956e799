import { INPUT_SENTENCES } from './catalogue/input-sentences.js'
import { sayer } from './problem.js'

/**
 * Says what is wrong with values that are passed in: without the sentences of reports, for a page
 * that is to be light.
 */
export const problem = /* @__PURE__ */ sayer(INPUT_SENTENCES)
