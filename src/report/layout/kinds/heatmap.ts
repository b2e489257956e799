export { prepareGrid as prepare } from './grid.js'
