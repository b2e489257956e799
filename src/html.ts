export { toFragment } from './view/html/fragment.js'
export { type HtmlOptions, toHtml } from './view/html/page.js'
