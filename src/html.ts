export { toHtml } from './view/html/document.js'
export { toFragment } from './view/html/fragment.js'
export type { HtmlOptions } from './view/html/page.js'
