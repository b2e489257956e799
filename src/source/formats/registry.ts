// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import { format as csv } from './csv/format.js'
import type { SourceFormat } from './format.js'
import { format as json } from './json/format.js'
import { format as ods } from './ods/format.js'
import { format as parquet } from './parquet/format.js'

/** Every format of data files. */
export const FORMATS: readonly SourceFormat[] = [csv, json, parquet, ods]
