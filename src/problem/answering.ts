import { ANSWER_SENTENCES } from './catalogue/answer-sentences.js'
import { sayer } from './problem.js'

/**
 * Says what may be met while a report is answered; whoever needs no more spares a page all other
 * sentences.
 */
export const problem = /* @__PURE__ */ sayer(ANSWER_SENTENCES)
