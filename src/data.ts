export { toData, toJson } from './view/data/json.js'
