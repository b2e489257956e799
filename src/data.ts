export { toCsv } from './view/data/csv.js'
export { toData, toJson } from './view/data/json.js'
