/** `1st`, `95th`. */
export function ordinal(n: number): string {
  const text = String(Number(n.toPrecision(12)))
  if (!Number.isInteger(n) || (n % 100 >= 11 && n % 100 <= 13)) return `${text}th`
  return `${text}${['th', 'st', 'nd', 'rd'][n % 10] ?? 'th'}`
}
