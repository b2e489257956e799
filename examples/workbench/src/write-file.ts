import type { OpenedFiles } from './bench.js'
import { download } from './download.js'

/** Saves the text: into the file it came from where the browser can, else as a download. */
export async function writeHandle({ handle, name }: OpenedFiles, text: string): Promise<void> {
  if (handle !== undefined) {
    // Written beside and put in place when it is whole.
    const stream = await handle.createWritable()
    await stream.write(text)
    await stream.close()
    return
  }
  download(name, 'text/yaml', text)
}
