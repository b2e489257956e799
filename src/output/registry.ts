// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import { output as csv } from './csv/output.js'
import { output as html } from './html/output.js'
import { output as json } from './json/output.js'
import { output as ods } from './ods/output.js'
import type { Output } from './output.js'
import { output as pdf } from './pdf/output.js'
import { output as png } from './png/output.js'
import { output as svg } from './svg/output.js'
import { output as text } from './text/output.js'

/** Every form that pages are printed in. */
export const OUTPUTS: readonly Output[] = [html, svg, png, pdf, text, json, csv, ods]
