import { ANSWER_SENTENCES } from './catalogue/answer-sentences.js'
import { sayer } from './problem-error.js'

/** Makes the problems of answering a report: a page carries no other sentences. */
export const problem = /* @__PURE__ */ sayer(ANSWER_SENTENCES)
