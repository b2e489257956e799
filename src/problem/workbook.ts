import { WORKBOOK_SENTENCES } from './catalogue/workbook-sentences.js'
import { sayer } from './problem-error.js'

/** Makes the problems of workbooks: few reports read one. */
export const problem = /* @__PURE__ */ sayer(WORKBOOK_SENTENCES)
