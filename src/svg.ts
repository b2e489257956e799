export { toSvg } from './view/svg/checked.js'
export type { SvgFile, SvgOptions } from './view/svg/page.js'
