/** Parquet files begin and end with these four bytes, whatever their name. */
export function isParquet(content: string | Uint8Array): content is Uint8Array {
  return (
    typeof content !== 'string' &&
    content[0] === 0x50 &&
    content[1] === 0x41 &&
    content[2] === 0x52 &&
    content[3] === 0x31
  )
}
