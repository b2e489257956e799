// @ts-check
/**
 * The README as npm shows it. There links are relative to a repository, which the publisher
 * names in package.json; without one they would lead nowhere, so they become the paths of files in
 * the package. `node scripts/readme.js pack` writes it for `npm pack`, and `restore` puts the
 * README of the repository back.
 */
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const [readme, kept] = [`${root}README.md`, `${root}README.kept.md`]

/**
 * @param {string} text
 * @param {string | undefined} repository the address that relative links are resolved against;
 *   undefined where none is named
 */
export function readmeForPackage(text, repository) {
  if (repository !== undefined) return text
  return text
    .replace(/!\[[^\]]*\]\((?!https?:)[^)]*\)\n*/g, '')
    .replace(/\[([^\]]*)\]\((?!https?:|#)([^)]*)\)/g, (_, words, path) =>
      words.replaceAll('`', '') === path ? `\`${path}\`` : `${words} (\`${path}\`)`,
    )
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const [task] = process.argv.slice(2)
  if (task === 'pack') {
    const { repository } = JSON.parse(readFileSync(`${root}package.json`, 'utf8'))
    const text = readFileSync(readme, 'utf8')
    renameSync(readme, kept)
    writeFileSync(readme, readmeForPackage(text, typeof repository === 'object' ? repository.url : repository))
  } else if (existsSync(kept)) renameSync(kept, readme)
}
