export type { Status, Style } from '../file/schema.js'
