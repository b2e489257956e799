// @ts-check
/** Minifies a text in a thread of its own: two parts of live pages take ten seconds each. */
import { minify } from 'terser'

/** @param {{ text: string, options: import('terser').MinifyOptions }} task */
export default async function minified({ text, options }) {
  return (await minify(text, options)).code
}
