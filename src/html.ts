export { type HtmlOptions, toHtml } from './view/html/page.js'
