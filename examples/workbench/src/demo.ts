import { generateBudget, generateSales, generateShops } from '../../brezal/generate.js'
import spring from '../../brezal/spring.acuarela.yaml?raw'
import type { OpenedFiles } from './bench.js'

/** The spring review with its data, made in the browser: nothing but the report is downloaded. */
export function demoFiles(): OpenedFiles {
  return {
    name: 'spring.acuarela.yaml',
    text: spring,
    files: { 'sales.csv': generateSales(), 'budget.csv': generateBudget(), 'shops.csv': generateShops() },
  }
}
