export { type SvgFile, type SvgOptions, toSvg } from './view/svg/page.js'
