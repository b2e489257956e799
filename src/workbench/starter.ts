import { sketch } from '../sketch/sketch.js'
import { readForStarter } from '../source/read.js'
import { baseName, type GivenFiles } from './files.js'

/** A starter report for data files. */
export async function starter(files: GivenFiles): Promise<{ name: string; text: string }> {
  const sources = await Promise.all(
    Object.entries(files).map(async ([file, content]) => ({
      file,
      source: await readForStarter([{ name: file.replace(/\.gz$/i, ''), content }]),
    })),
  )
  const [first] = sources
  return {
    name: `${first === undefined ? 'report' : baseName(first.file).replace(/\..*$/, '')}.acuarela.yaml`,
    text: await sketch(sources),
  }
}
