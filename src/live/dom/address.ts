/** The id of an exhibit's heading, by which its section is found. */
export function exhibitId(name: string): string {
  return `x-${encodeURIComponent(name.toWellFormed())}`
}
