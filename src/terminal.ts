export type { ColorDepth } from './view/terminal/ink.js'
export { type TextOptions, toText } from './view/terminal/text.js'
